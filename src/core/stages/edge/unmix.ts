import { bytes, floats, zeroedBytes } from '../../numeric/scratch';
import type { Raster, Rect } from '../../raster/raster';
import type { Rgb } from '../clear/sample-color';
import { fineZone, settledFine, solveFine, Strands } from './fine';

/** How far beyond a part its surroundings must be given, in pixels. */
export const EDGE_MARGIN = 52;

/** Uncleared pixels nearer to cleared ones than this, and cleared ones nearer to uncleared, may be mixtures. */
const INNER_PX = 3;
const OUTER_PX = 2;

/** How far away a certain pixel may be to lend its color. */
const SEARCH_PX = 9;

/** Side of the blocks in which the spread of either side is read. */
const BLOCK_PX = 5;

/** How far a subject's strongest color is looked for along thin strokes. */
const STROKE_PX = 2.9;

/** Colors nearer than LEAST (root of summed squares of encoded differences) cannot be told apart; from SURE on they can. */
const LEAST = 12;
const SURE = 34;

/**
 * Estimates within this many times the spread of the background (or of the subject) of nothing (or of all) count as
 * such: grain and the ringing of compressed pictures must leave neither veils nor dents. At most MOST_SLACK of the way
 * from B to F. A stroke's strongest pixel is an extreme of its own, so it gets more.
 */
const SLACK = 2.5;
const STROKE_SLACK = 5;
const MOST_SLACK = 0.14;

/** A background whose spread is below this, encoded, is clean: nothing is settled in it. */
const NOISELESS = 0.5;

/** Noise where no background is certain near, encoded. */
const PRESUMED_NOISE = 1;

/** A stroke explains a pixel better if the pixel lies this much nearer to the line from B to its color, encoded. */
const STROKE_BETTER = 4;

/** A stroke stands out of the background by at least this many times its spread. */
const STROKE_STANDS_OUT = 6;

/** A mixture this far beside the line from B to F may be one of two subject colors; those differ by at least APART. */
const BESIDE = 10;
const APART = 30;

/** Weight of chroma differences against luma where a picture keeps chroma at half the resolution. */
const HALVED_CHROMA = 0.08;

/** How much wider edges are in such chroma than in luma. */
const CHROMA_WIDTH = 2.2;

/** A stroke's color is at least this share as far from the background as the subject beside it. */
const LEAST_STROKE = 0.4;

/** Offsets by rising distance; ties in a fixed order, so that results do not depend on how a picture is parted. */
const RING = offsetsWithin(SEARCH_PX);
const NEAR = offsetsWithin(STROKE_PX);

/** A part of a picture that edges are estimated in: all arrays cover `around`, a rectangle of `raster`. */
export interface EdgeInput {
  readonly raster: Raster;
  readonly around: Rect;
  /** 1 where Clear took a pixel away, row by row over `around`. */
  readonly cleared: Uint8Array;
  /** Whether the picture keeps chroma at half the resolution; see `hasHalvedChroma`. */
  readonly halvedChroma: boolean;
  /** The modelled backdrop's color at a place of the raster, where there is a model. */
  readonly backdrop: ((x: number, y: number) => Rgb) | null;
  /** The background's color where none is certain near, as in narrow corners; null where one sample alone does not say. */
  readonly color: Rgb | null;
}

/**
 * Estimates alpha and subject color of the pixels of `rect` (inside of `around`, whose border is EDGE_MARGIN wider
 * except at the picture's own) and writes them to `out`, whose upper left pixel is `origin` of the
 * picture (`rect`'s own where it is left out).
 *
 * Away from the border alpha is 0 or 255. Near it C = aF + (1 - a)B is solved for a in encoded sRGB, in which other
 * software composites: B is the mean of the nearest certain background, F either the nearest certain subject or, on
 * thin strokes, the strongest color beside the pixel, whichever explains C better (after Chuang and others, 2001, with
 * point estimates). The background's share is taken out of the color.
 */
