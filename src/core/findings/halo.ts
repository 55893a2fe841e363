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

/**
 * What was mixed into a rim was mixed in by what alpha leaves: the clearer a pixel, the more. So the share of the background must rise
 * with what is clear of a pixel, by so much at least, and explain so much of how the shares differ. Shading, outlines and lines
 * within a drawing do not care for alpha. Where a rim has hardly any clear pixels, that cannot be asked.
 */
const LEAST_RISE = 0.35;
const LEAST_EXPLAINED = 0.4;
const LEAST_SPREAD = 0.0005;

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
  const rises = backgrounds.map(() => new Rises(rim.counts.length));
  /** One color of the inside for all pixels of a cell: what differs between them is their own. */
  const firstInside: (Rgb | undefined)[] = new Array<undefined>(rim.counts.length);
  let row = 0;
  for (const block of blocks.borders()) {
    for (const i of rimWithin({ data: alpha, width, height }, block)) {
      const x = i % width;
      const y = (i - x) / width;
      const inside = insides.colorAt(x, y);
      if (!inside) continue;
      rim.add(x, y);
      const cell = rim.cellOf(x, y);
      differences[cell]! += differenceAt(raster, i, inside, backgrounds, laidOn, x, y);
      if (!isOuter(alpha, i, x, width)) continue;
      for (const [k, backgroundAt] of backgrounds.entries())
        rises[k]!.add(
          cell,
          1 - alpha[i]! / 255,
          shareOf(raster, i, (firstInside[cell] ??= inside), backgroundAt(x, y)),
        );
    }
    if (block.y >= row + ROWS) yield { doing: 'checking', done: (row = block.y), total: height };
  }
  const isHalo = (cell: number) =>
    rim.counts[cell]! >= FEWEST_PIXELS &&
    differences[cell]! >= LEAST_DELTA_E * rim.counts[cell]! &&
    rises.some((rise) => rise.isMixture(cell));
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

/** Whether a pixel of the rim is partly clear, or touches one that is: farther in, a drawing may go on with another color. */
function isOuter(alpha: Uint8Array, i: number, x: number, width: number): boolean {
  return (
    alpha[i]! < 255 ||
    (x > 0 && alpha[i - 1]! < 255) ||
    (x < width - 1 && alpha[i + 1]! < 255) ||
    (i >= width && alpha[i - width]! < 255) ||
    (i + width < alpha.length && alpha[i + width]! < 255)
  );
}

/** How the share of a background rises with what is clear of a pixel, by cells: a straight line through them (least squares). */
class Rises {
  private readonly sums: Float64Array;

  constructor(cells: number) {
    this.sums = new Float64Array(cells * 6);
  }

  add(cell: number, clear: number, share: number): void {
    const { sums } = this;
    const k = cell * 6;
    sums[k]!++;
    sums[k + 1]! += clear;
    sums[k + 2]! += share;
    sums[k + 3]! += clear * clear;
    sums[k + 4]! += clear * share;
    sums[k + 5]! += share * share;
  }

  isMixture(cell: number): boolean {
    const [n, c, s, cc, cs, ss] = this.sums.subarray(cell * 6, cell * 6 + 6) as unknown as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const [meanClear, meanShare] = [c / n, s / n];
    const spread = cc / n - meanClear * meanClear;
    if (spread < LEAST_SPREAD) return true;
    const together = cs / n - meanClear * meanShare;
    const rise = together / spread;
    const explained = (rise * together) / Math.max(1e-9, ss / n - meanShare * meanShare);
    return rise >= LEAST_RISE && explained >= LEAST_EXPLAINED;
  }
}

/** How much of the way from the inside's color to the background's a pixel's color lies, however little or far. */
function shareOf({ data }: Raster, i: number, inside: Rgb, background: Rgb): number {
  const p = i * 4;
  const [dr, dg, db] = [
    background.red - inside.red,
    background.green - inside.green,
    background.blue - inside.blue,
  ];
  const square = dr * dr + dg * dg + db * db;
  if (square === 0) return 0;
  return (
    ((data[p]! - inside.red) * dr + (data[p + 1]! - inside.green) * dg + (data[p + 2]! - inside.blue) * db) /
    square
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
