import type { Plane } from '../raster/plane';
import { labelSteps } from '../numeric/label';
import type { Steps } from '../numeric/steps';
import { clipRect, growRect, type Rect } from '../raster/raster';
import type { Place } from './finding';

/** Something that hangs together, with its number among all parts and the largest value in it. */
export interface Island extends Place {
  readonly part: number;
  readonly peak: number;
}

/** The parts of a plane at `least` or more (8 neighbors), each with its box, and whether one is small. */
export interface Islands {
  readonly small: readonly Island[];
  /** Areas of all parts. */
  readonly areas: readonly number[];
  /** The box of all parts that are not small; null where there are none. */
  readonly large: Rect | null;
  /** The numbers of the parts that have pixels in a rectangle. */
  within(rect: Rect): Set<number>;
}

/** Labels a plane and describes all parts of at most `area` pixels. */
export function* islandsOf(plane: Plane, least: number, area: number): Steps<Islands> {
  const { width, height } = plane;
  const parts = yield* labelSteps(plane, least, 'checking');
  const boxes = new Map<number, { left: number; top: number; right: number; bottom: number; at: number }>();
  let [left, top, right, bottom] = [width, height, 0, 0];
  parts.forEachRun((part, start, length) => {
    const y = Math.floor(start / width);
    const x = start - y * width;
    if (parts.areas[part]! > area) {
      left = Math.min(left, x);
      right = Math.max(right, x + length);
      top = Math.min(top, y);
      bottom = y + 1;
      return;
    }
    const box = boxes.get(part);
    if (!box) {
      boxes.set(part, { left: x, top: y, right: x + length, bottom: y + 1, at: start });
      return;
    }
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x + length);
    box.bottom = y + 1;
  });
  const small = [...boxes].map(([part, { left, top, right, bottom, at }]): Island => ({
    part,
    peak: parts.peaks[part]!,
    x: left,
    y: top,
    width: right - left,
    height: bottom - top,
    at: { x: at % width, y: Math.floor(at / width) },
    pixels: parts.areas[part]!,
  }));
  const large = bottom > 0 ? { x: left, y: top, width: right - left, height: bottom - top } : null;
  return { small, areas: parts.areas, large, within: parts.within };
}

/** The numbers of the parts within `px` pixels of an island's box, itself left out. */
export function partsNear(
  islands: Islands,
  island: Island,
  px: number,
  width: number,
  height: number,
): Set<number> {
  const found = islands.within(clipRect(growRect(island, px), width, height));
  found.delete(island.part);
  return found;
}

/** How far a mend must reach to hold a place around its pixel, with room for its rim. */
export function reachOf({ at, x, y, width, height }: Place): number {
  const far = Math.max(at.x - x, x + width - 1 - at.x, at.y - y, y + height - 1 - at.y);
  return far + 3;
}