export function unmixInto(
  input: EdgeInput,
  rect: Rect,
  out: Raster,
  origin: { readonly x: number; readonly y: number } = rect,
): void {
  const { raster, around, cleared } = input;
  const band = bandOf(cleared, around.width, around.height);
  const fine = fineZone(input, band);
  const { alpha, colors, state } = solveBand(input, band, fine, rect);
  for (let y = 0; y < rect.height; y++) {
    const from = ((rect.y + y) * raster.width + rect.x) * 4;
    const to = ((rect.y - origin.y + y) * out.width + rect.x - origin.x) * 4;
    out.data.set(raster.data.subarray(from, from + rect.width * 4), to);
    let i = (rect.y - around.y + y) * around.width + (rect.x - around.x);
    for (let x = 0, q = to; x < rect.width; x++, i++, q += 4) {
      if (band[i]! + fine[i]! === 0) {
        if (cleared[i] === 1) out.data[q + 3] = 0;
        continue;
      }
      const own = settledAlpha(input, band, fine, alpha, state, i);
      if (own === 1) continue;
      if (state[i] !== UNSOLVED) for (let c = 0; c < 3; c++) out.data[q + c] = colors[i * 3 + c]!;
      out.data[q + 3] = Math.round(own * out.data[q + 3]!);
    }
  }
}

/** States of a pixel: not a mixture or not to be told; solved; solved where the background is free of noise. */
const UNSOLVED = 0;
const SOLVED = 1;
const CLEAN = 2;

/** How far around a pixel alpha must be solved before it can be judged. */
const VEIL_PX = 2;

/** Faint alpha with nothing stronger than this beside it is the ringing of a compressed picture, not a subject. */
const VEIL = 0.3;

/** Still fainter alpha needs something stronger right beside it. */
const FAINT = 0.14;

/** Nearly full alpha with nothing fainter than DENT_RIM beside it lies inside of the edge and is full. */
const DENT = 0.8;
const DENT_RIM = 0.5;

interface Solved {
  /** 0 to 1 in the band over `around`; right within VEIL_PX of the part that was asked for. */
  readonly alpha: Float32Array;
  /** Three channels a pixel, 0 to 255, where it was solved. */
  readonly colors: Uint8Array;
  readonly state: Uint8Array;
}

function solveBand(input: EdgeInput, band: Uint8Array, fine: Uint8Array, rect: Rect): Solved {
  const { raster, around, cleared } = input;
  const alpha = floats('edge alpha', cleared.length);
  const colors = bytes('edge colors', cleared.length * 3);
  const state = bytes('edge state', cleared.length);
  const spread = new Spread(input, band);
  const strands = new Strands(input);
  const three = () => new Float64Array(3);
  const mix = { b: three(), f: three(), g: three(), color: three(), alpha: 0, noise: 0 };
  const top = Math.max(0, rect.y - around.y - VEIL_PX);
  const bottom = Math.min(around.height, rect.y - around.y + rect.height + VEIL_PX);
  const left = Math.max(0, rect.x - around.x - VEIL_PX);
  const right = Math.min(around.width, rect.x - around.x + rect.width + VEIL_PX);
  for (let y = top; y < bottom; y++) {
    for (let x = left, i = y * around.width + left; x < right; x++, i++) {
      if (band[i] === 0 && fine[i] === 0) continue;
      const p = ((around.y + y) * raster.width + around.x + x) * 4;
      alpha[i] = 1 - cleared[i]!;
      state[i] = UNSOLVED;
      const solved =
        fine[i] === 1
          ? solveFine(input, band, spread, strands, i, p, mix)
          : solvePixel(input, band, spread, i, p, mix);
      if (!solved) continue;
      alpha[i] = mix.alpha;
      state[i] = mix.noise < NOISELESS ? CLEAN : SOLVED;
      for (let c = 0; c < 3; c++) colors[i * 3 + c] = Math.round(mix.color[c]!);
    }
  }
  return { alpha, colors, state };
}

function settledAlpha(
  input: EdgeInput,
  band: Uint8Array,
  fine: Uint8Array,
  alpha: Float32Array,
  state: Uint8Array,
  i: number,
): number {
  if (state[i] === CLEAN) return alpha[i]!;
  return fine[i] === 1 ? settledFine(input, alpha, i) : settled(input, band, alpha, i);
}

/** Alpha with what compression left of it taken out: veils with nothing solid beside them, dents inside of the edge. */
function settled(input: EdgeInput, band: Uint8Array, alpha: Float32Array, i: number): number {
  const own = alpha[i]!;
  if (own === 0 || own === 1) return own;
  if (own < FAINT && extreme(input, band, alpha, i, 1, Math.max) < VEIL) return 0;
  if (own < VEIL) return extreme(input, band, alpha, i, VEIL_PX, Math.max) < VEIL ? 0 : own;
  if (own > DENT) return extreme(input, band, alpha, i, 1, Math.min) >= DENT_RIM ? 1 : own;
  return own;
}

