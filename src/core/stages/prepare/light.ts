import type { Plane } from '../../raster/plane';
import { lumaOf } from '../../color/luma';
import { closeGray } from '../../numeric/morphology';
import { blurBox } from '../../numeric/box';
import { labelRuns } from '../../numeric/label';
import { quantile } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';
import { halve, halvingsTo, type Reduced } from '../../raster/reduce';
import type { Rgb } from '../clear/sample-color';

/** The bare paper of a picture: what it would show without ink, at a reduced size. */
export interface Light {
  readonly width: number;
  readonly height: number;
  readonly reduction: number;
  /** Red, green and blue of the paper at each place, encoded sRGB, 0 to 255. */
  readonly channels: readonly [Float32Array, Float32Array, Float32Array];
  /** The paper where it is well lit: what flattening brings all of it to. */
  readonly paper: Rgb;
}

/** Paper of the same color everywhere. */
export function evenLight(paper: Rgb): Light {
  const { red, green, blue } = paper;
  return {
    width: 1,
    height: 1,
    reduction: 31,
    channels: [Float32Array.of(red), Float32Array.of(green), Float32Array.of(blue)],
    paper,
  };
}

/** Where the paper of a pixel of the original stands in the channels. */
export function lightIndex(light: Light, x: number, y: number): number {
  return (y >> light.reduction) * light.width + (x >> light.reduction);
}

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Pixels at which paper is estimated. */
const LIGHT_PIXELS = 300_000;

/** Strokes are at most this wide, as a share of the picture's shorter side, and never less than LEAST_PX. */
const STROKE_SHARE = 1 / 26;
const LEAST_PX = 5;

/** How much darker than what surrounds it, as a share, a pixel may be and still count as bare paper. */
const BARE_SHARE = 0.05;

/** The ratio of paper to its first estimate is averaged over this many pixels around a place. */
const AROUND_PX = 5;

/** Nothing darker than this share of the well lit paper is taken for paper. */
const DARKEST_SHARE = 0.3;

/** The share of the paper that is darker than what counts as well lit. */
const WELL_LIT_SHARE = 0.8;

/**
 * Estimates the bare paper: a grayscale closing (maximum, then minimum; Serra, 1982) wider than any stroke fills the ink
 * and keeps the borders of shadows where they are, also hard ones; then the mean of what is bare around each place takes
 * out the closing's leaning to bright grain.
 */
export function estimateLight(picture: Reduced): Light {
  let { raster, reduction } = picture;
  for (let k = halvingsTo(LIGHT_PIXELS, raster.width, raster.height); k > 0; k--, reduction++)
    raster = halve(raster);
  const { width, height } = raster;
  const radius = Math.max(LEAST_PX, Math.round(Math.min(width, height) * STROKE_SHARE * 0.5));
  const channels = [0, 1, 2].map((c) => paperOf({ data: channelOf(raster, c), width, height }, radius));
  keepShadedBorder(raster, channels);
  const lumas = lumaPlane(channels);
  const paper = wellLit(channels, lumas);
  const least = DARKEST_SHARE * lumaOf(paper.red, paper.green, paper.blue);
  for (let i = 0; i < lumas.length; i++) {
    if (lumas[i]! >= least) continue;
    channels[0]![i] = paper.red;
    channels[1]![i] = paper.green;
    channels[2]![i] = paper.blue;
  }
  return { width, height, reduction, channels: channels as unknown as Light['channels'], paper };
}

function lumaPlane([red, green, blue]: readonly Float32Array[]): Float32Array {
  const out = new Float32Array(red!.length);
  for (let i = 0; i < out.length; i++) out[i] = lumaOf(red![i]!, green![i]!, blue![i]!);
  return out;
}

/** Ink is at most this share of the paper around it, where it lies broad on the picture's border. */
const DARK_INK_SHARE = 0.42;

/** A part that is as broad as this all around one of its pixels is no stroke. */
const BROAD_PX = 2;
const BROAD_SHARE = 0.95;

/** A shadow's tip runs out so far from where it is broad. */
const TIP_PX = 12;

/**
 * The tip of a shadow at the picture's border is too small for a closing to leave it: what is broad, not as dark as ink and
 * touches the border is paper as it is.
 */
function keepShadedBorder(raster: Raster, channels: readonly Float32Array[]): void {
  const { width, height } = raster;
  const own = [0, 1, 2].map((c) => blurBox({ data: channelOf(raster, c), width, height }, 1));
  const seen = lumaPlane(own);
  const paper = lumaPlane(channels);
  const shaded = new Uint8Array(seen.length);
  for (let i = 0; i < seen.length; i++) {
    const ratio = seen[i]! / Math.max(1, paper[i]!);
    if (ratio < 1 - BARE_SHARE && ratio > DARK_INK_SHARE) shaded[i] = 1;
  }
  const shares = blurBox({ data: shaded, width, height }, BROAD_PX);
  const cores = new Uint8Array(seen.length);
  for (let y = BROAD_PX; y < height - BROAD_PX; y++)
    for (let x = BROAD_PX, i = y * width + x; x < width - BROAD_PX; x++, i++)
      if (shares[i]! >= BROAD_SHARE) cores[i] = 1;
  const parts = labelRuns({ data: cores, width, height }, 1);
  const touches = new Uint8Array(parts.areas.length);
  const near = BROAD_PX + 2;
  parts.forEachRun((part, start, length) => {
    const y = Math.floor(start / width);
    const x = start - y * width;
    if (Math.min(x, y, width - x - length, height - 1 - y) <= near) touches[part] = 1;
  });
  if (!touches.includes(1)) return;
  cores.fill(0);
  parts.forEachRun((part, start, length) => {
    if (touches[part] === 1) cores.fill(1, start, start + length);
  });
  const around = blurBox({ data: cores, width, height }, TIP_PX);
  for (let i = 0; i < seen.length; i++) {
    if (around[i] === 0 || shaded[i] === 0) continue;
    for (let c = 0; c < 3; c++) channels[c]![i] = own[c]![i]!;
  }
}

