import { jpegLumaOf } from '../../color/luma';
import { lengthOf } from '../../numeric/exact';
import type { Scratch } from '../../numeric/scratch';
import type { Raster, Rect } from '../../raster/raster';
import type { Alike } from './alike';
import type { BackdropPlane } from './backdrop-plane';
import type { Stroke } from '../shapes';
import type { Rgb } from '../clear/sample-color';

// What the figures of this file rest on: docs/decisions/005-un-mixing.md

/** Estimates this near to nothing or all count as such at most, as a share of the way from B to F. */
const MOST_SLACK_SHARE = 0.14;

/** Noise where no background is certain near, encoded. */
export const USUAL_NOISE_ENCODED = 1;

/** Weight of chroma differences against luma where a picture keeps chroma at half the resolution. */
export const HALVED_CHROMA_WEIGHT = 0.08;

/** How much wider edges are in such chroma than in luma. */
const CHROMA_WIDTH_TIMES = 2.2;

/** Below FAINTEST_OPACITY the subject's color is taken whole; from there on more and more of what is left in the pixel itself. */
const FAINTEST_OPACITY = 0.02;

/** A part of a picture that edges are estimated in: all arrays cover `around`, a rectangle of `raster`. */
export interface EdgeInput {
  readonly raster: Raster;
  readonly around: Rect;
  /** 1 where Clear took a pixel away, row by row over `around`. */
  readonly cleared: Uint8Array;
  /** 1 where the pixel is known to be solid subject: no threads are looked for there. Null where nothing is known. */
  readonly solid?: Uint8Array | null;
  /** Whether the picture keeps chroma at half the resolution; see `hasHalvedChroma`. */
  readonly halvedChroma: boolean;
  /** The few colors of a drawn subject, see `drawnColors`; none where it is a photo, or nobody can tell. */
  readonly drawnColors: readonly Float64Array[];
  /** The modelled backdrop's color, where there is a model. */
  readonly backdrop: BackdropPlane | null;
  /** Whether the width of transitions can be measured: not before a pattern, whose cells have borders of their own. */
  readonly evenBackdrop: boolean;
  /** The background's color where none is certain near, as in narrow corners; null where one sample alone does not say. */
  readonly color: Rgb | null;
  /** Pixels on either side of the border that may be mixtures, as set by hand; null where it is found. */
  readonly widthPx: number | null;
  /** Strokes that were painted over fine detail, in pixels of the original, and how often `raster` was halved. */
  readonly strokes: readonly Stroke[];
  readonly reduction: number;
  /** How much of the background is taken out of colors, 0 to 1. */
  readonly spill: number;
  /** The scale at which reflections of the backdrop are looked for, see `reflectionScale`; 0 where there are none. */
  readonly reflectionScale: number;
  /** Where to note that subject and background are too alike; null where nobody asks. */
  readonly alike: Alike | null;
  readonly scratch: Scratch;
}

/** One pixel while it is solved: B, two candidates for F, the subject's color that was found, alpha and noise. */
export interface Mix {
  readonly b: Float64Array;
  readonly f: Float64Array;
  readonly g: Float64Array;
  readonly color: Float64Array;
  /** How the pixel lies on the ways to both candidates. */
  readonly first: Projection;
  readonly second: Projection;
  alpha: number;
  noise: number;
  /** Whether B and F are too alike to rely on what was found. */
  unsure: boolean;
}

export interface Projection {
  /** 0 at B, 1 at F. */
  alpha: number;
  /** How far beside the line from B to F. */
  rest: number;
  /** The same with halved chroma counting little. */
  off: number;
  /** How long that line is. */
  span: number;
  /** How much of what alpha was read from is halved chroma, 0 to 1. */
  chroma: number;
}

/** Where a projection is written to. */
export function emptyProjection(): Projection {
  return { alpha: 0, rest: 0, off: 0, span: 0, chroma: 0 };
}

/** Alpha with slack for noise over all of its range, which makes up for what compression smeared, too; not limited. */
export function stretched({ alpha, span }: Readonly<Projection>, below: number, above: number): number {
  const low = slackOf(span, below);
  return (alpha - low) / (1 - low - slackOf(span, above));
}

/** Alpha with slack at its ends alone: from twice as far on it stays as it is; not limited. */
export function withClampedEnds({ alpha, span }: Readonly<Projection>, below: number, above: number): number {
  const low = slackOf(span, below);
  const high = slackOf(span, above);
  if (alpha < 2 * low) return 2 * (alpha - low);
  if (alpha > 1 - 2 * high) return 1 - 2 * (1 - alpha - high);
  return alpha;
}

/** How near to an end counts as such, from the noise there, encoded, as a share of the way from B to F. */
function slackOf(span: number, noise: number): number {
  return Math.min(MOST_SLACK_SHARE, noise / Math.max(1, span));
}

/** By how much halved chroma makes edges wider where nobody measured it. */
export function defaultSteepness({ chroma }: Readonly<Projection>): number {
  return 1 + (CHROMA_WIDTH_TIMES - 1) * chroma;
}