/** The largest or smallest alpha in the square around a pixel. */
function extreme(
  { around: { width, height }, cleared }: EdgeInput,
  band: Uint8Array,
  alpha: Float32Array,
  i: number,
  radius: number,
  pick: (one: number, other: number) => number,
): number {
  const x = i % width;
  const y = (i - x) / width;
  let found = alpha[i]!;
  for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
    for (let nx = Math.max(0, x - radius); nx <= Math.min(width - 1, x + radius); nx++) {
      const j = ny * width + nx;
      found = pick(found, band[j] === 0 ? 1 - cleared[j]! : alpha[j]!);
    }
  }
  return found;
}

export interface Mix {
  readonly b: Float64Array;
  readonly f: Float64Array;
  readonly g: Float64Array;
  readonly color: Float64Array;
  alpha: number;
  noise: number;
}

/** 1 where an uncleared pixel may be a mixture, 2 where a cleared one may, 0 elsewhere. */
function bandOf(cleared: Uint8Array, width: number, height: number): Uint8Array {
  const band = zeroedBytes('edge band', cleared.length);
  const mark = (x: number, y: number) => {
    const side = cleared[y * width + x]!;
    const radius = side === 1 ? INNER_PX : OUTER_PX;
    for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
      for (let nx = Math.max(0, x - radius); nx <= Math.min(width - 1, x + radius); nx++) {
        const j = ny * width + nx;
        if (cleared[j] !== side) band[j] = 1 + cleared[j]!;
      }
    }
  };
  const marked = zeroedBytes('edge marked', cleared.length);
  const markOnce = (x: number, y: number) => {
    if (marked[y * width + x] === 1) return;
    marked[y * width + x] = 1;
    mark(x, y);
  };
  // Every block of 2 x 2 pixels that are not alike holds a piece of the border.
  const lastRow = Math.max(1, height - 1);
  for (let y = 0; y < lastRow; y++) {
    const down = y + 1 < height ? width : 0;
    let before = cleared[y * width]! + cleared[y * width + down]!;
    for (let x = width > 1 ? 1 : 0, i = y * width + x; x < width; x++, i++) {
      const here = cleared[i]! + cleared[i + down]!;
      if (here === before && here !== 1) continue;
      before = here;
      for (const ny of down > 0 ? [y, y + 1] : [y]) {
        if (x > 0) markOnce(x - 1, ny);
        markOnce(x, ny);
      }
    }
  }
  return band;
}

/** Solves one pixel into `mix`. False where background or subject have no certain pixel near. */
function solvePixel(
  input: EdgeInput,
  band: Uint8Array,
  spread: Spread,
  i: number,
  p: number,
  mix: Mix,
): boolean {
  const { raster, cleared } = input;
  const { data } = raster;
  const { b, f, g, color } = mix;
  const certain = meanOfCertain(input, band, i, 1, b);
  if (!certain && !presumed(input, i, b)) return false;
  const noise = certain ? spread.at(i, 1) : PRESUMED_NOISE;
  const hasSubject = meanOfCertain(input, band, i, 0, f);
  const first = hasSubject ? projection(input, p, b, f) : null;
  const hasStroke = (first === null || first.rest > STROKE_BETTER) && strongest(input, i, b, g);
  if (!hasSubject && !hasStroke) return false;
  const second = hasStroke ? projection(input, p, b, g) : null;
  const useStroke =
    second !== null &&
    second.span > STROKE_STANDS_OUT * noise &&
    (first === null || (second.rest + STROKE_BETTER < first.rest && second.span > LEAST_STROKE * first.span));
  if (!useStroke && !first) return false;
  const chosen = useStroke ? second : first!;
  const subject = useStroke ? g : f;
  const hard = cleared[i] === 1 ? 0 : 1;
  const trust = Math.min(1, Math.max(0, (chosen.span - LEAST) / (SURE - LEAST)));
  const below = SLACK * noise;
  const above = useStroke
    ? STROKE_SLACK * noise
    : SLACK * Math.min(2 * noise, Math.max(noise, spread.at(i, 0)));
  const inside =
    hard === 1 && !useStroke && chosen.rest > BESIDE && betweenSubjects(input, band, i, p, f, chosen.rest);
  const raw = inside ? 1 : sharpened(chosen, below, above);
  const alpha = hard + (raw - hard) * trust;
  mix.noise = noise;
  mix.alpha = alpha;
  for (let c = 0; c < 3; c++) {
    const own = alpha > 0.02 ? (data[p + c]! - (1 - alpha) * b[c]!) / alpha : subject[c]!;
    const share = Math.min(1, Math.max(0, alpha * 2 - 0.4));
    color[c] = Math.min(255, Math.max(0, subject[c]! + (own - subject[c]!) * share));
  }
  return true;
}