function channelOf({ data }: Raster, c: number): Float32Array {
  const plane = new Float32Array(data.length >> 2);
  for (let i = 0, p = c; i < plane.length; i++, p += 4) plane[i] = data[p]!;
  return plane;
}

function paperOf({ data: plane, width, height }: Plane<Float32Array>, radius: number): Float32Array {
  const smooth = blurBox({ data: plane, width, height }, 1);
  const { data: closed } = closeGray({ data: smooth, width, height }, radius);
  const ratios = new Float32Array(plane.length);
  const bare = new Float32Array(plane.length);
  for (let i = 0; i < plane.length; i++) {
    const ratio = smooth[i]! / Math.max(1, closed[i]!);
    if (ratio < 1 - BARE_SHARE) continue;
    bare[i] = 1;
    ratios[i] = ratio;
  }
  const sums = blurBox({ data: ratios, width, height }, AROUND_PX);
  const counts = blurBox({ data: bare, width, height }, AROUND_PX);
  for (let i = 0; i < plane.length; i++) closed[i]! *= counts[i]! > 0.01 ? sums[i]! / counts[i]! : 1;
  return closed;
}

/** The color of the paper where it is about as light as most of the lit part. */
function wellLit(channels: readonly Float32Array[], lumas: Float32Array): Rgb {
  const step = Math.max(1, Math.floor(lumas.length / 20_000));
  const some = Array.from({ length: Math.ceil(lumas.length / step) }, (_, k) => k * step);
  const limit = quantile(
    some.map((i) => lumas[i]!),
    WELL_LIT_SHARE,
  );
  const near = some.filter((i) => Math.abs(lumas[i]! - limit) <= 2);
  const mean = (c: number) => near.reduce((sum, i) => sum + channels[c]![i]!, 0) / near.length;
  return { red: mean(0), green: mean(1), blue: mean(2) };
}

/**
 * Divides the light out of rows `from` up to `to` of `out`. `placeOf` fills in where in the original the pixels of a row lie.
 */
export function flattenRows(
  out: Raster,
  light: Gains,
  placeOf: (row: number, xs: Float64Array, ys: Float64Array) => void,
  from: number,
  to: number,
): void {
  const { width, data } = out;
  const xs = new Float64Array(width);
  const ys = new Float64Array(width);
  const unit = 1 << light.reduction;
  const [reds, greens, blues] = light.channels;
  const right = light.width > 1 ? 1 : 0;
  const below = light.height > 1 ? light.width : 0;
  const lastX = Math.max(0, light.width - 2);
  const lastY = Math.max(0, light.height - 2);
  for (let y = from; y < to; y++) {
    placeOf(y, xs, ys);
    for (let x = 0, p = y * width * 4; x < width; x++, p += 4) {
      const lx = Math.min(light.width - 1, Math.max(0, xs[x]! / unit - 0.5));
      const ly = Math.min(light.height - 1, Math.max(0, ys[x]! / unit - 0.5));
      const i = Math.min(lastX, Math.floor(lx));
      const j = Math.min(lastY, Math.floor(ly));
      const u = lx - i;
      const v = ly - j;
      const k = j * light.width + i;
      const w0 = (1 - u) * (1 - v);
      const w1 = u * (1 - v);
      const w2 = (1 - u) * v;
      const w3 = u * v;
      const k1 = k + right;
      const k2 = k + below;
      const k3 = k2 + right;
      const red = data[p]! * (reds[k]! * w0 + reds[k1]! * w1 + reds[k2]! * w2 + reds[k3]! * w3) + 0.5;
      const green =
        data[p + 1]! * (greens[k]! * w0 + greens[k1]! * w1 + greens[k2]! * w2 + greens[k3]! * w3) + 0.5;
      const blue =
        data[p + 2]! * (blues[k]! * w0 + blues[k1]! * w1 + blues[k2]! * w2 + blues[k3]! * w3) + 0.5;
      data[p] = red > 255 ? 255 : red;
      data[p + 1] = green > 255 ? 255 : green;
      data[p + 2] = blue > 255 ? 255 : blue;
    }
  }
}

/** Factors for every place of a light. */
export type Gains = Omit<Light, 'paper'>;

/** What each place of a light is multiplied by to become well lit paper; `strength` 0 to 1. */
export function gainsOf(light: Light, strength: number): Gains {
  const { channels, paper } = light;
  const wanted = [paper.red, paper.green, paper.blue];
  const gains = channels.map((plane, c) => {
    const out = new Float32Array(plane.length);
    for (let i = 0; i < out.length; i++) out[i] = 1 + strength * (wanted[c]! / Math.max(1, plane[i]!) - 1);
    return out;
  });
  return { ...light, channels: gains as unknown as Light['channels'] };
}
