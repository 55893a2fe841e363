import { labOf } from '../../color/oklab';
import type { Reach } from '../../cut/schema';
import type { Steps } from '../../numeric/steps';
import type { Raster, Rect } from '../../raster/raster';
import { distanceLevels, MAX_LEVEL } from './distance';
import type { Rgb } from './sample-color';

/**
 * For every pixel the smallest tolerance at which a sample clears it, in steps of 1 / STEPS_PER_UNIT (0 to MAX_LEVEL).
 * Reach "everywhere": the pixel's own distance. Reach "joined": the smallest, over all paths of edge-sharing pixels to
 * the sample, of the largest distance on the path.
 */
export interface ReachMap {
  readonly kind: 'reach';
  readonly width: number;
  readonly height: number;
  readonly levels: Uint16Array<ArrayBuffer>;
}

/** Pixels handled between two pauses. */
const PER_STEP = 1 << 18;

/** High bit of a level while its pixel waits to be reached. */
const WAITING = 0x8000;

interface Flood {
  readonly width: number;
  readonly height: number;
  readonly levels: Uint16Array;
  /** Next pixel in the same bucket, -1 at the end. */
  readonly next: Int32Array;
  /** First pixel of each level's bucket, -1 if empty. */
  readonly heads: Int32Array;
  level: number;
}

/**
 * Computes the reach map of a color. `seeds` (joined reach only) is the area the paths start from.
 * Joined reach is the image foresting transform with the minimax path cost (Falcao, Stolfi and Lotufo, 2004) in one
 * pass over a bucket queue: every pixel is queued once, since the first neighbor that reaches it is a cheapest one.
 * Working memory: 2 bytes a pixel for the map and, while it runs, 4 for the queue.
 */
export function* reachMapSteps(raster: Raster, color: Rgb, seeds: Rect, reach: Reach): Steps<ReachMap> {
  const { width, height } = raster;
  const pixels = width * height;
  const total = reach === 'joined' ? 2 * pixels : pixels;
  const levels = new Uint16Array(pixels);
  const lab = labOf(color.red, color.green, color.blue);
  const mark = reach === 'joined' ? WAITING : 0;
  for (let from = 0; from < pixels; from += PER_STEP) {
    distanceLevels(raster, lab, from, Math.min(pixels, from + PER_STEP), mark, levels);
    yield { stage: 'samples', done: Math.min(pixels, from + PER_STEP), total };
  }
  if (reach === 'joined') {
    const flood = startFlood(width, height, levels, seeds);
    let reached = 0;
    while (flood.level <= MAX_LEVEL) {
      reached += floodSome(flood, PER_STEP);
      yield { stage: 'samples', done: pixels + reached, total };
    }
  }
  return { kind: 'reach', width, height, levels };
}

function startFlood(width: number, height: number, levels: Uint16Array, seeds: Rect): Flood {
  const next = new Int32Array(width * height);
  const heads = new Int32Array(MAX_LEVEL + 1).fill(-1);
  for (let y = seeds.y; y < seeds.y + seeds.height; y++) {
    for (let x = seeds.x; x < seeds.x + seeds.width; x++) {
      const i = y * width + x;
      const level = levels[i]! & ~WAITING;
      levels[i] = level;
      next[i] = heads[level]!;
      heads[level] = i;
    }
  }
  return { width, height, levels, next, heads, level: 0 };
}

/**
 * Takes up to `budget` pixels from the queue, cheapest first, and queues their waiting neighbors. The neighbors in
 * the row are queued last and so taken first, which keeps the walk along rows of memory.
 */
function floodSome(flood: Flood, budget: number): number {
  const { width, levels, next, heads } = flood;
  const lastRow = width * (flood.height - 1);
  let { level } = flood;
  let taken = 0;
  while (level <= MAX_LEVEL && taken < budget) {
    const i = heads[level]!;
    if (i < 0) {
      level++;
      continue;
    }
    heads[level] = next[i]!;
    taken++;
    const x = i % width;
    if (i >= width && levels[i - width]! >= WAITING) queue(i - width, level, levels, next, heads);
    if (i < lastRow && levels[i + width]! >= WAITING) queue(i + width, level, levels, next, heads);
    if (x > 0 && levels[i - 1]! >= WAITING) queue(i - 1, level, levels, next, heads);
    if (x < width - 1 && levels[i + 1]! >= WAITING) queue(i + 1, level, levels, next, heads);
  }
  flood.level = level;
  return taken;
}

function queue(i: number, level: number, levels: Uint16Array, next: Int32Array, heads: Int32Array): void {
  const own = levels[i]! - WAITING;
  const cost = own > level ? own : level;
  levels[i] = cost;
  next[i] = heads[cost]!;
  heads[cost] = i;
}
