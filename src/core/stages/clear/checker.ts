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
  /** How much the pattern is turned: the tangent of its angle, down to the right. Most are not. */
  readonly tilt: number;
  /** Where a place of the original lies in the pattern, along each of its axes; the other coordinate matters where it is turned. */
  across(x: number, y: number): Place;
  down(y: number, x: number): Place;
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

/** So much the red and the blue of a pixel may be off its tone's, for its gray; and how much of the frame has the tones' hue. */
const OFF_HUE_ENCODED = 16;
const OWN_HUE_SHARE = 0.85;

/** Nothing farther from a side than this is looked at, in pixels. */
const LOOKED_AT_PX = 40;

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
 * crossings' numbers gives sizes that are not whole), and the pattern counts if it explains most of the frame. Where it does
 * not, it is looked for turned by a few degrees, around a subject on the frame, and with the light divided out that falls across it.
 * Null where there is none.
 */
export function findChecker(raster: Raster): Checker | null {
  const { width, height } = raster;
  if (width < 4 * SMALLEST_PX || height < 4 * SMALLEST_PX) return null;
  const pixels = framePixels(raster);
  const tones = splitTones(raster, pixels);
  const found = findIn(raster, tones, pixels);
  if (found) return found;
  const even = inEvenLight(raster, pixels);
  const evenTones = even && splitTones(even, pixels);
  return even && hasTwoTones(even, evenTones, pixels) ? findIn(even, evenTones, pixels) : null;
}

function findIn(raster: Raster, tones: Tones | null, pixels: readonly number[]): Checker | null {
  const find = (turned: boolean) => findWith(raster, tones, pixels, () => true, turned);
  const upright = find(false) ?? findAround(raster, pixels);
  if (upright && upright.share > SURELY_UPRIGHT_SHARE) return upright;
  const turned = hasTwoTones(raster, tones, pixels) ? find(true) : null;
  const isBetter = turned !== null && turned.share > (upright?.share ?? 0) + BETTER_SHARE;
  return isBetter ? turned : upright;
}

/** So near to one of two tones, as a share of their contrast, are most pixels of a frame that has no more than two. */
const NEAR_TONE_SHARE = 0.2;
const LEAST_NEAR_SHARE = 0.55;

/** Whether a frame has two tones and little between them, which no backdrop in falling light has. */
function hasTwoTones({ data }: Raster, tones: Tones | null, pixels: readonly number[]): boolean {
  if (!tones) return false;
  const [low, high] = [grayOf(tones.low), grayOf(tones.high)];
  const near = pixels.filter((i) => {
    const own = gray(data, i * 4);
    return Math.min(Math.abs(own - low), Math.abs(own - high)) <= NEAR_TONE_SHARE * (high - low);
  });
  return near.length >= LEAST_NEAR_SHARE * pixels.length;
}

/** The same where a subject lies on much of the frame: only what has two of its most frequent grays is looked at. */
function findAround(raster: Raster, pixels: readonly number[]): Checker | null {
  for (const tones of frequentTones(raster, pixels)) {
    const isOwn = (i: number) => isBetween(raster.data, i * 4, tones);
    const own = pixels.filter(isOwn);
    const isMuch = own.length >= LEAST_OPEN_SHARE * pixels.length;
    const found = isMuch ? findWith(raster, tones, own, isOwn, false) : null;
    if (found) return found;
  }
  return null;
}

/** Looks for a pattern of two tones in those `pixels` of the frame, and in what `isOwn`; turned by a few degrees or not at all. */
function findWith(
  raster: Raster,
  tones: Tones | null,
  pixels: readonly number[],
  isOwn: (i: number) => boolean,
  turned: boolean,
): Checker | null {
  if (!tones) return null;
  const lines = {
    x: crossingsAlong(raster, tones, 'x', isOwn),
    y: crossingsAlong(raster, tones, 'y', isOwn),
  };
  const tilt = turned ? tiltOf(raster, lines.x, lines.y) : 0;
  if (tilt === null) return null;
  const across = readGrid(straightened(lines.x, tilt), raster.width);
  const down = readGrid(straightened(lines.y, -tilt), raster.height);
  if (!across || !down || Math.abs(across.cell - down.cell) > 0.06 * across.cell + 0.12) return null;
  const found = [false, true].flatMap((flip) =>
    SOFT_PX.map((soft) => explain(raster, pixels, { across, down, tilt }, tones, flip, soft)),
  );
  const best = found.reduce((one, other) => (other.off < one.off ? other : one));
  return best.checker.share >= 0.8 ? best.checker : null;
}

