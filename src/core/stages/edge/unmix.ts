import type { Raster, Rect } from '../../raster/raster';

/** How far beyond a part its surroundings must be given, in pixels. */
export const EDGE_MARGIN = 16;

/** Uncleared pixels nearer to cleared ones than this, and cleared ones nearer to uncleared, may be mixtures. */
const INNER_PX = 3;
const OUTER_PX = 2;

/** How far away a certain pixel may be to lend its color. */
const SEARCH_PX = 9;

/** How far a subject's strongest color is looked for along thin strokes. */
const STROKE_PX = 2.9;

/** Colors nearer than LEAST (root of summed squares of encoded differences) cannot be told apart; from SURE on they can. */
const LEAST = 12;
const SURE = 34;

/** Estimates below and above these count as nothing and as all: noise must not leave veils. */
const ALL = 0.87;
const NOTHING = 0.07;

/** Weight of chroma differences against luma. */
const CHROMA = 0.08;

/** Offsets by rising distance; ties in a fixed order, so that results do not depend on how a picture is parted. */
const RING = offsetsWithin(SEARCH_PX);
const NEAR = offsetsWithin(STROKE_PX);

/** A part of a picture that edges are estimated in: all arrays cover `around`, a rectangle of `raster`. */
export interface EdgeInput {
  readonly raster: Raster;
  readonly around: Rect;
  /** 1 where Clear took a pixel away, row by row over `around`. */
  readonly cleared: Uint8Array;
}

/**
 * Estimates alpha and subject color of the pixels of `rect` (inside of `around`, whose border is EDGE_MARGIN wider
 * except at the picture's own) and writes them to `out`, a raster of `rect`'s size.
 *
 * Away from the border alpha is 0 or 255. Near it C = aF + (1 - a)B is solved for a in encoded sRGB, in which other
 * software composites: B is the mean of the nearest certain background, F either the nearest certain subject or, on
 * thin strokes, the strongest color beside the pixel, whichever explains C better (after Chuang and others, 2001, with
 * point estimates). The background's share is taken out of the color.
 */
export function unmixInto(input: EdgeInput, rect: Rect, out: Raster): void {
  const { raster, around } = input;
  const solved = solveBand(input, rect);
  for (let y = 0; y < rect.height; y++) {
    for (let x = 0; x < rect.width; x++) {
      const i = (rect.y - around.y + y) * around.width + (rect.x - around.x + x);
      const p = ((rect.y + y) * raster.width + rect.x + x) * 4;
      const q = (y * rect.width + x) * 4;
      const alpha = settled(solved.alpha, around, i);
      const mixed = alpha < 1 && solved.colors[i * 3 + 2] !== UNSOLVED;
      for (let c = 0; c < 3; c++) out.data[q + c] = mixed ? solved.colors[i * 3 + c]! : raster.data[p + c]!;
      out.data[q + 3] = Math.round(alpha * raster.data[p + 3]!);
    }
  }
}

/** Stands in the last channel of a pixel that was not solved. */
const UNSOLVED = 256;

/** How far around a pixel alpha must be solved before it can be judged. */
const VEIL_PX = 2;

/** Faint alpha with nothing stronger than this beside it is the ringing of a compressed picture, not a subject. */
const VEIL = 0.3;

/** Nearly full alpha with nothing fainter than DENT_RIM beside it lies inside of the edge and is full. */
const DENT = 0.8;
const DENT_RIM = 0.5;

interface Solved {
  /** 0 to 1 over `around`; right within VEIL_PX of the part that was asked for. */
  readonly alpha: Float32Array;
  /** Three channels a pixel, 0 to 255, or UNSOLVED. */
  readonly colors: Uint16Array;
}

function solveBand(input: EdgeInput, rect: Rect): Solved {
  const { raster, around, cleared } = input;
  const band = bandOf(cleared, around.width, around.height);
  const alpha = Float32Array.from(cleared, (value) => 1 - value);
  const colors = new Uint16Array(cleared.length * 3).fill(UNSOLVED);
  const three = () => new Float64Array(3);
  const mix = { b: three(), f: three(), g: three(), color: three(), alpha: 0 };
  const top = Math.max(0, rect.y - around.y - VEIL_PX);
  const bottom = Math.min(around.height, rect.y - around.y + rect.height + VEIL_PX);
  const left = Math.max(0, rect.x - around.x - VEIL_PX);
  const right = Math.min(around.width, rect.x - around.x + rect.width + VEIL_PX);
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const i = y * around.width + x;
      if (band[i] === 0) continue;
      const p = ((around.y + y) * raster.width + around.x + x) * 4;
      if (!solvePixel(input, band, i, p, mix)) continue;
      alpha[i] = mix.alpha;
      for (let c = 0; c < 3; c++) colors[i * 3 + c] = Math.round(mix.color[c]!);
    }
  }
  return { alpha, colors };
}