export interface Projection {
  /** 0 at B, 1 at F. */
  readonly alpha: number;
  /** How far beside the line from B to F. */
  readonly rest: number;
  /** The same with halved chroma counting little. */
  readonly off: number;
  /** How long that line is. */
  readonly span: number;
  /** How much of what alpha was read from is halved chroma, 0 to 1. */
  readonly chroma: number;
}

/** Alpha with the slack that noise asks for, and with the width that halved chroma gives an edge taken back. */
export function sharpened({ alpha, span, chroma }: Projection, below: number, above: number): number {
  const low = Math.min(MOST_SLACK, below / Math.max(1, span));
  const high = Math.min(MOST_SLACK, above / Math.max(1, span));
  const loose = (alpha - low) / (1 - low - high);
  const steepness = 1 + (CHROMA_WIDTH - 1) * chroma;
  return Math.min(1, Math.max(0, 0.5 + (loose - 0.5) * steepness));
}

/**
 * How far along from B to F a pixel lies. Halved chroma counts little against luma where alpha is read.
 */
export function projection(
  { raster, halvedChroma }: EdgeInput,
  p: number,
  b: Float64Array,
  f: Float64Array,
): Projection {
  const { data } = raster;
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
  const straight = red * wayRed + green * wayGreen + blue * wayBlue;
  const square = wayRed * wayRed + wayGreen * wayGreen + wayBlue * wayBlue;
  const ofChroma = HALVED_CHROMA * (wayCb * wayCb + wayCr * wayCr);
  const length = halvedChroma ? wayLuma * wayLuma + ofChroma : square;
  const dot = halvedChroma
    ? luma * wayLuma + HALVED_CHROMA * ((blue - luma) * wayCb + (red - luma) * wayCr)
    : straight;
  const alpha = length > 0 ? dot / length : 0;
  const inside = Math.min(1, Math.max(0, alpha));
  const rest = Math.hypot(red - wayRed * inside, green - wayGreen * inside, blue - wayBlue * inside);
  const restLuma = luma - wayLuma * inside;
  const restBlue = blue - luma - wayCb * inside;
  const restRed = red - luma - wayCr * inside;
  const off = halvedChroma ? Math.sqrt(restLuma ** 2 + HALVED_CHROMA * (restBlue ** 2 + restRed ** 2)) : rest;
  return {
    alpha,
    rest,
    off,
    span: Math.sqrt(square),
    chroma: halvedChroma && length > 0 ? ofChroma / length : 0,
  };
}

/** The background's color by the sample alone. False where it does not say. */
export function presumed({ backdrop, color, around }: EdgeInput, i: number, out: Float64Array): boolean {
  const x = i % around.width;
  const found = backdrop?.(around.x + x, around.y + (i - x) / around.width) ?? color;
  if (!found) return false;
  out[0] = found.red;
  out[1] = found.green;
  out[2] = found.blue;
  return true;
}

/** The mean color of the nearest certain pixel of one side and its certain neighbors. */
export function meanOfCertain(
  input: EdgeInput,
  band: Uint8Array,
  i: number,
  side: number,
  out: Float64Array,
): boolean {
  const { around, cleared } = input;
  const x = i % around.width;
  const y = (i - x) / around.width;
  for (let k = 0; k < RING.length; k += 2) {
    const nx = x + RING[k]!;
    const ny = y + RING[k + 1]!;
    if (nx < 0 || ny < 0 || nx >= around.width || ny >= around.height) continue;
    const j = ny * around.width + nx;
    if (cleared[j] !== side || band[j] !== 0) continue;
    meanAround(input, band, nx, ny, side, x, y, out);
    return true;
  }
  return false;
}

/**
 * Whether a pixel is a mixture of two subject colors rather than of subject and background: it lies nearer to the line
 * between the nearest subject color and the nearest that differs from it.
 */
