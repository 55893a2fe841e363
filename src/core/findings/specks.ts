import type { Mend } from '../stages/touch-up/settings';
import type { Steps } from '../numeric/steps';
import { SPECK_ALPHA } from '../stages/touch-up/island';
import { counted, foundAt, smallArea, withMends, type Finding, type Finished, type Fix } from './finding';
import { islandsOf, partsNear, reachOf, type Island, type Islands } from './islands';
import { FAINT_ALPHA } from './residue';

// What the figures of this file rest on: docs/decisions/009-findings-and-mends.md

/** What lies this near to something larger is a part of it that came apart. */
const APART_PX = 4;

/** A line is at least so long, and its length squared so many times its area; of a disc that is 1.3 times. */
const LINE_PX = 5;
const LINE_SHAPE_TIMES = 2.5;

/** A solid mark of so many squares of the stroke's width is a dot that was drawn with the same pen. */
const DOT_SQUARES = 1.8;
const SOLID_ALPHA = 150;

/** Among lines as thin as this nothing tells a grain from a piece of a line that came apart. */
const HAIRLINE_PX = 1.6;

/**
 * Small islands of alpha that belong to nothing: dust, grains of compression. Faint ones are residue instead, and solid
 * ones as broad as the strokes of a drawing are its dots.
 */
export function* findSpecks({ raster: { width, height }, alpha }: Finished): Steps<Finding | null> {
  const most = smallArea({ width, height });
  const islands = yield* islandsOf({ data: alpha, width, height }, SPECK_ALPHA, most);
  yield { doing: 'checking', done: 1, total: 3 };
  // Where nothing is large, the small things are the subject.
  if (islands.small.length === islands.areas.length) return null;
  const seen = islands.small.filter((island) => island.peak > FAINT_ALPHA && !isLine(island));
  if (seen.length === 0) return null;
  const isDot = dotsOf(alpha, width, islands);
  yield { doing: 'checking', done: 2, total: 3 };
  const places = seen.filter((island) => !isDot(island) && !isPiece(island, islands, most, width, height));
  return foundAt(
    'speck',
    'fault',
    places,
    `${counted(places.length, 'small island')} of up to ${Math.max(0, ...places.map(({ pixels }) => pixels))} px stand alone.`,
  );
}

/** Whether an island is long and thin: a piece of a hairline, not a grain. */
function isLine({ width, height, pixels }: Island): boolean {
  const length = Math.max(width, height);
  return length >= LINE_PX && length * length >= LINE_SHAPE_TIMES * pixels;
}

/** Whether an island lies near something large, or in a row of small ones that together are: a part of it that came apart. */
function isPiece(island: Island, islands: Islands, most: number, width: number, height: number): boolean {
  const seen = new Set([island.part]);
  const waiting = [island];
  let area = island.pixels;
  while (waiting.length > 0) {
    for (const part of partsNear(islands, waiting.pop()!, APART_PX, width, height)) {
      if (seen.has(part)) continue;
      seen.add(part);
      area += islands.areas[part]!;
      if (area > most) return true;
      const next = islands.small.find((one) => one.part === part);
      if (next) waiting.push(next);
    }
  }
  return false;
}

/**
 * Says of islands whether they are dots of a drawing: within what is large, solid, as broad as its strokes; or anything within
 * a drawing of hairlines.
 */
function dotsOf(alpha: Uint8Array, width: number, islands: Islands): (island: Island) => boolean {
  const { large } = islands;
  const stroke = strokeWidth(alpha, width);
  const least = DOT_SQUARES * stroke * stroke;
  return ({ at: { x, y }, peak, pixels }) =>
    large !== null &&
    x >= large.x &&
    x < large.x + large.width &&
    y >= large.y &&
    y < large.y + large.height &&
    (stroke <= HAIRLINE_PX || (peak >= SOLID_ALPHA && pixels >= least));
}

/** Longer stretches count as this long. */
const LONGEST_PX = 255;

/**
 * How wide the strokes of a drawing are: the median stretch of subject along rows and columns, by which a broad bar among
 * fine lines counts little, less what a slanting line is longer along them on average (pi / 4).
 */
function strokeWidth(alpha: Uint8Array, width: number): number {
  const counts = new Uint32Array(LONGEST_PX + 1);
  const height = alpha.length / width;
  const count = (stretch: number) => {
    if (stretch > 0) counts[Math.min(LONGEST_PX, stretch)]!++;
  };
  // Along the columns all at a time, row by row, as memory lies.
  const down = new Uint32Array(width);
  for (let y = 0, i = 0; y < height; y++) {
    let along = 0;
    for (let x = 0; x < width; x++, i++) {
      if (alpha[i]! >= 128) {
        along++;
        down[x]!++;
        continue;
      }
      if (along > 0) count(along);
      along = 0;
      if (down[x]! > 0) count(down[x]!);
      down[x] = 0;
    }
    count(along);
  }
  down.forEach(count);
  const half = counts.reduce((sum, count) => sum + count, 0) / 2;
  let [length, below] = [0, 0];
  while (length < LONGEST_PX && below < half) below += counts[++length]!;
  return length * (Math.PI / 4);
}

/** Clears each island by itself. */
export const clearSpecks: Fix = (cut, places, { toOriginal }) => {
  const mends = places.map((place): Mend => {
    const { x, y } = toOriginal(place.at.x, place.at.y);
    return { mend: 'speck', x, y, reachPx: reachOf(place) };
  });
  return withMends(cut, mends);
};
