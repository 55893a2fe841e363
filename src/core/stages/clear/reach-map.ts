import type { Reach } from './settings';
import { doParts, type Help } from '../../numeric/parts';
import type { Steps } from '../../numeric/steps';
import type { Rect } from '../../raster/raster';
import { MAX_LEVEL, type SpansOf } from './distance';

/**
 * For every pixel the smallest tolerance at which a sample clears it, in steps of 1 / STEPS_PER_UNIT (0 to MAX_LEVEL).
 * Reach "everywhere": the pixel's own distance. Reach "joined": the smallest, over all paths of edge-sharing pixels to
 * the sample, of the largest distance on the path.
 */
export interface ReachMap {
  readonly kind: 'reach';
  readonly width: number;
  readonly height: number;
  readonly levels: Uint16Array;
}

/** Pixels handled between two pauses. */
const PIXELS_PER_STEP = 1 << 18;

/** High bit of a level while its pixel waits to be reached. */
const WAITING_BIT = 0x8000;

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
 * Writes the distances of the rows `fromRow` up to `toRow` with the bits of `mark` set; only those of the stretches of
 * `spansOf` where it is given.
 */
export type Measure = (
  fromRow: number,
  toRow: number,
  mark: number,
  out: Uint16Array,
  spansOf?: SpansOf,
) => void;

/**
 * Computes the reach map of a measured distance. `seeds` (joined reach only) are the areas the paths start from.
 * Joined reach is the image foresting transform with the minimax path cost (Falcao, Stolfi and Lotufo, 2004) in one
 * pass over a bucket queue: every pixel is queued once, since the first neighbor that reaches it is a cheapest one.
 * With the help of other threads rows are measured so many at a time.
 * Working memory: 2 bytes a pixel for the map and, while it runs, 4 for the queue.
 */
export function* reachMapSteps(
  { width, height }: { readonly width: number; readonly height: number },
  measure: Measure,
  seeds: readonly Rect[],
  reach: Reach,
  shared?: { readonly rows: number; readonly help: Help },
): Steps<ReachMap> {
  const pixels = width * height;
  // On common memory where others are going to read it, too.
  const levels = new Uint16Array(shared ? new SharedArrayBuffer(2 * pixels) : new ArrayBuffer(2 * pixels));
  const mark = reach === 'joined' ? WAITING_BIT : 0;
  const rows = shared?.rows ?? Math.max(1, Math.floor(PIXELS_PER_STEP / width));
  yield* doParts(Math.ceil(height / rows), 'reading', shared?.help ?? null, {
    own: (part) => measure(part * rows, Math.min(height, (part + 1) * rows), mark, levels),
    put(part, bytes) {
      const from = part * rows * width;
      const found = new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length >> 1);
      const count = Math.min(found.length, pixels - from);
      for (let i = 0; i < count; i++) levels[from + i] = found[i]! | mark;
    },
  });
  const map: ReachMap = { kind: 'reach', width, height, levels };
  if (reach === 'joined') yield* floodSteps(map, seeds);
  return map;
}

/** The joined map of a sample from its map that reaches everywhere, which stays as it is. */
export function* joinedMapSteps(everywhere: ReachMap, seeds: readonly Rect[]): Steps<ReachMap> {
  const levels = everywhere.levels.map((level) => level | WAITING_BIT);
  const map = { ...everywhere, levels };
  yield* floodSteps(map, seeds);
  return map;
}

/** Turns waiting distances into joined ones. */
function* floodSteps({ width, height, levels }: ReachMap, seeds: readonly Rect[]): Steps<void> {
  const pixels = width * height;
  const flood = startFlood(width, height, levels, seeds);
  let reached = 0;
  while (flood.level <= MAX_LEVEL) {
    reached += floodSome(flood, PIXELS_PER_STEP);
    yield { doing: 'reading', done: pixels + reached, total: 2 * pixels };
  }
}

function startFlood(width: number, height: number, levels: Uint16Array, seeds: readonly Rect[]): Flood {
  const next = new Int32Array(width * height);
  const heads = new Int32Array(MAX_LEVEL + 1).fill(-1);
  for (const area of seeds) {
    for (let y = area.y; y < area.y + area.height; y++) {
      for (let x = area.x; x < area.x + area.width; x++) {
        const i = y * width + x;
        if (levels[i]! >= WAITING_BIT) queue(i, 0, levels, next, heads);
      }
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
    if (i >= width && levels[i - width]! >= WAITING_BIT) queue(i - width, level, levels, next, heads);
    if (i < lastRow && levels[i + width]! >= WAITING_BIT) queue(i + width, level, levels, next, heads);
    if (x > 0 && levels[i - 1]! >= WAITING_BIT) queue(i - 1, level, levels, next, heads);
    if (x < width - 1 && levels[i + 1]! >= WAITING_BIT) queue(i + 1, level, levels, next, heads);
  }
  flood.level = level;
  return taken;
}

function queue(i: number, level: number, levels: Uint16Array, next: Int32Array, heads: Int32Array): void {
  const own = levels[i]! - WAITING_BIT;
  const cost = own > level ? own : level;
  levels[i] = cost;
  next[i] = heads[cost]!;
  heads[cost] = i;
}