/** Alpha with what compression left of it taken out: veils with nothing solid beside them, dents inside of the edge. */
function settled(alpha: Float32Array, { width, height }: Rect, i: number): number {
  const own = alpha[i]!;
  if (own === 0 || own === 1) return own;
  const x = i % width;
  const y = (i - x) / width;
  if (own < VEIL) return extreme(alpha, width, height, x, y, VEIL_PX, Math.max) < VEIL ? 0 : own;
  if (own > DENT) return extreme(alpha, width, height, x, y, 1, Math.min) >= DENT_RIM ? 1 : own;
  return own;
}

function extreme(
  alpha: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  radius: number,
  pick: (one: number, other: number) => number,
): number {
  let found = alpha[y * width + x]!;
  for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
    for (let nx = Math.max(0, x - radius); nx <= Math.min(width - 1, x + radius); nx++) {
      found = pick(found, alpha[ny * width + nx]!);
    }
  }
  return found;
}

interface Mix {
  readonly b: Float64Array;
  readonly f: Float64Array;
  readonly g: Float64Array;
  readonly color: Float64Array;
  alpha: number;
}

/** 1 where an uncleared pixel may be a mixture, 2 where a cleared one may, 0 elsewhere. */
function bandOf(cleared: Uint8Array, width: number, height: number): Uint8Array {
  const inner = widened(cleared, width, height, 1, INNER_PX);
  const outer = widened(cleared, width, height, 0, OUTER_PX);
  const band = new Uint8Array(cleared.length);
  for (let i = 0; i < band.length; i++) {
    if (cleared[i] === 1) band[i] = outer[i] === 1 ? 2 : 0;
    else band[i] = inner[i] === 1 ? 1 : 0;
  }
  return band;
}

/** Marks all pixels within a square of `radius` around those whose mask is `wanted`, rows first, then columns. */
function widened(
  mask: Uint8Array,
  width: number,
  height: number,
  wanted: number,
  radius: number,
): Uint8Array {
  const rows = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    let until = -1;
    let back = 0;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (mask[i] === wanted) {
        for (let k = Math.max(back, x - radius); k < x; k++) rows[i - x + k] = 1;
        until = x + radius;
        back = x;
      }
      if (x <= until) rows[i] = 1;
    }
  }
  const out = new Uint8Array(mask.length);
  const until = new Int32Array(width).fill(-1);
  for (let y = 0; y < height; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (rows[i] === 1) {
        if (until[x]! < y) for (let k = Math.max(0, y - radius); k < y; k++) out[k * width + x] = 1;
        until[x] = y + radius;
      }
      if (y <= until[x]!) out[i] = 1;
    }
  }
  return out;
}

/** Solves one pixel into `mix`. False where background or subject have no certain pixel near. */
function solvePixel(input: EdgeInput, band: Uint8Array, i: number, p: number, mix: Mix): boolean {
  const { raster, cleared } = input;
  const { data } = raster;
  const { b, f, g, color } = mix;
  if (!meanOfCertain(input, band, i, 1, b)) return false;
  const hasSubject = meanOfCertain(input, band, i, 0, f);
  const hasStroke = strongest(input, i, b, g);
  if (!hasSubject && !hasStroke) return false;
  const first = hasSubject ? projection(data, p, b, f) : null;
  const second = hasStroke ? projection(data, p, b, g) : null;
  const useStroke = second !== null && (first === null || second.rest + 4 < first.rest);
  const chosen = useStroke ? second : first!;
  const subject = useStroke ? g : f;
  const hard = cleared[i] === 1 ? 0 : 1;
  const trust = Math.min(1, Math.max(0, (chosen.span - LEAST) / (SURE - LEAST)));
  const raw = Math.min(1, Math.max(0, (chosen.alpha - NOTHING) / (ALL - NOTHING)));
  const alpha = hard + (raw - hard) * trust;
  mix.alpha = alpha;
  for (let c = 0; c < 3; c++) {
    const own = alpha > 0.02 ? (data[p + c]! - (1 - alpha) * b[c]!) / alpha : subject[c]!;
    const share = Math.min(1, Math.max(0, alpha * 2 - 0.4));
    color[c] = Math.min(255, Math.max(0, subject[c]! + (own - subject[c]!) * share));
  }
  return true;
}

