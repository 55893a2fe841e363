import type { Plane } from '../raster/plane';
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
  const weighed = (farBefore: number, before: number, after: number, farAfter: number) =>
    w0 * standingOut(first, farBefore, before, after, farAfter) +
    w1 * standingOut(second, farBefore, before, after, farAfter) +
    w2 * standingOut(third, farBefore, before, after, farAfter);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const inside = x >= FAR_PX && y >= FAR_PX && x < width - FAR_PX && y < height - FAR_PX;
      let best = 0;
      for (let k = 0; k < WAYS.length; k += 2) {
        const dx = WAYS[k]!;
        const dy = WAYS[k + 1]!;
        const step = dy * width + dx;
        const at = (far: number) =>
          inside
            ? i + far * step
            : Math.min(height - 1, Math.max(0, y + far * dy)) * width +
              Math.min(width - 1, Math.max(0, x + far * dx));
        const sum = weighed(at(-FAR_PX), at(-NEAR_PX), at(NEAR_PX), at(FAR_PX));
        if (sum > best) best = sum;
      }
      out[i] = Math.sqrt(best);
    }
  }
  return out;
}

/** The four directions: across and down. */
const WAYS = [1, 0, 0, 1, 1, 1, 1, -1];

/** The square of a change less what goes on beside it in the same sense; 0 where that is more. */
function standingOut(
  plane: Float32Array,
  farBefore: number,
  before: number,
  after: number,
  farAfter: number,
): number {
  const low = plane[before]!;
  const high = plane[after]!;
  const one = low - plane[farBefore]!;
  const other = plane[farAfter]! - high;
  const beside = high > low ? Math.max(0, one > other ? one : other) : Math.min(0, one < other ? one : other);
  const own = high - low - beside;
  return high > low === own > 0 ? own * own : 0;
}

/** The largest value in the square of 5 x 5 pixels around each place. */
export function largestNear({ data: plane, width, height }: Plane<Float32Array>): Float32Array {
  const across = new Float32Array(plane.length);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      let most = plane[i]!;
      if (x > 0 && plane[i - 1]! > most) most = plane[i - 1]!;
      if (x > 1 && plane[i - 2]! > most) most = plane[i - 2]!;
      if (x < width - 1 && plane[i + 1]! > most) most = plane[i + 1]!;
      if (x < width - 2 && plane[i + 2]! > most) most = plane[i + 2]!;
      across[i] = most;
    }
  }
  const out = new Float32Array(plane.length);
  const two = 2 * width;
  const lastRow = plane.length - width;
  const lastTwo = plane.length - two;
  for (let i = 0; i < plane.length; i++) {
    let most = across[i]!;
    if (i >= width && across[i - width]! > most) most = across[i - width]!;
    if (i >= two && across[i - two]! > most) most = across[i - two]!;
    if (i < lastRow && across[i + width]! > most) most = across[i + width]!;
    if (i < lastTwo && across[i + two]! > most) most = across[i + two]!;
    out[i] = most;
  }
  return out;
}

/** A step weaker than this share of the strongest within two pixels is that one's flank, or its ringing. */
const FLANK_SHARE = 0.4;

/** Compression rings so strongly, as a share of the step, and so far: two pixels and twice as many for each of these. */
const RINGING_SHARE = 0.06;
const RINGS_PX = 2;

/** Pieces of border smaller than this, or of less reach, are grain. */
const LEAST_PIXELS = 14;
const LEAST_REACH_PX = 14;

/**
 * Marks borders with 1: steps of at least `strength`, and what hangs together with them (8 neighbors) down to half of it
 * (hysteresis: Canny, 1986), without the flanks of stronger ones and without pieces too small to be an outline.
 */
export function bordersOf({ data: steps, width, height }: Plane<Float32Array>, strength: number): Uint8Array {
  const most = largestNear({ data: steps, width, height });
  let wide = most;
  for (let k = 0; k < RINGS_PX; k++) wide = largestNear({ data: wide, width, height });
  const marks = new Uint8Array(steps.length);
  const weak = (i: number) =>
    steps[i]! >= strength / 2 && steps[i]! >= FLANK_SHARE * most[i]! && steps[i]! >= RINGING_SHARE * wide[i]!;
  const piece = new Int32Array(steps.length);
  for (let start = 0; start < steps.length; start++) {
    if (marks[start] !== 0 || steps[start]! < strength || !weak(start)) continue;
    let count = 1;
    piece[0] = start;
    marks[start] = 1;
    let left = width;
    let right = 0;
    let top = height;
    let bottom = 0;
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
