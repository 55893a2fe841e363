import { SRGB_TO_LINEAR } from '../color/oklab';
import { badArgument } from '../errors';
import type { Steps } from '../numeric/steps';
import { assertRaster, clipRect, createRaster, type Raster, type Rect } from './raster';

/**
 * How pixels are weighed when a picture is resized: `lanczos` (Lanczos windowed sinc of three lobes; Duchon 1979), `cubic`
 * (Catmull and Rom 1974), `box` (mean of what a pixel covers), `nearest`.
 */
export type ResizeKernel = 'lanczos' | 'cubic' | 'box' | 'nearest';

interface Kernel {
  /** How far it reaches, in pixels of the result. */
  readonly reach: number;
  readonly weight: (distance: number) => number;
}

const KERNELS: Readonly<Record<Exclude<ResizeKernel, 'nearest'>, Kernel>> = {
  lanczos: {
    reach: 3,
    weight: (x) =>
      x === 0 ? 1 : Math.abs(x) >= 3 ? 0 : (3 * sine(x) * sine(x / 3)) / (Math.PI * Math.PI * x * x),
  },
  cubic: {
    reach: 2,
    weight: (signed) => {
      const x = Math.abs(signed);
      if (x < 1) return (1.5 * x - 2.5) * x * x + 1;
      return x < 2 ? ((-0.5 * x + 2.5) * x - 4) * x + 2 : 0;
    },
  },
  box: { reach: 0.5, weight: (x) => (x >= -0.5 && x < 0.5 ? 1 : 0) },
};

/** sin(pi x) by its series, which is the same on every machine. |x| <= 3. */
function sine(x: number): number {
  // Folded to a quarter turn around 0.
  const turns = Math.round(x);
  const rest = (x - turns) * Math.PI;
  const square = rest * rest;
  let term = rest;
  let sum = rest;
  for (let k = 1; k <= 10; k++) {
    term *= -square / (2 * k * (2 * k + 1));
    sum += term;
  }
  return turns % 2 === 0 ? sum : -sum;
}

/** For each pixel of the result which of the source it is made of, and with which weights, summing to 1. */
interface Taps {
  readonly first: Int32Array;
  readonly weights: Float32Array;
  readonly each: number;
}

function tapsOf(from: number, to: number, kernel: Kernel): Taps {
  const ratio = from / to;
  // A smaller picture is made of all that its pixels cover.
  const stretch = Math.max(1, ratio);
  const reach = Math.max(0.5, kernel.reach * stretch);
  const each = Math.ceil(2 * reach) + 1;
  const first = new Int32Array(to);
  const weights = new Float32Array(to * each);
  for (let k = 0; k < to; k++) {
    const middle = (k + 0.5) * ratio - 0.5;
    const start = Math.ceil(middle - reach);
    const taps = Array.from({ length: each }, (_, t) => kernel.weight((start + t - middle) / stretch));
    let sum = 0;
    for (const weight of taps) sum += weight;
    first[k] = start;
    for (let t = 0; t < each; t++) weights[k * each + t] = sum === 0 ? (t === 0 ? 1 : 0) : taps[t]! / sum;
  }
  return { first, weights, each };
}

/** Rows between two pauses. */
const ROWS_A_STEP = 64;

/**
 * Resizes a part of a raster to `width` x `height` pixels. Colors are weighed by alpha (premultiplied), in light that is linear
 * or in encoded values. Around the part the raster counts too, and beyond the raster's border its border pixels go on. Nothing of
 * a pixel's color comes from where the source is transparent, so that there is no dark or bright rim. Throws `bad-argument` for a size below 1.
 */