function betweenSubjects(
  { raster, around, cleared }: EdgeInput,
  band: Uint8Array,
  i: number,
  p: number,
  f: Float64Array,
  rest: number,
): boolean {
  const { data } = raster;
  const x = i % around.width;
  const y = (i - x) / around.width;
  for (let k = 0; k < RING.length; k += 2) {
    const nx = x + RING[k]!;
    const ny = y + RING[k + 1]!;
    if (nx < 0 || ny < 0 || nx >= around.width || ny >= around.height) continue;
    const j = ny * around.width + nx;
    if (cleared[j] !== 0 || band[j] !== 0) continue;
    const q = ((around.y + ny) * raster.width + around.x + nx) * 4;
    let square = 0;
    let dot = 0;
    for (let c = 0; c < 3; c++) {
      const way = data[q + c]! - f[c]!;
      square += way * way;
      dot += way * (data[p + c]! - f[c]!);
    }
    if (square < APART * APART) continue;
    const along = Math.min(1, Math.max(0, dot / square));
    let far = 0;
    for (let c = 0; c < 3; c++) far += (data[p + c]! - f[c]! - along * (data[q + c]! - f[c]!)) ** 2;
    return Math.sqrt(far) + 4 < rest;
  }
  return false;
}

/**
 * The spread of the certain pixels of either side: the root mean square of how far they lie from their mean, over all
 * channels, in 3 x 3 blocks around a place. Computed where it is asked for; blocks lie fast in the raster, so that the
 * result does not depend on how it is parted.
 */
export class Spread {
  private readonly columns: number;
  private readonly known: readonly Float32Array[];
  /** Mean colors as shares of the backdrop where it is modelled, 0 where there is none certain. */
  private readonly means: readonly Float32Array[];

  constructor(
    private readonly input: EdgeInput,
    private readonly band: Uint8Array,
  ) {
    const { around } = input;
    this.columns = Math.ceil(around.width / BLOCK_PX) + 1;
    const blocks = this.columns * (Math.ceil(around.height / BLOCK_PX) + 1);
    this.known = [new Float32Array(blocks).fill(-1), new Float32Array(blocks).fill(-1)];
    this.means = [new Float32Array(3 * blocks), new Float32Array(3 * blocks)];
  }

  /** At pixel `i` of the surroundings, of the subject (side 0) or the background (side 1). */
  at(i: number, side: 0 | 1): number {
    return this.known[side]![this.block(i, side)]!;
  }

  /** The mean color of the certain background around pixel `i`. False where there is none. */
  background(i: number, out: Float64Array): boolean {
    const { around } = this.input;
    const block = 3 * this.block(i, 1);
    const share = this.means[1]!;
    if (share[block] === 0 && share[block + 1] === 0 && share[block + 2] === 0) return false;
    const x = i % around.width;
    const base = baseAt(this.input, 1, x, (i - x) / around.width);
    out[0] = Math.min(255, share[block]! * base.red);
    out[1] = Math.min(255, share[block + 1]! * base.green);
    out[2] = Math.min(255, share[block + 2]! * base.blue);
    return true;
  }

  /** The block of a pixel, measured. */
  private block(i: number, side: 0 | 1): number {
    const { around } = this.input;
    const x = Math.floor((around.x + (i % around.width)) / BLOCK_PX) - Math.floor(around.x / BLOCK_PX);
    const y =
      Math.floor((around.y + Math.floor(i / around.width)) / BLOCK_PX) - Math.floor(around.y / BLOCK_PX);
    const known = this.known[side]!;
    const block = y * this.columns + x;
    if (known[block]! < 0) known[block] = this.measure(x, y, side);
    return block;
  }

