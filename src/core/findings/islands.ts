import type { Plane } from '../raster/plane';
import { labelRuns } from '../numeric/label';
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
  /** For every pixel the number of its part plus 1; 0 where none is. Made when it is first asked for. */
  owners(): Int32Array;
}

/** Labels a plane and describes all parts of at most `area` pixels. */
export function islandsOf({ data: plane, width, height }: Plane, least: number, area: number): Islands {
  const parts = labelRuns({ data: plane, width, height }, least);
  const boxes = new Map<number, { left: number; top: number; right: number; bottom: number; at: number }>();
  parts.forEachRun((part, start, length) => {
    if (parts.areas[part]! > area) return;
    const y = Math.floor(start / width);
    const x = start - y * width;
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
  let owners: Int32Array | null = null;
  const makeOwners = () => {
    const made = new Int32Array(width * height);
    parts.forEachRun((part, start, length) => made.fill(part + 1, start, start + length));
    return made;
  };
  return { small, areas: parts.areas, owners: () => (owners ??= makeOwners()) };
}

/** The numbers of the parts within `px` pixels of an island's box, itself left out. */
export function partsNear(
  islands: Islands,
  island: Island,
  px: number,
  width: number,
  height: number,
): Set<number> {
  const found = new Set<number>();
  const owners = islands.owners();
  const right = Math.min(width, island.x + island.width + px);
  const bottom = Math.min(height, island.y + island.height + px);
  for (let y = Math.max(0, island.y - px); y < bottom; y++)
    for (let x = Math.max(0, island.x - px); x < right; x++) {
      const owner = owners[y * width + x]!;
      if (owner > 0 && owner !== island.part + 1) found.add(owner - 1);
    }
  return found;
}

/** How far a mend must reach to hold a place around its pixel, with room for its rim. */
export function reachOf({ at, x, y, width, height }: Place): number {
  const far = Math.max(at.x - x, x + width - 1 - at.x, at.y - y, y + height - 1 - at.y);
  return far + 3;
}