export function* resizeSteps(
  source: Raster,
  from: Rect,
  width: number,
  height: number,
  kernel: ResizeKernel,
  light: 'linear' | 'encoded',
): Steps<Raster> {
  assertRaster(source);
  if (width < 1 || height < 1) throw badArgument('size', 'at least 1 x 1 px', `${width} x ${height}`);
  const out = createRaster(width, height);
  if (kernel === 'nearest' || (width === from.width && height === from.height)) {
    takeNearest(source, from, out);
    return out;
  }
  const across = tapsOf(from.width, width, KERNELS[kernel]);
  const down = tapsOf(from.height, height, KERNELS[kernel]);
  const values = light === 'linear' ? LINEAR : ENCODED;
  const toByte = light === 'linear' ? encodedLight() : null;
  // What of the raster counts: the part, and around it what kernels reach.
  const seen = clipRect(
    {
      x: from.x - across.each,
      y: from.y - down.each,
      width: from.width + 2 * across.each,
      height: from.height + 2 * down.each,
    },
    source.width,
    source.height,
  );
  // Rows that were resized across, as many as one row of the result is made of; the last in the first's place.
  const ring = new Float32Array(down.each * width * 4);
  const held = new Int32Array(down.each).fill(-1);
  // Which of their pixels are not transparent.
  const starts = new Int32Array(down.each);
  const ends = new Int32Array(down.each);
  const row = new Float32Array(seen.width * 4);
  const sums = new Float32Array(width * 4);
  for (let y = 0; y < height; y++) {
    if (y % ROWS_A_STEP === 0) yield { doing: 'resizing', done: y, total: height };
    let begin = width;
    let end = 0;
    sums.fill(0);
    for (let t = 0; t < down.each; t++) {
      const weight = down.weights[y * down.each + t]!;
      if (weight === 0) continue;
      const at = Math.min(seen.height - 1, Math.max(0, down.first[y]! + t + from.y - seen.y));
      const slot = at % down.each;
      if (held[slot] !== at) {
        const span = premultipliedRow(source, seen, at, values, row);
        const [first, last] = resizeRow(
          row,
          seen.width,
          span,
          from.x - seen.x,
          across,
          ring,
          slot * width * 4,
        );
        starts[slot] = first;
        ends[slot] = last;
        held[slot] = at;
      }
      if (starts[slot]! < begin) begin = starts[slot]!;
      if (ends[slot]! > end) end = ends[slot]!;
      const start = slot * width * 4;
      const to = ends[slot]! * 4;
      for (let k = starts[slot]! * 4; k < to; k++) sums[k] = sums[k]! + weight * ring[start + k]!;
    }
    writeRow(sums, toByte, out, y, begin, end);
  }
  return out;
}

/** Encoded values of 0 to 255 as 0 to 1. */
const ENCODED = Float32Array.from({ length: 256 }, (_, value) => value / 255);
const LINEAR = Float32Array.from(SRGB_TO_LINEAR);

/** Pixels of a row from the first up to the one behind the last that are not transparent. */
type Span = readonly [from: number, to: number];

const NOTHING: Span = [0, 0];

/** A row of the source, premultiplied, and which of it is not transparent; elsewhere nothing is written. */
function premultipliedRow(
  source: Raster,
  part: Rect,
  y: number,
  values: Float32Array,
  row: Float32Array,
): Span {
  const { data } = source;
  const start = ((part.y + y) * source.width + part.x) * 4;
  let from = 0;
  while (from < part.width && data[start + 4 * from + 3] === 0) from++;
  if (from === part.width) return NOTHING;
  let to = part.width;
  while (data[start + 4 * to - 1] === 0) to--;
  for (let k = 4 * from, p = start + k; k < 4 * to; k += 4, p += 4) {
    const alpha = data[p + 3]! / 255;
    row[k] = alpha * values[data[p]!]!;
    row[k + 1] = alpha * values[data[p + 1]!]!;
    row[k + 2] = alpha * values[data[p + 2]!]!;
    row[k + 3] = alpha;
  }
  return [from, to];
}

