import { offsetsWithin } from '../../numeric/ring';
import type { Raster, Rect } from '../../raster/raster';
import { bandOf } from './band';
import { BETTER_ENCODED, betweenSubjects, Certain, sampledBackground } from './certain';
import { FineSolver, Strands } from './fine';
import { fineZone } from './fine-zone';
import {
  stretched,
  USUAL_NOISE_ENCODED,
  defaultSteepness,
  emptyProjection,
  projection,
  sharpened,
  takeOut,
  type EdgeInput,
  type Mix,
} from './mixture';
import { CLEAN, denoised, SOLVED, UNSOLVED, UNSURE, VEIL_PX, type Solved } from './denoise';
import { Reflection } from './reflection';
import { Spread } from './spread';
import { markStrokes } from './strokes';
import { acrossAt, isWide, steepnessAt, transitionsOf, type Transitions } from './transition';

/**
 * How far beyond a part its surroundings must be given, in pixels. The zone of threads is grown from up to 72 px away by
 * what lies 12 px around there, and follows faint ends 27 px farther by what lies 15 px around them; it decides what is
 * certain 16 px farther on. At reduced sizes it grows less far; then what counts is that a thread's color comes from up to
 * 60 px away, where blocks look 18 px around. The width of transitions is read from less far.
 */
export function edgeMargin(reduction: number): number {
  return reduction === 0 ? 132 : 80;
}

// What the figures of this file rest on: docs/decisions/005-un-mixing.md

/** How far a subject's strongest color is looked for along thin strokes; farther where the transition is wide. */
const STROKE_PX = 2.9;

/** Colors nearer than LEAST_APART_ENCODED (root of summed squares of encoded differences) cannot be told apart; from SURELY_APART_ENCODED on they can. */
const LEAST_APART_ENCODED = 12;
const SURELY_APART_ENCODED = 34;

/** Less of the way from LEAST_APART_ENCODED to SURELY_APART_ENCODED is told as a finding. */
const TRUSTED_SHARE = 0.5;

/**
 * Estimates within this many times the spread of the background (or of the subject) of nothing (or of all) count as
 * such: grain and the ringing of compressed pictures must leave neither veils nor dents. Wide transitions get none, since
 * their ends are told by their width. A stroke's strongest pixel is an extreme of its own, so it gets more.
 */
const SLACK_SPREADS = 2.5;
const STROKE_SLACK_SPREADS = 5;

/** A background whose spread is below this, encoded, is clean: nothing is denoised in it. */
const NOISELESS_ENCODED = 0.5;

/** A stroke stands out of the background by at least this many times its spread. */
const STROKE_STANDS_OUT_SPREADS = 6;

/** A mixture this far beside the line from B to F may be one of two subject colors. */
const BESIDE_ENCODED = 10;

/** A stroke's color is at least this share as far from the background as the subject beside it. */
const LEAST_STROKE_SHARE = 0.4;

/** Less reflection than this is not worth a change. */
const LEAST_REFLECTED_SHARE = 0.008;

/** Offsets to look there, by the width of the transition in whole pixels. */
const NEAR = Array.from({ length: 16 }, (_, width) => offsetsWithin(Math.max(STROKE_PX, width)));

/**
 * Estimates alpha and subject color of the pixels of `rect` (inside of `around`, whose border is `edgeMargin` wider
 * except at the picture's own) and writes them to `out`, whose upper left pixel is `origin` of the
 * picture (`rect`'s own where it is left out).
 *
 * Away from the border alpha is 0 or 255. Near it C = aF + (1 - a)B is solved for a in encoded sRGB, in which other
 * software composites: B is the mean of the nearest certain background, F either the nearest certain subject or, on
 * thin strokes, the strongest color beside the pixel, whichever explains C better (after Chuang and others, 2001, with
 * point estimates). Among threads every pixel is solved, cleared or not. The background's share is taken out of the
 * color.
 */
export function unmixInto(
  input: EdgeInput,
  rect: Rect,
  out: Raster,
  origin: { readonly x: number; readonly y: number } = rect,
): void {
  const { raster, around, cleared } = input;
  const { solved, reflection } = solveBand(input, rect);
  const {
    transitions: { band },
    fine,
    colors,
    state,
  } = solved;
  const cleaner = reflection && new Cleaner(input, reflection);
  for (let y = 0; y < rect.height; y++) {
    const from = ((rect.y + y) * raster.width + rect.x) * 4;
    const to = ((rect.y - origin.y + y) * out.width + rect.x - origin.x) * 4;
    out.data.set(raster.data.subarray(from, from + rect.width * 4), to);
    let i = (rect.y - around.y + y) * around.width + (rect.x - around.x);
    for (let x = 0, q = to; x < rect.width; x++, i++, q += 4) {
      if (band[i]! + fine[i]! === 0) {
        if (cleared[i] === 1) out.data[q + 3] = 0;
        else cleaner?.clean(i, out.data, q);
        continue;
      }
      if (state[i] === UNSURE) input.alike?.add(rect.x + x, rect.y + y);
      const own = denoised(input, solved, i);
      if (own === 1) {
        if (fine[i] === 0) cleaner?.clean(i, out.data, q);
        continue;
      }
      if (state[i] !== UNSOLVED) mixIn(out.data, q, colors, i * 3, input.spill);
      out.data[q + 3] = Math.round(own * out.data[q + 3]!);
    }
  }
}

