import type { Mend } from '../stages/touch-up/settings';
import type { Point } from '../numeric/matrix3';
import type { Steps } from '../numeric/steps';
import { HOLE_ALPHA } from '../stages/touch-up/island';
import {
  counted,
  foundAt,
  smallArea,
  withMends,
  type Finding,
  type Finished,
  type Fix,
  type Place,
} from './finding';
import { islandsOf, partsNear, reachOf } from './islands';

/** A hole is seen when its alpha is nowhere higher than this. */
const OPEN_ALPHA = 200;

/** A pinhole has this many pixels of solid subject on all sides. */
const SOLID_PX = 4;

/**
 * Small holes in what is solid all around. Holes between threads and in small letters are none, nor those that were
 * cleared on purpose: `meant` are places of those.
 */
export function* findPinholes(
  { raster: { width, height }, alpha }: Finished,
  meant: readonly Point[],
): Steps<Finding | null> {
  const open = new Uint8Array(alpha.length);
  for (let i = 0; i < open.length; i++) open[i] = 255 - alpha[i]!;
  yield { doing: 'checking', done: 0, total: 2 };
  const holes = yield* islandsOf(
    { data: open, width, height },
    255 - HOLE_ALPHA + 1,
    smallArea({ width, height }),
  );
  yield { doing: 'checking', done: 1, total: 2 };
  const places = holes.small.filter((hole) => {
    const isEnclosed =
      hole.x >= SOLID_PX &&
      hole.y >= SOLID_PX &&
      hole.x + hole.width + SOLID_PX <= width &&
      hole.y + hole.height + SOLID_PX <= height;
    return (
      isEnclosed &&
      255 - hole.peak <= OPEN_ALPHA &&
      !meant.some((place) => isIn(hole, place)) &&
      partsNear(holes, hole, SOLID_PX, width, height).size === 0
    );
  });
  return foundAt(
    'pinhole',
    'fault',
    places,
    `${counted(places.length, 'small hole')} in the subject ${places.length === 1 ? 'lets' : 'let'} the backing through.`,
  );
}

/** Brings back what was there in the original. */
export const closePinholes: Fix = (cut, places, { toOriginal }) => {
  const mends = places.map((place): Mend => {
    const { x, y } = toOriginal(place.at.x, place.at.y);
    return { mend: 'pinhole', x, y, reachPx: reachOf(place) };
  });
  return withMends(cut, mends);
};

function isIn({ x, y, width, height }: Place, at: Point): boolean {
  return at.x >= x - 1 && at.y >= y - 1 && at.x <= x + width && at.y <= y + height;
}
