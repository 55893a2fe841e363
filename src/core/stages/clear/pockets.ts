import type { Plane } from '../../raster/plane';
import type { Raster } from '../../raster/raster';
import { toleranceLevel } from './distance';
import type { ReachMap } from './reach-map';

/** An enclosed region that looks like the background but is not joined to it. */
export interface Pocket {
  /** A pixel deep inside of it. */
  readonly x: number;
  readonly y: number;
  readonly pixels: number;
  /** Upper left and lower right pixel. */
  readonly box: readonly [number, number, number, number];
  /** Whether a pixel belongs to it. */
  contains(x: number, y: number): boolean;
}

/** Regions of fewer pixels are not counted as pockets; those that only the shade allowance explains must be larger. */
const SMALLEST_PIXELS = 8;
const SMALLEST_SHADED_PIXELS = 200;

/** The rows, from one up to another, that `findPockets` needs of the plain map; null where it would find nothing. */
export function enclosedRows(
  { width, levels }: ReachMap,
  everywhere: ReachMap,
  tolerance: number,
): { readonly from: number; readonly to: number } | null {
  const limit = toleranceLevel(tolerance);
  let enclosed = 0;
  let first = 0;
  let last = 0;
  for (let i = 0; i < levels.length; i++) {
    if (levels[i]! <= limit || everywhere.levels[i]! > limit) continue;
    last = i;
    if (++enclosed === 1) first = i;
  }
  if (enclosed < SMALLEST_PIXELS) return null;
  return {
    from: Math.floor(first / width),
    to: Math.floor(last / width) + 1,
  };
}

/**
 * Finds the pockets of a sample: what lies within its tolerance everywhere but is not joined to it, by 4-connected
 * labelling; largest first. The maps are of the same sample and of the raster's size; `plain` is the one that reaches
 * everywhere without shade allowance, which tells what shade alone explains; of it only `enclosedRows` are read.
 */
export function findPockets(
  raster: Raster,
  joined: ReachMap,
  everywhere: ReachMap,
  plain: ReachMap,
  tolerance: number,
): Pocket[] {
  const limit = toleranceLevel(tolerance);
  const inside = new Uint8Array(everywhere.levels.length);
  for (let i = 0; i < inside.length; i++) {
    if (everywhere.levels[i]! <= limit && joined.levels[i]! > limit) inside[i] = 1;
  }
  const work: Work = {
    raster,
    inside,
    depth: depthOf({ data: inside, width: raster.width, height: raster.height }),
    seen: new Int32Array(inside.length).fill(-1),
  };
  const pockets: Pocket[] = [];
  for (let start = 0; start < inside.length; start++) {
    if (inside[start] === 0 || work.seen[start]! >= 0) continue;
    const pixels = collect(work, start);
    const shaded = pixels.every((i) => plain.levels[i]! > limit);
    if (pixels.length >= (shaded ? SMALLEST_SHADED_PIXELS : SMALLEST_PIXELS))
      pockets.push(describe(work, pixels));
  }
  return pockets.sort((one, other) => other.pixels - one.pixels);
}

interface Work {
  readonly raster: Raster;
  /** 1 in every pocket. */
  readonly inside: Uint8Array;
  /** Steps to the nearest pixel outside, 0 at the rim. */
  readonly depth: Uint16Array;
  /** The first pixel of the pocket by which a pixel was visited, -1 before. */
  readonly seen: Int32Array;
}

/** Steps from the rim of what is marked, breadth first. */
function depthOf({ data: inside, width, height }: Plane): Uint16Array {
  const depth = new Uint16Array(inside.length);
  const done = new Uint8Array(inside.length);
  let layer: number[] = [];
  for (let i = 0; i < inside.length; i++) {
    if (inside[i] === 0) continue;
    const x = i % width;
    const enclosed =
      (x === 0 || inside[i - 1] === 1) &&
      (x === width - 1 || inside[i + 1] === 1) &&
      (i < width || inside[i - width] === 1) &&
      (i + width >= inside.length || inside[i + width] === 1);
    if (enclosed) continue;
    done[i] = 1;
    layer.push(i);
  }
  for (let steps = 0; layer.length > 0; steps++) {
    const next: number[] = [];
    for (const i of layer) {
      depth[i] = steps;
      for (const j of neighbors(i, width, height)) {
        if (inside[j] === 0 || done[j] === 1) continue;
        done[j] = 1;
        next.push(j);
      }
    }
    layer = next;
  }
  return depth;
}

function collect({ raster: { width, height }, inside, seen }: Work, start: number): number[] {
  const found = [start];
  seen[start] = start;
  for (let k = 0; k < found.length; k++) {
    for (const j of neighbors(found[k]!, width, height)) {
      if (inside[j] === 0 || seen[j] === start) continue;
      seen[j] = start;
      found.push(j);
    }
  }
  return found;
}

function describe(work: Work, pixels: readonly number[]): Pocket {
  const { raster, depth, seen } = work;
  const { width } = raster;
  let left = width;
  let top = raster.height;
  let right = 0;
  let bottom = 0;
  let deep = pixels[0]!;
  for (const i of pixels) {
    const x = i % width;
    const y = (i - x) / width;
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
    if (depth[i]! > depth[deep]! || (depth[i] === depth[deep] && i < deep)) deep = i;
  }
  return {
    x: deep % width,
    y: Math.floor(deep / width),
    pixels: pixels.length,
    box: [left, top, right, bottom],
    contains: (x, y) => seen[y * width + x] === pixels[0],
  };
}

function neighbors(i: number, width: number, height: number): number[] {
  const x = i % width;
  const near: number[] = [];
  if (x > 0) near.push(i - 1);
  if (x < width - 1) near.push(i + 1);
  if (i >= width) near.push(i - width);
  if (i + width < width * height) near.push(i + width);
  return near;
}