/** Takes reflected backdrop out of opaque pixels. */
class Cleaner {
  private readonly b = new Float64Array(3);

  constructor(
    private readonly input: EdgeInput,
    private readonly reflection: Reflection,
  ) {}

  /** Changes the color at `q` of `data`, which is that of pixel `i`. */
  clean(i: number, data: Uint8Array, q: number): void {
    const share = this.reflection.shareAt(i);
    if (share < LEAST_REFLECTED_SHARE || !sampledBackground(this.input, i, this.b)) return;
    for (let c = 0; c < 3; c++) {
      const own = data[q + c]!;
      const clean = Math.min(255, Math.max(0, without(own, share, this.b[c]!)));
      data[q + c] = Math.round(own + (clean - own) * this.input.spill);
    }
  }
}

/** A color without a share of another. */
function without(color: number, share: number, other: number): number {
  return (color - share * other) / (1 - share);
}

/** Brings a color as near to another as `share` says. */
function mixIn(data: Uint8Array, q: number, colors: Uint8Array, from: number, share: number): void {
  for (let c = 0; c < 3; c++)
    data[q + c] = Math.round(data[q + c]! + (colors[from + c]! - data[q + c]!) * share);
}

/** What may be a mixture: the spread of the ordinary band, how wide transitions are, and what is `fine`. */
function bandsOf(input: EdgeInput) {
  const { around, cleared, scratch, widthPx } = input;
  const narrow = bandOf({ data: cleared, width: around.width, height: around.height }, scratch, widthPx);
  const narrowSpread = new Spread(input, narrow);
  const fine = fineZone(input, narrow, narrowSpread);
  markStrokes(input.strokes, input.reduction, around, fine);
  return { narrowSpread, fine, transitions: transitionsOf(input, narrow, fine, narrowSpread) };
}

/** Marks of `markBand`: certain subject, certain background, and what lies in the edge. */
export const CERTAIN_SUBJECT = 0;
export const CERTAIN_BACKGROUND = 1;
export const IN_EDGE = 2;

/** Marks which pixels of `rect` are solved as mixtures and which are certain, row by row in `out` from `start` on. */
export function markBand(input: EdgeInput, rect: Rect, out: Uint8Array, start: number, stride: number): void {
  const { around, cleared } = input;
  const {
    transitions: { band },
    fine,
  } = bandsOf(input);
  for (let y = 0; y < rect.height; y++) {
    let i = (rect.y - around.y + y) * around.width + (rect.x - around.x);
    for (let x = 0, q = start + y * stride; x < rect.width; x++, i++, q++)
      out[q] = band[i]! + fine[i]! > 0 ? IN_EDGE : cleared[i]!;
  }
}

/** Solves what may be a mixture within VEIL_PX of `rect`. */
function solveBand(input: EdgeInput, rect: Rect): { solved: Solved; reflection: Reflection | null } {
  const { raster, around, cleared, scratch } = input;
  const { narrowSpread, transitions, fine } = bandsOf(input);
  const { band } = transitions;
  const reflection = input.reflectionScale > 0 ? new Reflection(input, input.reflectionScale, band) : null;
  const alpha = scratch.floats('edge alpha', cleared.length);
  const colors = scratch.bytes('edge colors', cleared.length * 3);
  const state = scratch.bytes('edge state', cleared.length);
  const spread = new Spread(input, band);
  // Among threads nothing depends on how far their zone was grown elsewhere.
  const strands = new Strands(input, narrowSpread);
  const certain = new Certain(input, band);
  const three = () => new Float64Array(3);
  const mix: Mix = {
    b: three(),
    f: three(),
    g: three(),
    color: three(),
    first: emptyProjection(),
    second: emptyProjection(),
    alpha: 0,
    noise: 0,
    unsure: false,
  };
  const threads = new FineSolver(input, certain, narrowSpread, strands, mix);
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
          ? threads.solve(i, p)
          : solvePixel(input, transitions, certain, spread, reflection, i, p, mix);
      if (!solved) continue;
      alpha[i] = mix.alpha;
      state[i] = mix.unsure ? UNSURE : mix.noise < NOISELESS_ENCODED ? CLEAN : SOLVED;
      for (let c = 0; c < 3; c++) colors[i * 3 + c] = Math.round(mix.color[c]!);
    }
  }
  return { solved: { transitions, fine, alpha, colors, state }, reflection };
}