  private measure(blockX: number, blockY: number, side: 0 | 1): number {
    const { raster, around, cleared } = this.input;
    const left = (Math.floor(around.x / BLOCK_PX) + blockX - 1) * BLOCK_PX - around.x;
    const top = (Math.floor(around.y / BLOCK_PX) + blockY - 1) * BLOCK_PX - around.y;
    const { data } = raster;
    let count = 0;
    let red = 0;
    let green = 0;
    let blue = 0;
    let redSquares = 0;
    let greenSquares = 0;
    let blueSquares = 0;
    let redUnits = 0;
    let greenUnits = 0;
    let blueUnits = 0;
    const right = Math.min(around.width, left + 3 * BLOCK_PX);
    for (let y = Math.max(0, top); y < Math.min(around.height, top + 3 * BLOCK_PX); y++) {
      for (let x = Math.max(0, left), j = y * around.width + x; x < right; x++, j++) {
        if (cleared[j] !== side || this.band[j] !== 0) continue;
        const p = ((around.y + y) * raster.width + around.x + x) * 4;
        const base = baseAt(this.input, side, x, y);
        const r = data[p]! / base.red;
        const g = data[p + 1]! / base.green;
        const b = data[p + 2]! / base.blue;
        red += r;
        green += g;
        blue += b;
        redSquares += r * r;
        greenSquares += g * g;
        blueSquares += b * b;
        redUnits += base.red;
        greenUnits += base.green;
        blueUnits += base.blue;
        count++;
      }
    }
    if (count === 0) return 0;
    const block = 3 * (blockY * this.columns + blockX);
    const means = this.means[side]!;
    means[block] = red / count;
    means[block + 1] = green / count;
    means[block + 2] = blue / count;
    return Math.sqrt(
      variance(red, redSquares, redUnits, count) +
        variance(green, greenSquares, greenUnits, count) +
        variance(blue, blueSquares, blueUnits, count),
    );
  }
}

/** Variance of values from their sum and sum of squares, in the square of their mean unit. */
function variance(sum: number, squares: number, units: number, count: number): number {
  return Math.max(0, squares / count - (sum / count) ** 2) * (units / count) ** 2;
}

const PLAIN: Rgb = { red: 1, green: 1, blue: 1 };

/**
 * What colors of one side are measured in: the modelled backdrop for the background, so that a color found at one place
 * can be carried to another, also in a shadow; plain units otherwise.
 */
export function baseAt({ backdrop, around }: EdgeInput, side: number, x: number, y: number): Rgb {
  if (!backdrop || side === 0) return PLAIN;
  const { red, green, blue } = backdrop(around.x + x, around.y + y);
  return { red: Math.max(8, red), green: Math.max(8, green), blue: Math.max(8, blue) };
}

/** The mean color of the certain pixels around (x, y), carried to the place (toX, toY). */
function meanAround(
  input: EdgeInput,
  band: Uint8Array,
  x: number,
  y: number,
  side: number,
  toX: number,
  toY: number,
  out: Float64Array,
): void {
  const { raster, around, cleared } = input;
  const { data } = raster;
  let red = 0;
  let green = 0;
  let blue = 0;
  let redUnits = 0;
  let greenUnits = 0;
  let blueUnits = 0;
  for (let ny = Math.max(0, y - 1); ny <= Math.min(around.height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(around.width - 1, x + 1); nx++) {
      const j = ny * around.width + nx;
      if (cleared[j] !== side || band[j] !== 0) continue;
      const p = ((around.y + ny) * raster.width + around.x + nx) * 4;
      const base = baseAt(input, side, nx, ny);
      red += data[p]!;
      green += data[p + 1]!;
      blue += data[p + 2]!;
      redUnits += base.red;
      greenUnits += base.green;
      blueUnits += base.blue;
    }
  }
  const there = baseAt(input, side, toX, toY);
  out[0] = Math.min(255, (red / redUnits) * there.red);
  out[1] = Math.min(255, (green / greenUnits) * there.green);
  out[2] = Math.min(255, (blue / blueUnits) * there.blue);
}

/** The uncleared color beside a pixel that lies farthest from the background. */
function strongest(input: EdgeInput, i: number, b: Float64Array, out: Float64Array): boolean {
  const { raster, around, cleared } = input;
  const x = i % around.width;
  const y = (i - x) / around.width;
  let farthest = -1;
  for (let k = 0; k < NEAR.length; k += 2) {
    const nx = x + NEAR[k]!;
    const ny = y + NEAR[k + 1]!;
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

/** Pairs of offsets within a radius, by rising distance. */
function offsetsWithin(radius: number): Int8Array {
  const reach = Math.floor(radius);
  const all: [number, number][] = [];
  for (let y = -reach; y <= reach; y++) {
    for (let x = -reach; x <= reach; x++) if (x * x + y * y <= radius * radius) all.push([x, y]);
  }
  return Int8Array.from(all.sort((p, q) => p[0] ** 2 + p[1] ** 2 - (q[0] ** 2 + q[1] ** 2)).flat());
}