/** A pattern that explains more than this is not turned; one that is explains so much more. */
const SURELY_UPRIGHT_SHARE = 0.96;
const BETTER_SHARE = 0.03;

/** How steep a pattern may be turned, as a tangent; by which part of a cell its lines may be off where angles are tried. */
const MOST_TILT = 0.09;
const TILT_STEP_CELLS = 0.25;

/** So many crossings of each axis tell how a pattern is turned; in whole turns of a cell they agree at least so much. */
const TILT_CROSSINGS = 150;

/** A pattern's lines are mostly as far apart as usual, to within this share; others are not looked at turned. */
const LIKE_USUAL = 0.15;
const LEAST_USUAL_SHARE = 0.3;

/** So many angles are looked at closely. */
const LIKELY_TILTS = 8;

/** Cells smaller than this are not looked at turned, in pixels. */
const LEAST_TURNED_PX = 5;

interface Scored {
  readonly score: number;
  readonly tilt: number;
}

function bestOf(all: readonly Scored[]): Scored {
  return all.reduce((one, other) => (other.score > one.score ? other : one));
}

/** The tangent of the angle by which the crossings of both axes agree best; null where they agree on none. */
function tiltOf({ width, height }: Raster, x: readonly Crossing[], y: readonly Crossing[]): number | null {
  const some = (all: readonly Crossing[]) => {
    const every = Math.ceil(all.length / TILT_CROSSINGS);
    return all.filter((_, k) => k % every === 0);
  };
  const rough = usualGap(x);
  if (rough === null || rough < LEAST_TURNED_PX) return null;
  const gaps = gapsOf(x);
  const usual = gaps.filter((gap) => Math.abs(gap - rough) < LIKE_USUAL * rough);
  if (usual.length < LEAST_USUAL_SHARE * gaps.length) return null;
  const length = Math.max(width, height);
  const step = (TILT_STEP_CELLS * rough) / length;
  // Of cells that large too few are on the picture to tell how they are turned.
  if (step > MOST_TILT) return null;
  const [ofX, ofY] = [some(x), some(y)];
  const scoreOf = (tilt: number): Scored => {
    const one = refine(straightened(ofX, tilt), rough, length, 0, COARSE);
    const other = one && refine(straightened(ofY, -tilt), one.cell, length, 0, COARSE);
    return { score: one && other ? one.score * other.score : 0, tilt };
  };
  const around = (from: number, by: number) =>
    [-4, -3, -2, -1, 1, 2, 3, 4].map((part) => scoreOf(from + part * by));
  const tried: Scored[] = [];
  for (let tilt = step; tilt <= MOST_TILT; tilt += step) tried.push(scoreOf(tilt), scoreOf(-tilt));
  // Lines at both borders agree at other angles too, by whole cells; closely looked at they do less.
  const likely = tried.sort((p, q) => q.score - p.score).slice(0, LIKELY_TILTS);
  const best = bestOf(
    likely.map((one) => {
      const near = bestOf([one, ...around(one.tilt, step / 5)]);
      return bestOf([near, ...around(near.tilt, step / 25)]);
    }),
  );
  return best.score > 0 ? best.tilt : null;
}

/** Light that falls across a frame is divided out where it changes by this share of its mean. */
const LEAST_FALL_SHARE = 0.05;

/**
 * A picture whose frame is in even light: each pixel times how much darker the light is there than in the middle. Null where the light
 * of the frame does not fall.
 */
