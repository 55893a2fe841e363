import type { Plane } from '../raster/plane';
import { blurBox } from '../numeric/box';
import { lengthOf } from '../numeric/exact';
import { closeGray, dilateGray } from '../numeric/morphology';
import { floatsBy } from '../numeric/plane';
import { chamferDistances, CHAMFER_UNIT } from '../numeric/chamfer-distance';
import { quantile } from '../numeric/statistics';
import type { Progress, Steps } from '../numeric/steps';
import { bordersOf, stepsOf, type Noise } from './borders';
import type { PatternSeen, Planes } from './planes';
import { BENT_TERMS, fitSmooth, FULL, residuals, surfaceOf, type Fit, type Smooth } from './smooth';

/** What the decision sees of a picture: how it differs from its backdrop, and where its borders are. */
export interface Sight {
  readonly planes: Planes;
  /** The same, averaged over 3 x 3 pixels where there is grain. */
  readonly calm: Planes['channels'];
  readonly noise: Noise;
  /** Whether there is no grain: drawn, not photographed. */
  readonly clean: boolean;
  readonly steps: Float32Array;
  /** The strength from which a step is a border. */
  readonly strength: number;
  /** 1 on borders. */
  readonly borders: Uint8Array;
  /** How far the nearest border is, in thirds of a pixel, at most 255. */
  readonly toBorder: Uint8Array;
  /** Pixels of the frame. */
  readonly frame: Int32Array;
  /** The share of the frame that one smooth backdrop explains, 0 to 1. */
  readonly frameShare: number;
  /** The modelled backdrop, and its values for each channel. */
  smooth: Smooth;
  backdrop: Planes['channels'];
  /** Whether the backdrop has so much color that a shadow on it is told by its color alone. */
  readonly colored: boolean;
  /** How far each pixel differs from the backdrop, in units of noise; 0 where it does not. */
  readonly deviation: Float32Array;
  /**
   * How far a border must be from a pixel for the backdrop to go on there, in pixels: little where it looks like the backdrop,
   * much where it could be its shade, NEVER where it is neither.
   */
  readonly clearance: Float32Array;
  /** 1 where the color alone says that it is the backdrop or its shade. */
  readonly sameHue: Uint8Array;
  /** 1 where the backdrop, or its pattern, is known to go on in a shadow. */
  readonly inShadow: Uint8Array;
  /** The largest clearance: openings of a border narrower than twice that do not let a shade through. */
  readonly reach: number;
}

export const NEVER = 1e5;

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** How wide the frame is, and the largest clearance, as shares of the longer side. */
const FRAME_SHARE = 0.012;
const REACH_SHARE = 0.02;

/** Noise is taken to be no less than this, in levels: rounding, and what compression leaves of a plain area. */
const LEAST_NOISE: Noise = [0.7, 0.5, 0.5];

/** Below this grain in luma, in levels, a picture is drawn. */
const CLEAN_ENCODED = 0.45;

/** A border is a step of at least so many units of noise, and stronger than nearly all steps of the frame's backdrop. */
const BORDER_NOISE = 4;
const BEYOND_GRAIN_TIMES = 1.4;

/** From so much chroma on, in levels, a backdrop is colored. */
const COLORED_ENCODED = 18;

/** What is told meanwhile: the second part of looking at a picture. */
const SEEING: Progress = { doing: 'looking', done: 1, total: 4 };

