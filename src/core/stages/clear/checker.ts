import { lengthOf, sineOfTurns, turnsOf } from '../../numeric/exact';
import { median } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';
import type { Rgb } from './sample-color';

/** A painted-in checkerboard: size of a cell (not necessarily whole), where its first corner lies, and its two tones. */
export interface Checker {
  readonly cellPx: number;
  /** Place of a corner of a cell, from 0 up to two cells. */
  readonly left: number;
  readonly top: number;
  readonly even: Rgb;
  readonly odd: Rgb;
  /** Share of the frame's pixels that the pattern explains, 0 to 1. */
  readonly share: number;
  /** The pattern's color at a place of the original (pixel centers lie at halves), blurred as the picture is. */
  toneAt(x: number, y: number): Rgb;
  /** Where a column or a row lies in the pattern. */
  across(x: number): Place;
  down(y: number): Place;
}

/** A place along one axis of the pattern. */
export interface Place {
  /** 1 in even cells, -1 in odd ones, between where two meet; the product of both axes tells the tone. */
  readonly wave: number;
  /** How far the nearest border between two cells is, in pixels. */
  readonly toBorder: number;
}

// What the figures of this file rest on: docs/decisions/003-backdrops-and-shade.md

/** Cells that are looked for, in pixels. */
const SMALLEST_PX = 3;
const LARGEST_PX = 128;

/** Pixels of the frame that are looked at. */
const MOST_FRAME_PIXELS = 30_000;

/** Crossings that the fit of a grid looks at. */
const MOST_CROSSINGS = 1500;

/** Tones differ by at least this in encoded gray. */
const LEAST_CONTRAST_ENCODED = 8;

/** Widths of the soft step between two cells that are tried, in pixels. */
const SOFT_PX = [0.7, 1, 1.4, 1.9, 2.5];

/** A pixel is explained if it is within this of the pattern, in encoded gray. */
const CLOSE_ENCODED = 14;

/** A tone's pixels lie within this of it, and take at least that share of the frame. */
const AT_TONE_ENCODED = 3;
const LEAST_TONE_SHARE = 0.12;

/** A subject on the frame may be gray too, and take more of it than either tone. */
const MOST_TONES = 3;

/** Where a subject lies on the frame, the pattern covers at least this share of it. */
const LEAST_OPEN_SHARE = 0.35;

/**
 * Looks for a painted-in checkerboard along the frame of a picture: the grays of strips at the four sides are split in
 * two, the period and the phase of the split are read from the crossings of lines near the border (regression over the
 * crossings' numbers gives sizes that are not whole), and the pattern counts if it explains most of the frame. Null
 * where there is none.
 */
export function findChecker(raster: Raster): Checker | null {
  const { width, height } = raster;
  if (width < 4 * SMALLEST_PX || height < 4 * SMALLEST_PX) return null;
  const pixels = framePixels(raster);
  return findWith(raster, splitTones(raster, pixels), pixels, () => true) ?? findAround(raster, pixels);
}

/** The same where a subject lies on much of the frame: only what has two of its most frequent grays is looked at. */
function findAround(raster: Raster, pixels: readonly number[]): Checker | null {
  for (const tones of frequentTones(raster, pixels)) {
    const isOwn = (i: number) => isBetween(raster.data, i * 4, tones);
    const own = pixels.filter(isOwn);
    const found = own.length >= LEAST_OPEN_SHARE * pixels.length ? findWith(raster, tones, own, isOwn) : null;
    if (found) return found;
  }
  return null;
}

/** Looks for a pattern of two tones in those `pixels` of the frame, and in what `isOwn`. */
function findWith(
  raster: Raster,
  tones: Tones | null,
  pixels: readonly number[],
  isOwn: (i: number) => boolean,
): Checker | null {
  if (!tones) return null;
  const across = readGrid(raster, tones, 'x', isOwn);
  const down = readGrid(raster, tones, 'y', isOwn);
  if (!across || !down || Math.abs(across.cell - down.cell) > 0.06 * across.cell + 0.12) return null;
  const found = [false, true].flatMap((flip) =>
    SOFT_PX.map((soft) => explain(raster, pixels, across, down, tones, flip, soft)),
  );
  const best = found.reduce((one, other) => (other.off < one.off ? other : one));
  return best.checker.share >= 0.8 ? best.checker : null;
}

interface Grid {
  readonly cell: number;
  readonly start: number;
}

interface Tones {
  readonly low: Rgb;
  readonly high: Rgb;
  readonly middle: number;
}

const gray = (data: Uint8Array, p: number) => (data[p]! * 2 + data[p + 1]! * 5 + data[p + 2]!) / 8;

