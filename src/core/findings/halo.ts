import { ciede2000, cieLabOf } from '../color/ciede2000';
import { hexOfRgb } from '../color/hex';
import { lumaOf } from '../color/luma';
import type { Mend } from '../stages/touch-up/settings';
import { Cells } from '../numeric/cells';
import type { Steps } from '../numeric/steps';
import type { Raster, Rect } from '../raster/raster';
import type { Rgb } from '../stages/clear/sample-color';
import { Insides, rimWithin, leanOf, leanWithin } from '../stages/touch-up/rim';
import { foundAt, withMends, type Finding, type Finished, type Fix, type Place } from './finding';

/** What a pixel of the background looked like at a place, or what it lies on there. */
export type BackgroundAt = (x: number, y: number) => Rgb;

// What the figures of this file rest on: docs/decisions/009-findings-and-mends.md

/** A cell has a halo from this mean color difference (CIEDE2000) over its rim, with so many pixels of rim. */
const LEAST_DELTA_E = 3.2;
const FEWEST_PIXELS = 12;

const ROWS = 64;

const BLACK: Rgb = { red: 0, green: 0, blue: 0 };
const WHITE: Rgb = { red: 255, green: 255, blue: 255 };

/**
 * Old background in the color of the rim: how different the rim looks, over what it is laid on, or else over the neutral backing
 * that contrasts most with the old background, from the same rim in the color of the inside near it. Only what differs toward the background
 * counts. `backgrounds` are what may have stood behind. `amount` is the mean CIEDE2000 over the places.
 */
export function* findHalo(
  { raster, alpha, blocks }: Finished,
  backgrounds: readonly BackgroundAt[],
  laidOn: BackgroundAt | null = null,
): Steps<Finding | null> {
  const { width, height } = raster;
  const rim = new Cells(width, height);
  const differences = new Float64Array(rim.counts.length);
  const insides = new Insides(raster);
  let row = 0;
  for (const block of blocks.borders()) {
    for (const i of rimWithin({ data: alpha, width, height }, block)) {
      const x = i % width;
      const y = (i - x) / width;
      const inside = insides.colorAt(x, y);
      if (!inside) continue;
      rim.add(x, y);
      differences[rim.cellOf(x, y)]! += differenceAt(raster, i, inside, backgrounds, laidOn, x, y);
    }
    if (block.y >= row + ROWS) yield { doing: 'checking', done: (row = block.y), total: height };
  }
  const isHalo = (cell: number) =>
    rim.counts[cell]! >= FEWEST_PIXELS && differences[cell]! >= LEAST_DELTA_E * rim.counts[cell]!;
  const places = rim.clustersOf(isHalo).map((cluster): Place => {
    const at = { x: cluster.x + (cluster.width >> 1), y: cluster.y + (cluster.height >> 1) };
    return { ...cluster, at, background: behind(raster, cluster, backgrounds) };
  });
  let [sum, count] = [0, 0];
  rim.counts.forEach((pixels, cell) => {
    if (!isHalo(cell)) return;
    sum += differences[cell]!;
    count += pixels;
  });
  const mean = count === 0 ? 0 : sum / count;
  return foundAt(
    'halo',
    'fault',
    places,
    `The edge still carries old background: a color difference of ${mean.toFixed(1)} along ${count} px.`,
    mean,
  );
}

/** Takes the old background out of the edge; where that was done already, out of the rim's colors at the places. */
export const cleanHalo: Fix = (cut, places, { toOriginal }) => {
  const { edge } = cut;
  if (!edge.on) return { ...cut, edge: { ...edge, on: true, spill: 100 } };
  if (edge.spill < 100) return { ...cut, edge: { ...edge, spill: 100 } };
  const mends = places.map((place): Mend => {
    const middle = toOriginal(place.x + (place.width >> 1), place.y + (place.height >> 1));
    const reachPx = Math.ceil(Math.max(place.width, place.height) / 2) + 1;
    return { mend: 'halo', ...middle, reachPx, background: place.background ?? '#ffffff' };
  });
  return withMends(cut, mends);
};

/** The backgrounds that are likely behind a finished cutout of which nothing is known: white and black paper. */
export const LIKELY_BACKGROUNDS: readonly BackgroundAt[] = [() => WHITE, () => BLACK];

/** Which of the backgrounds the rim at a place leans to most, as `#rrggbb`. */
function behind(raster: Raster, place: Rect, backgrounds: readonly BackgroundAt[]): string {
  const [x, y] = [place.x + (place.width >> 1), place.y + (place.height >> 1)];
  const leans = backgrounds.map((backgroundAt) => {
    const background = backgroundAt(x, y);
    return { background, lean: backgrounds.length > 1 ? leanWithin(raster, place, background) : 1 };
  });
  const { red, green, blue } = leans.reduce((best, one) => (one.lean > best.lean ? one : best)).background;
  return hexOfRgb(red, green, blue);
}

/** The color difference that old background makes at a pixel of the rim; 0 where it has none. */
function differenceAt(
  { data }: Raster,
  i: number,
  inside: Rgb,
  backgrounds: readonly BackgroundAt[],
  laidOn: BackgroundAt | null,
  x: number,
  y: number,
): number {
  const p = i * 4;
  const own = { red: data[p]!, green: data[p + 1]!, blue: data[p + 2]! };
  let most = 0;
  for (const backgroundAt of backgrounds) {
    const background = backgroundAt(x, y);
    if (leanOf(own, inside, background) === 0) continue;
    const below = laidOn?.(x, y) ?? contrasting(background);
    const weight = data[p + 3]! / 255;
    const lay = (color: Rgb) =>
      cieLabOf(
        color.red * weight + below.red * (1 - weight),
        color.green * weight + below.green * (1 - weight),
        color.blue * weight + below.blue * (1 - weight),
      );
    most = Math.max(most, ciede2000(lay(own), lay(inside)));
  }
  return most;
}

function contrasting({ red, green, blue }: Rgb): Rgb {
  return lumaOf(red, green, blue) > 127 ? BLACK : WHITE;
}