/** Everything about a picture that does not depend on what was told of it. Null where no smooth backdrop is at the frame. */
export function* seeing(planes: Planes): Steps<Sight | null> {
  const { width, height } = planes;
  const frame = frameOf(planes, Math.max(2, Math.round(FRAME_SHARE * Math.max(width, height))));
  const fit = frameFit(planes, frame);
  if (!fit) return null;
  yield SEEING;
  const backdropAtFrame = frame.filter(
    (_, k) => k % fit.every === 0 && fit.off[k / fit.every]! < NEAR_ENCODED,
  );
  const grain = grainOf(planes, backdropAtFrame);
  const noise = grain.map((own, c) => Math.max(LEAST_NOISE[c]!, own)) as unknown as Noise;
  yield SEEING;
  const steps = stepsOf(planes, noise);
  yield SEEING;
  if (planes.blank) forgetNear(steps, { data: planes.blank, width, height });
  const usual = quantile(
    floatsBy(backdropAtFrame.length, (k) => steps[backdropAtFrame[k]!]!),
    0.995,
  );
  const strength = Math.max(BORDER_NOISE, BEYOND_GRAIN_TIMES * usual);
  const borders = bordersOf({ data: steps, width, height }, strength);
  yield SEEING;
  const toBorder = new Uint8Array(borders.length);
  const clean = grain[0]! < CLEAN_ENCODED;
  const { smooth } = fit;
  const sight: Sight = {
    planes,
    calm: clean
      ? planes.channels
      : (planes.channels.map((plane) =>
          blurBox({ data: plane, width, height }, 1),
        ) as unknown as Planes['channels']),
    noise,
    clean,
    steps,
    strength,
    borders,
    toBorder,
    frame,
    frameShare: fit.share,
    smooth,
    backdrop: surfaceOf(smooth, width, height),
    colored: lengthOf(smooth[1][0]!, smooth[2][0]!) > COLORED_ENCODED,
    deviation: new Float32Array(borders.length),
    clearance: new Float32Array(borders.length),
    sameHue: new Uint8Array(borders.length),
    reach: REACH_SHARE * Math.max(width, height),
    inShadow: new Uint8Array(borders.length),
  };
  if (planes.pattern) takePattern(sight, planes.pattern);
  measureBorders(sight);
  return sight;
}

/** What has less than this share of the backdrop's light lies in a shadow. */
export const SHADED_SHARE = 0.94;

/** What is around a place is within so many pixels. */
const AROUND_PX = 2;

/** Between two stretches of a pattern light lies between theirs, to within so many levels, and has its color. */
const BETWEEN_ENCODED = 5;

/**
 * Marks where a pattern goes on in a shadow: where it was seen, and between such places where light passes from one's to the other's, which is the
 * rim of a shadow, however sharp. No border is there.
 */
function takePattern({ planes, borders, backdrop, inShadow }: Sight, { shown, radius }: PatternSeen): void {
  const { width, height, channels } = planes;
  const { data: closed } = closeGray({ data: Float32Array.from(shown), width, height }, radius);
  const mostAround = (value: (i: number) => number) => {
    const own = floatsBy(shown.length, (i) => (shown[i] === 1 ? value(i) : -NEVER));
    return dilateGray({ data: own, width, height }, radius + 2).data;
  };
  const isBetween = channels.map((plane) => {
    const high = mostAround((i) => plane[i]!);
    const low = mostAround((i) => -plane[i]!);
    return (i: number) => plane[i]! < high[i]! + BETWEEN_ENCODED && plane[i]! > -low[i]! - BETWEEN_ENCODED;
  });
  const goesOn = (i: number) => shown[i] === 1 || (closed[i] === 1 && isBetween.every((is) => is(i)));
  // In full light it is what the backdrop is, up to borders.
  const shaded = floatsBy(shown.length, (i) =>
    goesOn(i) && channels[0][i]! < SHADED_SHARE * backdrop[0][i]! ? 1 : 0,
  );
  const { data: shades } = dilateGray({ data: shaded, width, height }, AROUND_PX);
  for (let i = 0; i < shown.length; i++) {
    if (shades[i] === 0 || !goesOn(i)) continue;
    inShadow[i] = 1;
    borders[i] = 0;
  }
}

function measureBorders({ borders, toBorder, planes: { width, height } }: Sight): void {
  chamferDistances(borders, 0, width, height, toBorder);
}

/** A pixel of the frame within this of a surface lies on it, in levels. */
const NEAR_ENCODED = 7;

/** Pixels of the frame that are looked at, at most. */
const MOST_FRAME = 5000;

interface FrameFit extends Fit {
  readonly share: number;
  /** Every so manieth pixel of the frame was looked at; and how far each lies from the surface, in levels. */
  readonly every: number;
  readonly off: Float32Array;
}

/**
 * The smooth backdrop that explains most of the frame. Fits start from the whole frame and from each side alone, since a
 * subject that touches the frame may cover a large part of it.
 */
