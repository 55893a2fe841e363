import type { Plane } from '../raster/plane';
import { dilateGray } from '../numeric/morphology';
import type { Planes } from './planes';

/** The spread of noise in each channel, in levels. */
export type Noise = readonly [number, number, number];

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** A step lies between the pixels this far to both sides; the slopes beside it reach this far. */
const NEAR_PX = 1;
const FAR_PX = 3;

/**
 * How sharply the picture changes at each pixel, in units of noise: the largest change over two pixels in four directions,
 * less what it changes beside, so that a slope over many pixels (light, the soft rim of a shadow) is none.
 */
export function stepsOf({ width, height, channels }: Planes, noise: Noise): Float32Array {
  const out = new Float32Array(width * height);
  const [first, second, third] = channels;
  const [w0, w1, w2] = noise.map((spread) => 0.5 / (spread * spread)) as [number, number, number];
  const best = new Float64Array(width);
  /** Raises the best of a column by the change over two places, and those beside them on a line. */
  const take = (x: number, farBefore: number, before: number, after: number, farAfter: number) => {
    const sum =
      w0 * standingOut(first[farBefore]!, first[before]!, first[after]!, first[farAfter]!) +
      w1 * standingOut(second[farBefore]!, second[before]!, second[after]!, second[farAfter]!) +
      w2 * standingOut(third[farBefore]!, third[before]!, third[after]!, third[farAfter]!);
    if (sum > best[x]!) best[x] = sum;
  };
  for (let y = 0; y < height; y++) {
    const start = y * width;
    // Where nothing on the lines lies outside of the picture.
    const isInside = y >= FAR_PX && y < height - FAR_PX && width > 2 * FAR_PX;
    const [from, to] = isInside ? [FAR_PX, width - FAR_PX] : [width, width];
    best.fill(0);
    for (let k = 0; k < WAYS.length; k += 2) {
      const dx = WAYS[k]!;
      const dy = WAYS[k + 1]!;
      const near = NEAR_PX * (dy * width + dx);
      const far = FAR_PX * (dy * width + dx);
      const at = (x: number, px: number) =>
        Math.min(height - 1, Math.max(0, y + px * dy)) * width +
        Math.min(width - 1, Math.max(0, x + px * dx));
      const takeAt = (x: number) => take(x, at(x, -FAR_PX), at(x, -NEAR_PX), at(x, NEAR_PX), at(x, FAR_PX));
      for (let x = 0; x < from; x++) takeAt(x);
      for (let x = from, i = start + from; x < to; x++, i++) take(x, i - far, i - near, i + near, i + far);
      for (let x = to; x < width; x++) takeAt(x);
    }
    for (let x = 0; x < width; x++) out[start + x] = Math.sqrt(best[x]!);
  }
  return out;
}

/** The four directions: across and down. */
const WAYS = [1, 0, 0, 1, 1, 1, 1, -1];

/** The square of a change from one value to the next but one, less what goes on beside it in the same sense; 0 where that is more. */
function standingOut(farBefore: number, before: number, after: number, farAfter: number): number {
  const change = after - before;
  const one = before - farBefore;
  const other = farAfter - after;
  if (change > 0) {
    const beside = one > other ? one : other;
    const own = beside > 0 ? change - beside : change;
    return own > 0 ? own * own : 0;
  }
  const beside = one < other ? one : other;
  const own = beside < 0 ? change - beside : change;
  return own < 0 ? own * own : 0;
}

/** A step weaker than this share of the strongest within so many pixels is that one's flank, or its ringing. */
const FLANK_SHARE = 0.4;
const FLANK_PX = 2;

/** Compression rings so strongly, as a share of the step, and so far. */
const RINGING_SHARE = 0.06;
const RINGING_PX = 6;

/** Pieces of border smaller than this, or of less reach, are grain. */
const LEAST_PIXELS = 14;
const LEAST_REACH_PX = 14;

/**
 * Marks borders with 1: steps of at least `strength`, and what hangs together with them (8 neighbors) down to half of it
 * (hysteresis: Canny, 1986), without the flanks of stronger ones and without pieces too small to be an outline.
 */
export function bordersOf({ data: steps, width, height }: Plane<Float32Array>, strength: number): Uint8Array {
  const { data: most } = dilateGray({ data: steps, width, height }, FLANK_PX);
  const { data: wide } = dilateGray({ data: steps, width, height }, RINGING_PX);
  const marks = new Uint8Array(steps.length);
  const weak = (i: number) =>
    steps[i]! >= strength / 2 && steps[i]! >= FLANK_SHARE * most[i]! && steps[i]! >= RINGING_SHARE * wide[i]!;
  const piece = new Int32Array(steps.length);
  for (let start = 0; start < steps.length; start++) {
    if (marks[start] !== 0 || steps[start]! < strength || !weak(start)) continue;
    let count = 1;
    piece[0] = start;
    marks[start] = 1;
    let [left, right, top, bottom] = [width, 0, height, 0];
    for (let k = 0; k < count; k++) {
      const i = piece[k]!;
      const x = i % width;
      const y = (i - x) / width;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const j = v * width + u;
          if (marks[j] !== 0 || !weak(j)) continue;
          marks[j] = 1;
          piece[count++] = j;
        }
      }
    }
    if (count >= LEAST_PIXELS && Math.max(right - left, bottom - top) >= LEAST_REACH_PX) continue;
    for (let k = 0; k < count; k++) marks[piece[k]!] = GRAIN_MARK;
  }
  for (let i = 0; i < marks.length; i++) if (marks[i] === GRAIN_MARK) marks[i] = 0;
  return marks;
}

/** Mark of a piece that was found to be no border, until all are found. */
const GRAIN_MARK = 2;
