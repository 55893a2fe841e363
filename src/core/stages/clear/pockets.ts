import { deviation, median } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';
import { STEPS_PER_UNIT, toleranceLevel } from './distance';
import type { ReachMap } from './reach-map';

/** An enclosed region that looks like the background but is not joined to it. */
export interface Pocket {
  /** A pixel deep inside of it. */
  readonly x: number;
  readonly y: number;
  readonly pixels: number;
  /** Upper left and lower right pixel. */
  readonly box: readonly [number, number, number, number];
  /** Steps from its rim to its deepest pixel. */
  readonly depth: number;
  /** Indices of places in it, at most MOST_INNER of them, evenly taken; those deep inside where there are any. */
  readonly inner: readonly number[];
  /** How far the distances of its inside lie around their mean, in units of tolerance. */
  readonly spread: number;
  /**
   * How much of the rise of distance from its inside to its surroundings lies right at its rim, 0 to 1: nearly all at
   * the edge of a hole, little in a shine.
   */
  readonly sharpness: number;
  /** Whether a pixel belongs to it. */
  contains(x: number, y: number): boolean;
}

/** Regions of fewer pixels are not counted as pockets; those that only the shade allowance explains must be larger. */
const SMALLEST = 8;
const SMALLEST_SHADED = 200;

const MOST_INNER = 4000;

/** Pixels this many steps within a region are its inside. */
const INSIDE = 2;

/** The rim lies up to this many steps outside, the surroundings up to that many. */
const RIM = 3;
const SURROUNDINGS = 8;

/** The rows, from one up to another, that `findPockets` needs of the plain map; null where it would find nothing. */
export function enclosedRows(
  { width, height, levels }: ReachMap,
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
  if (enclosed < SMALLEST) return null;
  return {
    from: Math.max(0, Math.floor(first / width) - SURROUNDINGS),
    to: Math.min(height, Math.floor(last / width) + SURROUNDINGS + 1),
  };
}

/**
 * Finds the pockets of a sample: what lies within its tolerance everywhere but is not joined to it, by 4-connected
 * labelling; largest first. The maps are of the same sample and of the raster's size; `plain` is the one that reaches
 * everywhere without shade allowance, by which the rim is judged; of it only `enclosedRows` are read.
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
    depth: depthOf(inside, raster.width, raster.height),
    seen: new Int32Array(inside.length).fill(-1),
    levels: everywhere.levels,
    plain: plain.levels,
  };
  const pockets: Pocket[] = [];
  for (let start = 0; start < inside.length; start++) {
    if (inside[start] === 0 || work.seen[start]! >= 0) continue;
    const pixels = collect(work, start);
    const shaded = pixels.every((i) => plain.levels[i]! > limit);
    if (pixels.length >= (shaded ? SMALLEST_SHADED : SMALLEST)) pockets.push(describe(work, pixels));
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
  readonly levels: Uint16Array;
  readonly plain: Uint16Array;
}

/** Steps from the rim of what is marked, breadth first. */
function depthOf(inside: Uint8Array, width: number, height: number): Uint16Array {
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
  const { raster, depth, levels, seen } = work;
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
  const core = pixels.filter((i) => depth[i]! >= Math.min(INSIDE, depth[deep]!));
  const every = Math.ceil(core.length / MOST_INNER);
  return {
    x: deep % width,
    y: Math.floor(deep / width),
    pixels: pixels.length,
    box: [left, top, right, bottom],
    depth: depth[deep]!,
    inner: core.filter((_, k) => k % every === 0),
    spread: deviation(core.map((i) => levels[i]!)) / STEPS_PER_UNIT,
    sharpness: sharpnessOf(work, pixels, deep),
    contains: (x, y) => seen[y * width + x] === pixels[0],
  };
}

function sharpnessOf(work: Work, pixels: readonly number[], deep: number): number {
  const { depth, plain } = work;
  const within = pixels.filter((i) => depth[i] === Math.min(INSIDE, depth[deep]!));
  const base = meanLevel(plain, within);
  const rings = ringsAround(work, pixels).map((ring) => meanLevel(plain, ring) - base);
  const rim = Math.max(0, ...rings.slice(0, RIM));
  const far = Math.max(0, ...rings);
  return far > 0 ? rim / far : 1;
}

/** Border pixels that are looked at, at most. */
const MOST_BORDER = 3000;

/**
 * The sharpness, as that of a pocket, of the border of what is joined to the sample: how sharp edges are in this picture.
 * It looks straight across the border, in the rows `from` up to `to`, where `plain` is known. 1 where there is no border.
 */
export function borderSharpness(
  { width, levels }: ReachMap,
  plain: ReachMap,
  tolerance: number,
  { from, to }: { readonly from: number; readonly to: number },
): number {
  const limit = toleranceLevel(tolerance);
  const starts: number[] = [];
  for (let i = from * width + 1; i < to * width; i++) {
    if (i % width === 0) continue;
    const before = levels[i - 1]! <= limit;
    if (before !== levels[i]! <= limit) starts.push(before ? i : -(i - 1));
  }
  const every = Math.ceil(starts.length / MOST_BORDER);
  const shares = starts
    .filter((_, k) => k % every === 0)
    .map((start) => sharpnessAcross(plain.levels, width, Math.abs(start), start > 0 ? 1 : -1));
  return shares.length === 0 ? 1 : median(shares);
}

/** The same along one row, from an unjoined pixel beside the border on. */
function sharpnessAcross(plain: Uint16Array, width: number, start: number, step: number): number {
  const row = Math.floor(start / width);
  const at = (steps: number) => {
    const i = start + steps * step;
    return Math.floor(i / width) === row ? plain[i]! : 0;
  };
  const base = at(-1 - INSIDE);
  let rim = 0;
  let far = 0;
  for (let steps = 0; steps < SURROUNDINGS; steps++) {
    far = Math.max(far, at(steps) - base);
    if (steps < RIM) rim = far;
  }
  return far > 0 ? rim / far : 1;
}

/** The pixels one, two, ... SURROUNDINGS steps outside of a region. */
function ringsAround(
  { raster: { width, height }, inside, seen }: Work,
  pixels: readonly number[],
): number[][] {
  const mark = seen[pixels[0]!]!;
  const rings: number[][] = [];
  let layer: readonly number[] = pixels;
  const touched: number[] = [];
  for (let step = 0; step < SURROUNDINGS; step++) {
    const next: number[] = [];
    for (const i of layer) {
      for (const j of neighbors(i, width, height)) {
        if (inside[j] === 1 || seen[j] === mark) continue;
        seen[j] = mark;
        touched.push(j);
        next.push(j);
      }
    }
    rings.push(next);
    layer = next;
  }
  for (const i of touched) seen[i] = -1;
  return rings;
}

function meanLevel(levels: Uint16Array, pixels: readonly number[]): number {
  if (pixels.length === 0) return 0;
  return pixels.reduce((sum, i) => sum + levels[i]!, 0) / pixels.length;
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