function frameFit(planes: Planes, frame: Int32Array): FrameFit | null {
  const { width, height } = planes;
  const every = Math.ceil(frame.length / MOST_FRAME);
  const looked = frame.filter((_, k) => k % every === 0);
  const inset = Math.max(2, Math.round(FRAME_SHARE * Math.max(width, height)));
  const sides: readonly ((i: number) => boolean)[] = [
    () => true,
    (i) => i < inset * width,
    (i) => i >= (height - inset) * width,
    (i) => i % width < inset,
    (i) => i % width >= width - inset,
  ];
  let best: FrameFit | null = null;
  for (const side of sides) {
    const own = looked.filter(side);
    let fit = own.length > 30 ? fitSmooth(planes, own, BENT_TERMS, 8) : null;
    for (let round = 0; fit && round < 3; round++) {
      const off = residuals(planes, looked, fit.smooth);
      const on = looked.filter((_, k) => off[k]! < 2 * NEAR_ENCODED);
      fit = on.length > 30 ? fitSmooth(planes, on, BENT_TERMS, 4) : null;
    }
    if (!fit) continue;
    const off = residuals(planes, looked, fit.smooth);
    const share = off.reduce((count, far) => count + (far < NEAR_ENCODED ? 1 : 0), 0) / looked.length;
    if (!best || share > best.share + 0.01) best = { ...fit, share, every, off };
    if (share > 0.97) break;
  }
  return best;
}

/** Pixels within `inset` of the picture's border, or of where it is transparent. */
function frameOf({ width, height, blank }: Planes, inset: number): Int32Array {
  const toBlank = new Uint8Array(width * height).fill(255);
  if (blank) chamferDistances(blank, 0, width, height, toBlank);
  const frame: number[] = [];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (blank?.[i] === 1) continue;
      const isRim = x < inset || y < inset || x >= width - inset || y >= height - inset;
      if (isRim || toBlank[i]! < CHAMFER_UNIT * inset) frame.push(i);
    }
  return Int32Array.from(frame);
}

/** Nothing is told of steps so near to where the picture is transparent, in pixels. */
const NEAR_BLANK_PX = 4;

function forgetNear(steps: Float32Array, { data: blank, width, height }: Plane): void {
  const toBlank = new Uint8Array(blank.length);
  chamferDistances(blank, 0, width, height, toBlank);
  for (let i = 0; i < steps.length; i++) if (toBlank[i]! <= CHAMFER_UNIT * NEAR_BLANK_PX) steps[i] = 0;
}

/** The spread of grain in each channel: the median difference from the mean of the four neighbors (Immerkaer's idea, 1996). */
function grainOf({ width, height, channels }: Planes, pixels: Int32Array): number[] {
  return channels.map((plane) => {
    const off: number[] = [];
    for (const i of pixels) {
      const x = i % width;
      if (x < 1 || x >= width - 1 || i < width || i >= width * (height - 1)) continue;
      off.push(
        Math.abs(plane[i]! - (plane[i - 1]! + plane[i + 1]! + plane[i - width]! + plane[i + width]!) / 4),
      );
    }
    return off.length > 0 ? (1.4826 * quantile(off, 0.5)) / Math.sqrt(1.25) : 0;
  });
}

/** What a model may be off, in levels for each channel, times `slack`. */
const MODEL_OFF = [1.2, 0.8, 0.8] as const;

/** Deviations up to the first need next to no clearance; at the second, half of the largest. */
const ALIKE_NOISE = 3;
const DIFFERENT_NOISE = 7;

/** The darkest shade, as a share of the backdrop; and how much its color may be off, as a share of the backdrop's luma. */
const DARKEST_SHADE_SHARE = 0.3;
const SHADE_COLOR_SHARE = 0.035;
const SHADE_SLACK_TIMES = 1.2;
const SAME_HUE_TIMES = 0.3;

/**
 * Fills `deviation` and `clearance` from the backdrop. A shade is darker than the backdrop by one factor in all channels, so
 * its color differences shrink by the same factor as its luma.
 */
