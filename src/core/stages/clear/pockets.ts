import { median } from '../../numeric/statistics';
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
  /** Mean color, encoded sRGB. */
  readonly mean: readonly [number, number, number];
  /** Places in it, at most MOST_INNER of them, evenly taken. */
  readonly inner: readonly (readonly [number, number])[];
  /** Middle distance of its inner pixels to the backdrop, in units of tolerance. */
  readonly distance: number;
  /** How far beyond the tolerance the pixels three steps outside of it lie on average: small for a soft rim. */
  readonly rim: number;
}

/** Regions of fewer pixels are not counted as pockets. */
const SMALLEST = 4;

const MOST_INNER = 4000;

/**
 * Finds the pockets of a sample: what lies within its tolerance everywhere but is not joined to it, by 4-connected
 * labelling; largest first. The maps are of the same sample and of the raster's size; `plain` is the one that reaches
 * everywhere without shade allowance, by which the rim is judged.
 */
export function findPockets(
  raster: Raster,
  joined: ReachMap,
  everywhere: ReachMap,
  plain: ReachMap,
  tolerance: number,
): Pocket[] {
  const { width, height } = raster;
  const limit = toleranceLevel(tolerance);
  const seen = new Uint8Array(width * height);
  const pockets: Pocket[] = [];
  for (let start = 0; start < seen.length; start++) {
    if (seen[start] === 1 || everywhere.levels[start]! > limit || joined.levels[start]! <= limit) continue;
    const pixels = collect(start, width, height, everywhere.levels, joined.levels, limit, seen);
    if (pixels.length >= SMALLEST)
      pockets.push(describe(raster, pixels, everywhere.levels, plain.levels, limit));
  }
  return pockets.sort((one, other) => other.pixels - one.pixels);
}

function collect(
  start: number,
  width: number,
  height: number,
  everywhere: Uint16Array,
  joined: Uint16Array,
  limit: number,
  seen: Uint8Array,
): number[] {
  const found = [start];
  seen[start] = 1;
  for (let k = 0; k < found.length; k++) {
    const i = found[k]!;
    for (const j of neighbors(i, width, height)) {
      if (seen[j] === 1 || everywhere[j]! > limit || joined[j]! <= limit) continue;
      seen[j] = 1;
      found.push(j);
    }
  }
  return found;
}

function describe(
  raster: Raster,
  pixels: readonly number[],
  levels: Uint16Array,
  plain: Uint16Array,
  limit: number,
): Pocket {
  const { width, height, data } = raster;
  const sums = [0, 0, 0];
  let left = width;
  let top = height;
  let right = 0;
  let bottom = 0;
  for (const i of pixels) {
    const x = i % width;
    const y = (i - x) / width;
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
    for (let c = 0; c < 3; c++) sums[c]! += data[i * 4 + c]!;
  }
  const count = pixels.length;
  const deep = deepest(pixels, width, height);
  const every = Math.ceil(count / MOST_INNER);
  return {
    x: deep % width,
    y: Math.floor(deep / width),
    pixels: count,
    box: [left, top, right, bottom],
    mean: [sums[0]! / count, sums[1]! / count, sums[2]! / count],
    inner: pixels.filter((_, k) => k % every === 0).map((i) => [i % width, Math.floor(i / width)] as const),
    distance: median(innerPixels(pixels, width, height).map((i) => levels[i]!)) / STEPS_PER_UNIT,
    rim: (outside(pixels, width, height, plain) - limit) / STEPS_PER_UNIT,
  };
}

/** The pixels at least three steps inside of a region, or fewer, as long as there are any. */
function innerPixels(pixels: readonly number[], width: number, height: number): readonly number[] {
  let layer = pixels;
  for (let step = 0; step < 2; step++) {
    const inside = new Set(layer);
    const core = layer.filter((i) => neighbors(i, width, height).every((j) => inside.has(j)));
    if (core.length === 0) return layer;
    layer = core;
  }
  return layer;
}

/** The pixel that is left when the region is peeled layer by layer; of the last layer the first in reading order. */
function deepest(pixels: readonly number[], width: number, height: number): number {
  const inside = new Set(pixels);
  let layer = [...pixels];
  for (;;) {
    const core = layer.filter((i) => {
      const near = neighbors(i, width, height);
      return near.length === 4 && near.every((j) => inside.has(j));
    });
    if (core.length === 0) return Math.min(...(layer.length < 10_000 ? layer : [layer[0]!]));
    for (const i of layer) inside.delete(i);
    for (const i of core) inside.add(i);
    layer = core;
  }
}

/** The mean level of the pixels about three steps outside of a region. */
function outside(pixels: readonly number[], width: number, height: number, levels: Uint16Array): number {
  const seen = new Set(pixels);
  let layer: readonly number[] = pixels;
  for (let step = 0; step < 3; step++) {
    const next: number[] = [];
    for (const i of layer) {
      for (const j of neighbors(i, width, height)) {
        if (seen.has(j)) continue;
        seen.add(j);
        next.push(j);
      }
    }
    layer = next;
  }
  return layer.length === 0 ? 0 : layer.reduce((sum, i) => sum + levels[i]!, 0) / layer.length;
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