/**
 * How far along from B to F a pixel lies, how far beside that line, and how long the line is. Chroma counts little
 * against luma where alpha is read, since compressed pictures keep it at half the resolution.
 */
function projection(data: Uint8Array, p: number, b: Float64Array, f: Float64Array) {
  const wayRed = f[0]! - b[0]!;
  const wayGreen = f[1]! - b[1]!;
  const wayBlue = f[2]! - b[2]!;
  const red = data[p]! - b[0]!;
  const green = data[p + 1]! - b[1]!;
  const blue = data[p + 2]! - b[2]!;
  const wayLuma = 0.299 * wayRed + 0.587 * wayGreen + 0.114 * wayBlue;
  const luma = 0.299 * red + 0.587 * green + 0.114 * blue;
  const wayCb = wayBlue - wayLuma;
  const wayCr = wayRed - wayLuma;
  const dot = luma * wayLuma + CHROMA * ((blue - luma) * wayCb + (red - luma) * wayCr);
  const length = wayLuma * wayLuma + CHROMA * (wayCb * wayCb + wayCr * wayCr);
  const alpha = length > 0 ? dot / length : 0;
  const inside = Math.min(1, Math.max(0, alpha));
  const rest = Math.hypot(red - wayRed * inside, green - wayGreen * inside, blue - wayBlue * inside);
  return { alpha, rest, span: Math.sqrt(wayRed * wayRed + wayGreen * wayGreen + wayBlue * wayBlue) };
}

/** The mean color of the nearest certain pixel of one side and its certain neighbors. */
function meanOfCertain(
  input: EdgeInput,
  band: Uint8Array,
  i: number,
  side: number,
  out: Float64Array,
): boolean {
  const { around, cleared } = input;
  const x = i % around.width;
  const y = (i - x) / around.width;
  for (const [dx, dy] of RING) {
    const nx = x + dx;
    const ny = y + dy;
    if (nx < 0 || ny < 0 || nx >= around.width || ny >= around.height) continue;
    const j = ny * around.width + nx;
    if (cleared[j] !== side || band[j] !== 0) continue;
    meanAround(input, band, nx, ny, side, out);
    return true;
  }
  return false;
}

function meanAround(
  input: EdgeInput,
  band: Uint8Array,
  x: number,
  y: number,
  side: number,
  out: Float64Array,
): void {
  const { raster, around, cleared } = input;
  let count = 0;
  out.fill(0);
  for (let ny = Math.max(0, y - 1); ny <= Math.min(around.height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(around.width - 1, x + 1); nx++) {
      const j = ny * around.width + nx;
      if (cleared[j] !== side || band[j] !== 0) continue;
      const p = ((around.y + ny) * raster.width + around.x + nx) * 4;
      for (let c = 0; c < 3; c++) out[c]! += raster.data[p + c]!;
      count++;
    }
  }
  for (let c = 0; c < 3; c++) out[c]! /= count;
}

/** The uncleared color beside a pixel that lies farthest from the background. */
function strongest(input: EdgeInput, i: number, b: Float64Array, out: Float64Array): boolean {
  const { raster, around, cleared } = input;
  const x = i % around.width;
  const y = (i - x) / around.width;
  let farthest = -1;
  for (const [dx, dy] of NEAR) {
    const nx = x + dx;
    const ny = y + dy;
    if (nx < 0 || ny < 0 || nx >= around.width || ny >= around.height) continue;
    if (cleared[ny * around.width + nx] === 1) continue;
    const p = ((around.y + ny) * raster.width + around.x + nx) * 4;
    let far = 0;
    for (let c = 0; c < 3; c++) far += (raster.data[p + c]! - b[c]!) ** 2;
    if (far <= farthest) continue;
    farthest = far;
    for (let c = 0; c < 3; c++) out[c] = raster.data[p + c]!;
  }
  return farthest > 0;
}

function offsetsWithin(radius: number): readonly (readonly [number, number])[] {
  const reach = Math.floor(radius);
  const all: [number, number][] = [];
  for (let y = -reach; y <= reach; y++) {
    for (let x = -reach; x <= reach; x++) if (x * x + y * y <= radius * radius) all.push([x, y]);
  }
  return all.sort((p, q) => p[0] ** 2 + p[1] ** 2 - (q[0] ** 2 + q[1] ** 2));
}