export function explain(sight: Sight, slack: number): void {
  const { calm, backdrop, noise, deviation, clearance, reach, sameHue, inShadow } = sight;
  const { blank } = sight.planes;
  const [luma, blueness, redness] = calm;
  const [backLuma, backBlueness, backRedness] = backdrop;
  const [lumaOff, blueOff, redOff] = MODEL_OFF.map((off) => off * slack);
  for (let i = 0; i < luma.length; i++) {
    sameHue[i] = 1;
    if (blank?.[i] === 1 || inShadow[i] === 1) {
      deviation[i] = 0;
      clearance[i] = blank?.[i] === 1 ? 0 : 1;
      continue;
    }
    const y = beyond(luma[i]! - backLuma[i]!, lumaOff!) / noise[0];
    const b = beyond(blueness[i]! - backBlueness[i]!, blueOff!) / noise[1];
    const r = beyond(redness[i]! - backRedness[i]!, redOff!) / noise[2];
    const far = Math.sqrt(y * y + b * b + r * r);
    deviation[i] = far;
    if (far < ALIKE_NOISE) clearance[i] = 1;
    else if (far < DIFFERENT_NOISE)
      clearance[i] = 1 + ((reach / 2 - 1) * (far - ALIKE_NOISE)) / (DIFFERENT_NOISE - ALIKE_NOISE);
    else {
      const share = luma[i]! / Math.max(8, backLuma[i]!);
      clearance[i] = NEVER;
      sameHue[i] = 0;
      if (share < DARKEST_SHADE_SHARE || share > 1) continue;
      const blueShift = blueness[i]! - share * backBlueness[i]!;
      const redShift = redness[i]! - share * backRedness[i]!;
      const shift = Math.max(0, Math.sqrt(blueShift * blueShift + redShift * redShift) - slack);
      const allowed = SHADE_COLOR_SHARE * backLuma[i]! * Math.min(1, 1.3 - share) + noise[1];
      if (shift <= SHADE_SLACK_TIMES * allowed) clearance[i] = reach;
      if (shift <= SAME_HUE_TIMES * allowed) sameHue[i] = 1;
    }
  }
}

/** How much a difference is larger than `most`, either way. */
function beyond(difference: number, most: number): number {
  const size = difference < 0 ? -difference : difference;
  return size > most ? size - most : 0;
}

/** Fits the backdrop again to what was found to be of it and looks like it. */
export function refit(sight: Sight, goes: Uint8Array): void {
  const { planes, clearance, reach } = sight;
  const { width, height } = planes;
  const found = new Int32Array(Math.ceil(goes.length / 3));
  let count = 0;
  for (let i = 0; i < goes.length; i += 3)
    if (goes[i] === 1 && clearance[i]! < 0.55 * reach) found[count++] = i;
  if (count < 300) return;
  const fit = fitSmooth(planes, found.subarray(0, count), FULL, 6);
  if (!fit) return;
  sight.smooth = fit.smooth;
  sight.backdrop = surfaceOf(fit.smooth, width, height);
}

/**
 * On a colored backdrop: takes borders away all around which there is nothing but backdrop and its shade. They are rims of
 * shadows, however sharp.
 */
export function dropShadowRims(sight: Sight): void {
  const { borders, sameHue, planes } = sight;
  const other = floatsBy(sameHue.length, (i) => 1 - sameHue[i]!);
  const { data: near } = dilateGray({ data: other, width: planes.width, height: planes.height }, AROUND_PX);
  for (let i = 0; i < borders.length; i++) if (borders[i] === 1 && near[i] === 0) borders[i] = 0;
  measureBorders(sight);
}

/** Takes shadows for the backdrop, in less light, and their rims for no borders. */
export function takeShadows(sight: Sight, shadows: Uint8Array): void {
  const { borders, inShadow } = sight;
  for (let i = 0; i < shadows.length; i++) {
    if (shadows[i] === 0) continue;
    inShadow[i] = 1;
    borders[i] = 0;
  }
  measureBorders(sight);
  explain(sight, 1);
}

/** Whether the border is far enough from a pixel for the backdrop to go on there. */
export function isOpen({ borders, toBorder, clearance }: Sight, i: number): boolean {
  return borders[i] === 0 && toBorder[i]! > CHAMFER_UNIT * clearance[i]!;
}