/** Whether a pixel is gray, to within what compression does to it. */
function isNeutral(data: Uint8Array, p: number): boolean {
  const most = Math.max(data[p]!, data[p + 1]!, data[p + 2]!);
  return most - Math.min(data[p]!, data[p + 1]!, data[p + 2]!) <= 24;
}

/** Pixels of the frame, some of them where it is large: rows and columns up to a sixteenth of the shorter side deep. */
function framePixels({ width, height }: Raster): number[] {
  const depth = Math.max(2, Math.min(24, Math.floor(Math.min(width, height) / 16)));
  const one = Math.max(1, Math.round((2 * depth * (width + height)) / MOST_FRAME_PIXELS));
  const pixels: number[] = [];
  for (let y = 0; y < height; y++) {
    const whole = y < depth || y >= height - depth;
    for (let x = 0; x < width; x++) {
      if (!whole && x === depth) x = width - depth;
      const i = y * width + x;
      // Scattered, since an even step could fall in with the pattern.
      if ((Math.imul(i, 0x9e3779b1) >>> 8) % one === 0) pixels.push(i);
    }
  }
  return pixels;
}

/** The two tones of the frame, neutral and far enough apart; null where the frame has other colors. */
function splitTones({ data }: Raster, pixels: readonly number[]): Tones | null {
  const neutral = pixels.filter((i) => isNeutral(data, i * 4));
  if (neutral.length < pixels.length * 0.85) return null;
  const grays = neutral.map((i) => gray(data, i * 4)).sort((p, q) => p - q);
  let middle = (grays[Math.floor(grays.length * 0.1)]! + grays[Math.floor(grays.length * 0.9)]!) / 2;
  for (let round = 0; round < 8; round++) {
    const below = mean(grays.filter((value) => value < middle));
    const above = mean(grays.filter((value) => value >= middle));
    middle = (below + above) / 2;
  }
  const side = (isHigh: boolean) =>
    medianColor(
      data,
      neutral.filter((i) => gray(data, i * 4) >= middle === isHigh),
    );
  const high = side(true);
  const low = side(false);
  return high.green - low.green >= LEAST_CONTRAST_ENCODED
    ? { low, high, middle: (high.green + low.green) / 2 }
    : null;
}

function medianColor(data: Uint8Array, pixels: readonly number[]): Rgb {
  const channel = (c: number) => median(pixels.map((i) => data[i * 4 + c]!));
  return { red: channel(0), green: channel(1), blue: channel(2) };
}

/** Cell size and phase along one axis, from where lines at both borders cross between the tones. */
function readGrid(raster: Raster, tones: Tones, axis: 'x' | 'y', isOwn: (i: number) => boolean): Grid | null {
  const { width, height } = raster;
  const across = axis === 'x' ? height : width;
  const depth = Math.max(2, Math.min(40, Math.floor(across / 10)));
  const crossings: number[] = [];
  for (let k = 1; k < depth; k++) {
    for (const line of [k, across - 1 - k]) crossings.push(...crossingsOf(raster, tones, axis, line, isOwn));
  }
  if (crossings.length < 12) return null;
  const gaps = crossings
    .slice(1)
    .map((at, k) => at - crossings[k]!)
    .filter((gap) => gap >= SMALLEST_PX && gap <= LARGEST_PX);
  if (gaps.length < 8) return null;
  const every = Math.ceil(crossings.length / MOST_CROSSINGS);
  const some = crossings.filter((_, k) => k % every === 0);
  return refine(some, median(gaps), axis === 'x' ? width : height);
}

/** Whether a pixel has one of two tones or lies between them. */
function isBetween(data: Uint8Array, p: number, { low, high }: Tones): boolean {
  const own = gray(data, p);
  return isNeutral(data, p) && own >= low.green - CLOSE_ENCODED && own <= high.green + CLOSE_ENCODED;
}

/** The pairs among the three most frequent grays of the frame, each of which takes a good part of it. */
function frequentTones({ data }: Raster, pixels: readonly number[]): Tones[] {
  const counts = new Float64Array(256);
  for (const i of pixels) if (isNeutral(data, i * 4)) counts[Math.round(gray(data, i * 4))]!++;
  const around = Array.from(counts, (_, tone) =>
    counts
      .slice(Math.max(0, tone - AT_TONE_ENCODED), tone + AT_TONE_ENCODED + 1)
      .reduce((sum, count) => sum + count, 0),
  );
  const found: number[] = [];
  for (let k = 0; k < MOST_TONES; k++) {
    const far = (tone: number) => found.every((other) => Math.abs(tone - other) >= LEAST_CONTRAST_ENCODED);
    const best = around.reduce(
      (one, count, tone) => (far(tone) && count > (around[one] ?? 0) ? tone : one),
      -1,
    );
    if (best >= 0 && around[best]! >= LEAST_TONE_SHARE * pixels.length) found.push(best);
  }
  return found.flatMap((one, k) =>
    found.slice(k + 1).map((other): Tones => {
      const [low, high] = [Math.min(one, other), Math.max(one, other)].map((tone) =>
        medianColor(
          data,
          pixels.filter(
            (i) => isNeutral(data, i * 4) && Math.abs(gray(data, i * 4) - tone) <= AT_TONE_ENCODED + 0.5,
          ),
        ),
      ) as [Rgb, Rgb];
      return { low, high, middle: (low.green + high.green) / 2 };
    }),
  );
}