/** Resizes a row across, from `start` on in `out`. Returns which of its pixels may not be transparent; only these are written. */
function resizeRow(
  row: Float32Array,
  length: number,
  [from, to]: Span,
  left: number,
  { first, weights, each }: Taps,
  out: Float32Array,
  start: number,
): Span {
  if (from === to) return NOTHING;
  const width = first.length;
  const last = length - 1;
  // Beyond the border its pixel goes on, so that what is there reaches as far as any tap.
  const isFrom = from === 0 ? -Infinity : from;
  const isTo = to === length ? Infinity : to;
  let begin = 0;
  while (begin < width && first[begin]! + left + each <= isFrom) begin++;
  let end = width;
  while (end > begin && first[end - 1]! + left >= isTo) end--;
  for (let x = begin, q = start + 4 * begin; x < end; x++, q += 4) {
    let red = 0;
    let green = 0;
    let blue = 0;
    let alpha = 0;
    const at = first[x]! + left;
    const isInside = at >= 0 && at + each <= length;
    const t0 = isInside && from > at ? from - at : 0;
    const t1 = isInside && to < at + each ? to - at : each;
    for (let t = t0, w = x * each + t0; t < t1; t++, w++) {
      const place = at + t;
      const k = (place < 0 ? 0 : place > last ? last : place) * 4;
      if (!isInside && (k < 4 * from || k >= 4 * to)) continue;
      const weight = weights[w]!;
      red += weight * row[k]!;
      green += weight * row[k + 1]!;
      blue += weight * row[k + 2]!;
      alpha += weight * row[k + 3]!;
    }
    out[q] = red;
    out[q + 1] = green;
    out[q + 2] = blue;
    out[q + 3] = alpha;
  }
  return [begin, end];
}

/** Straight again, rounded once; what swings beyond the range is cut. */
function writeRow(
  sums: Float32Array,
  toByte: Uint8Array | null,
  { data, width }: Raster,
  y: number,
  begin: number,
  end: number,
): void {
  for (let k = begin * 4, p = y * width * 4 + k; k < end * 4; k += 4, p += 4) {
    const alpha = sums[k + 3]!;
    const byte = alpha <= 0 ? 0 : Math.min(255, Math.round(alpha * 255));
    if (byte === 0) continue;
    data[p] = byteOf(sums[k]! / alpha, toByte);
    data[p + 1] = byteOf(sums[k + 1]! / alpha, toByte);
    data[p + 2] = byteOf(sums[k + 2]! / alpha, toByte);
    data[p + 3] = byte;
  }
}

/** Steps of linear light: dark ones lie a third of an 8-bit level apart at most. */
const LIGHT_STEPS = 1 << 14;

function byteOf(value: number, toByte: Uint8Array | null): number {
  const held = value <= 0 ? 0 : value >= 1 ? 1 : value;
  return toByte ? toByte[Math.round(held * LIGHT_STEPS)]! : Math.round(held * 255);
}

let lightTable: Uint8Array | null = null;

/** Linear light -> encoded sRGB: the byte whose light is nearest. */
function encodedLight(): Uint8Array {
  if (lightTable) return lightTable;
  const table = new Uint8Array(LIGHT_STEPS + 1);
  for (let k = 0, byte = 0; k <= LIGHT_STEPS; k++) {
    const light = k / LIGHT_STEPS;
    while (byte < 255 && LINEAR[byte + 1]! - light < light - LINEAR[byte]!) byte++;
    table[k] = byte;
  }
  return (lightTable = table);
}

function takeNearest(source: Raster, from: Rect, out: Raster): void {
  const { width, height } = out;
  const columns = Int32Array.from({ length: width }, (_, x) =>
    Math.min(from.width - 1, Math.floor(((x + 0.5) * from.width) / width)),
  );
  for (let y = 0; y < height; y++) {
    const at = Math.min(from.height - 1, Math.floor(((y + 0.5) * from.height) / height));
    const row = ((from.y + at) * source.width + from.x) * 4;
    if (width === from.width) {
      out.data.set(source.data.subarray(row, row + width * 4), y * width * 4);
      continue;
    }
    for (let x = 0, p = y * width * 4; x < width; x++, p += 4) {
      const s = row + columns[x]! * 4;
      out.data[p] = source.data[s]!;
      out.data[p + 1] = source.data[s + 1]!;
      out.data[p + 2] = source.data[s + 2]!;
      out.data[p + 3] = source.data[s + 3]!;
    }
  }
}