/** Alpha made steeper around a half, 0 to 1. */
export function sharpened(alpha: number, steepness: number): number {
  return Math.min(1, Math.max(0, 0.5 + (alpha - 0.5) * steepness));
}

/**
 * How far along from B to F a pixel lies, into `out`, which is returned. Halved chroma counts little against luma where
 * alpha is read.
 */
export function projection(
  { raster, halvedChroma }: EdgeInput,
  p: number,
  b: Float64Array,
  f: Float64Array,
  out: Projection,
): Projection {
  const { data } = raster;
  const wayRed = f[0]! - b[0]!;
  const wayGreen = f[1]! - b[1]!;
  const wayBlue = f[2]! - b[2]!;
  const red = data[p]! - b[0]!;
  const green = data[p + 1]! - b[1]!;
  const blue = data[p + 2]! - b[2]!;
  const wayLuma = jpegLumaOf(wayRed, wayGreen, wayBlue);
  const luma = jpegLumaOf(red, green, blue);
  const wayCb = wayBlue - wayLuma;
  const wayCr = wayRed - wayLuma;
  const straight = red * wayRed + green * wayGreen + blue * wayBlue;
  const square = wayRed * wayRed + wayGreen * wayGreen + wayBlue * wayBlue;
  const ofChroma = HALVED_CHROMA_WEIGHT * (wayCb * wayCb + wayCr * wayCr);
  const length = halvedChroma ? wayLuma * wayLuma + ofChroma : square;
  const dot = halvedChroma
    ? luma * wayLuma + HALVED_CHROMA_WEIGHT * ((blue - luma) * wayCb + (red - luma) * wayCr)
    : straight;
  const alpha = length > 0 ? dot / length : 0;
  const inside = Math.min(1, Math.max(0, alpha));
  const rest = lengthOf(red - wayRed * inside, green - wayGreen * inside, blue - wayBlue * inside);
  const restLuma = luma - wayLuma * inside;
  const restBlue = blue - luma - wayCb * inside;
  const restRed = red - luma - wayCr * inside;
  const off = halvedChroma
    ? Math.sqrt(restLuma * restLuma + HALVED_CHROMA_WEIGHT * (restBlue * restBlue + restRed * restRed))
    : rest;
  out.alpha = alpha;
  out.rest = rest;
  out.off = off;
  out.span = Math.sqrt(square);
  out.chroma = halvedChroma && length > 0 ? ofChroma / length : 0;
  return out;
}

/** Sum of squares and number of the negative alphas of a rectangle of the raster's pixels, as `projection` reads them. */
export function negativeAlphas(
  { raster, halvedChroma }: EdgeInput,
  { x, y, width, height }: Rect,
  b: Float64Array,
  f: Float64Array,
): { squares: number; count: number } {
  const { data } = raster;
  const [bRed, bGreen, bBlue] = [b[0]!, b[1]!, b[2]!];
  const wayRed = f[0]! - bRed;
  const wayGreen = f[1]! - bGreen;
  const wayBlue = f[2]! - bBlue;
  const wayLuma = jpegLumaOf(wayRed, wayGreen, wayBlue);
  const wayCb = wayBlue - wayLuma;
  const wayCr = wayRed - wayLuma;
  const square = wayRed * wayRed + wayGreen * wayGreen + wayBlue * wayBlue;
  const ofChroma = HALVED_CHROMA_WEIGHT * (wayCb * wayCb + wayCr * wayCr);
  const length = halvedChroma ? wayLuma * wayLuma + ofChroma : square;
  let squares = 0;
  let count = 0;
  if (length <= 0) return { squares, count };
  for (let row = y; row < y + height; row++) {
    for (let p = (row * raster.width + x) * 4, end = p + width * 4; p < end; p += 4) {
      const red = data[p]! - bRed;
      const green = data[p + 1]! - bGreen;
      const blue = data[p + 2]! - bBlue;
      const luma = jpegLumaOf(red, green, blue);
      const dot = halvedChroma
        ? luma * wayLuma + HALVED_CHROMA_WEIGHT * ((blue - luma) * wayCb + (red - luma) * wayCr)
        : red * wayRed + green * wayGreen + blue * wayBlue;
      if (dot >= 0) continue;
      const alpha = dot / length;
      squares += alpha * alpha;
      count++;
    }
  }
  return { squares, count };
}

/** Takes the background's share out of a pixel's color; the fainter it is, the more the subject's color counts. */
export function takeOut(data: Uint8Array, p: number, { alpha, b, color }: Mix, subject: Float64Array): void {
  const share = Math.min(1, Math.max(0, alpha * 2 - 0.4));
  for (let c = 0; c < 3; c++) {
    const own = alpha > FAINTEST_OPACITY ? (data[p + c]! - (1 - alpha) * b[c]!) / alpha : subject[c]!;
    color[c] = Math.min(255, Math.max(0, subject[c]! + (own - subject[c]!) * share));
  }
}