/** Solves one pixel into `mix`. False where background or subject have no certain pixel near. */
function solvePixel(
  input: EdgeInput,
  transitions: Transitions,
  certain: Certain,
  spread: Spread,
  reflection: Reflection | null,
  i: number,
  p: number,
  mix: Mix,
): boolean {
  const { raster, cleared } = input;
  const { data } = raster;
  const { b, f, g } = mix;
  const hasBackground = certain.mean(i, 1, b);
  if (!hasBackground && !sampledBackground(input, i, b)) return false;
  const noise = hasBackground ? spread.at(i, 1) : USUAL_NOISE_ENCODED;
  const hasSubject = certain.mean(i, 0, f);
  const reflected = hasSubject && reflection ? reflection.shareAt(i) : 0;
  if (reflected > 0) {
    // The rim reflects more than the certain subject farther in: so much of the backdrop belongs to its color there.
    const farther = reflection!.shareAt(certain.found);
    for (let c = 0; c < 3; c++) {
      const clean = without(f[c]!, farther, b[c]!);
      f[c] = Math.min(255, Math.max(0, clean + (b[c]! - clean) * reflected));
    }
  }
  const first = hasSubject ? projection(input, p, b, f, mix.first) : null;
  const wide = isWide(transitions, i);
  const hasStroke =
    (first === null || first.rest > BETTER_ENCODED) &&
    strongest(input, i, b, g, wide ? acrossAt(transitions, i) : 0);
  if (!hasSubject && !hasStroke) return false;
  const second = hasStroke ? projection(input, p, b, g, mix.second) : null;
  const useStroke =
    second !== null &&
    second.span > STROKE_STANDS_OUT_SPREADS * noise &&
    (first === null ||
      (second.rest + BETTER_ENCODED < first.rest && second.span > LEAST_STROKE_SHARE * first.span));
  if (!useStroke && !first) return false;
  const chosen = useStroke ? second : first!;
  const subject = useStroke ? g : f;
  const hard = cleared[i] === 1 ? 0 : 1;
  const trust = Math.min(
    1,
    Math.max(0, (chosen.span - LEAST_APART_ENCODED) / (SURELY_APART_ENCODED - LEAST_APART_ENCODED)),
  );
  const slack = wide ? 0 : SLACK_SPREADS;
  const above = useStroke
    ? STROKE_SLACK_SPREADS * noise
    : slack * Math.min(2 * noise, Math.max(noise, spread.at(i, 0)));
  const inside =
    hard === 1 &&
    !useStroke &&
    chosen.rest > BESIDE_ENCODED &&
    betweenSubjects(input, transitions.band, i, p, f, chosen.rest);
  const steepness = steepnessAt(transitions, i) ?? defaultSteepness(chosen);
  const raw = inside ? 1 : sharpened(stretched(chosen, slack * noise, above), steepness);
  const alpha = hard + (raw - hard) * trust;
  mix.noise = reflected > 0 ? Math.max(noise, NOISELESS_ENCODED) : noise;
  mix.unsure = trust < TRUSTED_SHARE;
  mix.alpha = alpha;
  takeOut(data, p, mix, subject);
  if (reflected > 0 && !useStroke)
    for (let c = 0; c < 3; c++)
      mix.color[c] = Math.min(255, Math.max(0, without(mix.color[c]!, reflected, b[c]!)));
  return true;
}

/** The uncleared color near a pixel, within `across` pixels at least, that lies farthest from the background. */
function strongest(input: EdgeInput, i: number, b: Float64Array, out: Float64Array, across: number): boolean {
  const { raster, around, cleared } = input;
  const { width, height } = around;
  const { data } = raster;
  const x = i % width;
  const y = (i - x) / width;
  const near = NEAR[Math.min(NEAR.length - 1, Math.round(across))]!;
  const start = ((around.y + y) * raster.width + around.x + x) * 4;
  const [red, green, blue] = [b[0]!, b[1]!, b[2]!];
  let farthest = -1;
  let from = 0;
  for (let k = 0; k < near.length; k += 2) {
    const dx = near[k]!;
    const dy = near[k + 1]!;
    if (cleared[i + dy * width + dx] !== 0) continue;
    const nx = x + dx;
    const ny = y + dy;
    if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
    const p = start + (dy * raster.width + dx) * 4;
    const r = data[p]! - red;
    const g = data[p + 1]! - green;
    const l = data[p + 2]! - blue;
    const far = r * r + g * g + l * l;
    if (far <= farthest) continue;
    farthest = far;
    from = p;
  }
  if (farthest <= 0) return false;
  for (let c = 0; c < 3; c++) out[c] = data[from + c]!;
  return true;
}