/** Places along a line at which gray crosses the middle, interpolated between pixels of the tones. */
function crossingsOf(
  { width, height, data }: Raster,
  { middle }: Tones,
  axis: 'x' | 'y',
  line: number,
  isOwn: (i: number) => boolean,
): number[] {
  const length = axis === 'x' ? width : height;
  const place = (k: number) => (axis === 'x' ? line * width + k : k * width + line);
  const at = (k: number) => gray(data, place(k) * 4);
  const found: number[] = [];
  for (let k = 1; k < length; k++) {
    const one = at(k - 1) - middle;
    const other = at(k) - middle;
    if (one * other >= 0) continue;
    if (isOwn(place(k - 1)) && isOwn(place(k))) found.push(k - 0.5 + one / (one - other));
  }
  return found;
}

/** The cell and phase that most crossings agree on: the best of sizes near `rough` by the length of their mean phase. */
function refine(crossings: readonly number[], rough: number, length: number): Grid | null {
  let best = { score: 0, cell: rough, start: 0 };
  const finest = Math.max(0.0005, (rough * rough) / length / 24);
  for (let cell = rough * 0.86; cell <= rough * 1.16; cell += finest) {
    let cos = 0;
    let sin = 0;
    for (const at of crossings) {
      const turns = at / cell;
      cos += sineOfTurns(turns + 0.25);
      sin += sineOfTurns(turns);
    }
    const score = lengthOf(cos, sin) / crossings.length;
    if (score > best.score) best = { score, cell, start: turnsOf(cos, sin) * cell };
  }
  return best.score > 0.6 ? best : null;
}

interface Explained {
  readonly checker: Checker;
  /** Mean difference between the frame and the pattern, encoded gray; no pixel counts more than FAR_OFF_ENCODED. */
  readonly off: number;
}

const FAR_OFF_ENCODED = 40;

function explain(
  raster: Raster,
  pixels: readonly number[],
  across: Grid,
  down: Grid,
  tones: Tones,
  flip: boolean,
  soft: number,
): Explained {
  const even = flip ? tones.low : tones.high;
  const odd = flip ? tones.high : tones.low;
  const placeOf = (grid: Grid) => (at: number) => ({
    wave: wave(at - grid.start, grid.cell, soft),
    toBorder: toMultiple(at - grid.start, grid.cell),
  });
  const toneAt = (x: number, y: number): Rgb => {
    const mix = 0.5 + 0.5 * wave(x - across.start, across.cell, soft) * wave(y - down.start, down.cell, soft);
    return {
      red: odd.red + (even.red - odd.red) * mix,
      green: odd.green + (even.green - odd.green) * mix,
      blue: odd.blue + (even.blue - odd.blue) * mix,
    };
  };
  let explained = 0;
  let off = 0;
  for (const i of pixels) {
    const x = i % raster.width;
    const there = toneAt(x + 0.5, (i - x) / raster.width + 0.5);
    const far = Math.abs(gray(raster.data, i * 4) - (there.red * 2 + there.green * 5 + there.blue) / 8);
    off += Math.min(FAR_OFF_ENCODED, far);
    if (far <= CLOSE_ENCODED) explained++;
  }
  const checker = {
    cellPx: (across.cell + down.cell) / 2,
    left: across.start,
    top: down.start,
    even,
    odd,
    share: explained / pixels.length,
    toneAt,
    across: placeOf(across),
    down: placeOf(down),
  };
  return { checker, off: off / pixels.length };
}

/** 1 in even cells, -1 in odd ones, a soft step between. */
function wave(at: number, cell: number, soft: number): number {
  const phase = (((at % (2 * cell)) + 2 * cell) % (2 * cell)) / cell;
  const near = phase < 0.5 ? phase : phase < 1.5 ? 1 - phase : phase - 2;
  return Math.min(1, Math.max(-1, (2 * near * cell) / soft));
}

/** How far a number lies from the nearest multiple of another. */
function toMultiple(at: number, of: number): number {
  return Math.abs(at - Math.round(at / of) * of);
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}