function inEvenLight(raster: Raster, pixels: readonly number[]): Raster | null {
  const { width, height, data } = raster;
  // Light as a plane over the frame, which no pattern is.
  const fit = planeThrough(pixels.map((i) => [i % width, Math.floor(i / width), gray(data, i * 4)]));
  const corners = [0, width].flatMap((x) => [0, height].map((y) => fit(x, y)));
  const middle = fit(width / 2, height / 2);
  if (Math.max(...corners) - Math.min(...corners) < LEAST_FALL_SHARE * middle) return null;
  const out = data.slice();
  // No more of it is looked at than the frame and the lines near it.
  const isInside = (at: number, length: number) => at >= LOOKED_AT_PX && at < length - LOOKED_AT_PX;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (x === LOOKED_AT_PX && isInside(y, height)) x = Math.max(x, width - LOOKED_AT_PX);
      const p = (y * width + x) * 4;
      const times = middle / Math.max(middle / 4, fit(x, y));
      for (let c = 0; c < 3; c++) out[p + c] = Math.min(255, Math.round(data[p + c]! * times));
    }
  return { ...raster, data: out };
}

/** The plane nearest to some places, by least squares. */
function planeThrough(
  places: readonly (readonly [number, number, number])[],
): (x: number, y: number) => number {
  const mean = [0, 1, 2].map((k) => places.reduce((sum, place) => sum + place[k]!, 0) / places.length);
  let [xx, xy, yy, xv, yv] = [0, 0, 0, 0, 0];
  for (const place of places) {
    const [x, y, v] = place.map((value, k) => value - mean[k]!) as [number, number, number];
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xv += x * v;
    yv += y * v;
  }
  const whole = Math.max(1e-9, xx * yy - xy * xy);
  const across = (xv * yy - yv * xy) / whole;
  const down = (yv * xx - xv * xy) / whole;
  return (x, y) => mean[2]! + across * (x - mean[0]!) + down * (y - mean[1]!);
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
const grayOf = ({ red, green, blue }: Rgb) => (red * 2 + green * 5 + blue) / 8;

/** Whether a pixel has the hue that lies between two tones at its gray, to within what compression does to it. */
function isOfHue(data: Uint8Array, p: number, { low, high }: Pick<Tones, 'low' | 'high'>): boolean {
  const own = gray(data, p);
  const share = Math.min(1, Math.max(0, (own - grayOf(low)) / (grayOf(high) - grayOf(low))));
  const off = (c: number, from: number, to: number) => data[p + c]! - own - (from + (to - from) * share);
  const [lowGray, highGray] = [grayOf(low), grayOf(high)];
  const red = off(0, low.red - lowGray, high.red - highGray);
  const blue = off(2, low.blue - lowGray, high.blue - highGray);
  return Math.abs(red) <= OFF_HUE_ENCODED && Math.abs(blue) <= OFF_HUE_ENCODED;
}

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

/** The two tones of the frame, far enough apart; null where more than a few of its pixels have other colors. */
function splitTones({ data }: Raster, pixels: readonly number[]): Tones | null {
  const grays = pixels.map((i) => gray(data, i * 4)).sort((p, q) => p - q);
  let middle = (grays[Math.floor(grays.length * 0.1)]! + grays[Math.floor(grays.length * 0.9)]!) / 2;
  for (let round = 0; round < 8; round++) {
    const below = mean(grays.filter((value) => value < middle));
    const above = mean(grays.filter((value) => value >= middle));
    middle = (below + above) / 2;
  }
  const side = (isHigh: boolean) =>
    medianColor(
      data,
      pixels.filter((i) => gray(data, i * 4) >= middle === isHigh),
    );
  const high = side(true);
  const low = side(false);
  const tones = { low, high, middle: (grayOf(high) + grayOf(low)) / 2 };
  if (grayOf(high) - grayOf(low) < LEAST_CONTRAST_ENCODED) return null;
  const own = pixels.filter((i) => isOfHue(data, i * 4, tones));
  return own.length >= OWN_HUE_SHARE * pixels.length ? tones : null;
}

function medianColor(data: Uint8Array, pixels: readonly number[]): Rgb {
  const channel = (c: number) => median(pixels.map((i) => data[i * 4 + c]!));
  return { red: channel(0), green: channel(1), blue: channel(2) };
}

/** Where a line crosses between the tones, and how far that line is from the middle of the picture. */
interface Crossing {
  readonly at: number;
  readonly beside: number;
}

/** Crossings of lines near both borders. */
function crossingsAlong(
  raster: Raster,
  tones: Tones,
  axis: 'x' | 'y',
  isOwn: (i: number) => boolean,
): Crossing[] {
  const { width, height } = raster;
  const across = axis === 'x' ? height : width;
  const depth = Math.max(2, Math.min(LOOKED_AT_PX, Math.floor(across / 10)));
  const found: Crossing[] = [];
  for (let k = 1; k < depth; k++)
    for (const line of [k, across - 1 - k])
      for (const at of crossingsOf(raster, tones, axis, line, isOwn)) found.push({ at, beside: line + 0.5 });
  return found;
}

/** Places along the pattern's own axis where it is turned. */
function straightened(crossings: readonly Crossing[], tilt: number): number[] {
  return crossings.map(({ at, beside }) => at + tilt * beside);
}

/** How far crossings of one line are usually apart; null where there are too few. */
function usualGap(crossings: readonly Crossing[]): number | null {
  if (crossings.length < 12) return null;
  const gaps = gapsOf(crossings);
  return gaps.length < 8 ? null : median(gaps);
}

function gapsOf(crossings: readonly Crossing[]): number[] {
  return crossings
    .slice(1)
    .map(({ at }, k) => at - crossings[k]!.at)
    .filter((gap) => gap >= SMALLEST_PX && gap <= LARGEST_PX);
}

/** Cell size and phase along one axis, from where lines at both borders cross between the tones. */
function readGrid(crossings: readonly number[], length: number): Grid | null {
  const rough = usualGap(crossings.map((at) => ({ at, beside: 0 })));
  if (rough === null) return null;
  const every = Math.ceil(crossings.length / MOST_CROSSINGS);
  const some = crossings.filter((_, k) => k % every === 0);
  return refine(some, rough, length, LEAST_AGREEMENT);
}

/** Whether a pixel has one of two tones or lies between them. */
function isBetween(data: Uint8Array, p: number, { low, high }: Tones): boolean {
  const own = gray(data, p);
  const isThere = own >= grayOf(low) - CLOSE_ENCODED && own <= grayOf(high) + CLOSE_ENCODED;
  return isThere && isOfHue(data, p, { low, high });
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
      return { low, high, middle: (grayOf(low) + grayOf(high)) / 2 };
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

/** Where angles are tried, sizes are so many times as far apart. */
const COARSE = 6;

/** The length of the mean phase of crossings that agree. */
const LEAST_AGREEMENT = 0.6;

/** The cell and phase that most crossings agree on: the best of sizes near `rough` by the length of their mean phase. */
function refine(
  crossings: readonly number[],
  rough: number,
  length: number,
  least: number,
  step = 1,
): (Grid & { readonly score: number }) | null {
  let best = { score: 0, cell: rough, start: 0 };
  const finest = step * Math.max(0.0005, (rough * rough) / length / 24);
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
  return best.score > least ? best : null;
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
  { across, down, tilt }: { readonly across: Grid; readonly down: Grid; readonly tilt: number },
  tones: Tones,
  flip: boolean,
  soft: number,
): Explained {
  const even = flip ? tones.low : tones.high;
  const odd = flip ? tones.high : tones.low;
  const placeOf = (grid: Grid, by: number) => (along: number, beside: number) => {
    const at = along + by * beside - grid.start;
    return { wave: wave(at, grid.cell, soft), toBorder: toMultiple(at, grid.cell) };
  };
  const [acrossAt, downAt] = [placeOf(across, tilt), placeOf(down, -tilt)];
  const toneAt = (x: number, y: number): Rgb => {
    const mix = 0.5 + 0.5 * acrossAt(x, y).wave * downAt(y, x).wave;
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
    const far = Math.abs(gray(raster.data, i * 4) - grayOf(there));
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
    tilt,
    across: acrossAt,
    down: downAt,
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
