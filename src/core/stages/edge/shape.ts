import type { Plane } from '../../raster/plane';
import type { Cut } from '../../cut/schema';
import { lengthOf, square } from '../../numeric/exact';
import { LastSearch, offsetsWithin, startsOf } from '../../numeric/ring';
import { clipRect, copyPixels, growRect, type Raster, type Rect } from '../../raster/raster';
import { between, profileAt, signedDistance, type SignedDistance } from './signed-distance';

/** How the edge is shaped, in pixels of the raster at hand. */
export interface Shaping {
  /** How far the edge is moved, outward where positive. */
  readonly offsetPx: number;
  /** Width over which a sharp edge passes from nothing to all; 0 leaves it. */
  readonly softnessPx: number;
  /** How much of stair-steps and wobble is ironed out, and how steep the transition is made; 0 to 1. */
  readonly evenness: number;
  readonly firmness: number;
  /** How far the distance to the edge is averaged for evenness. */
  readonly evenPx: number;
}

/** Alpha, 0 to 1. */
type AlphaPlane = Plane<Float32Array<ArrayBuffer>>;

// What the figures of this file rest on: docs/decisions/006-shaping-edges.md

/** Transitions up to twice as wide as this are moved whole. */
const SOFT_PX = 4;

/** Evenness averages the distance to the edge over this far, in pixels of the original. */
const EVEN_PX = 5;

/** It moves the edge by up to so much, wholly up to LEAST and not at all from MOST on: what is more is the subject's shape. */
const LEAST_MOVED_PX = 0.55;
const MOST_MOVED_PX = 1.1;

/** Where the averaged distance rises by less than this per pixel there is a corner or a thin part. */
const CORNER_SLOPE = 0.72;
const STRAIGHT_SLOPE = 0.92;

/** The shaping of a cut at a size; null where it changes nothing. */
export function shapingOf({ edge }: Cut, reduction: number): Shaping | null {
  const { offsetPx, softnessPx, evenness, firmness } = edge;
  if (offsetPx === 0 && softnessPx === 0 && evenness === 0 && firmness === 0) return null;
  const scale = 1 / (1 << reduction);
  return {
    offsetPx: offsetPx * scale,
    softnessPx: softnessPx * scale,
    evenness: evenness / 100,
    firmness: firmness / 100,
    evenPx: evenness > 0 ? EVEN_PX * scale : 0,
  };
}

/** How far around a part its surroundings matter to its shaping, in pixels. */
export function shapeMargin(shaping: Shaping): number {
  // What a pixel becomes is read at a place moved or averaged, where an edge counts up to the limit away; a pixel of the
  // edge is measured by its neighbors.
  const { offsetPx, softnessPx, evenPx } = shaping;
  return Math.ceil(limitOf(shaping) + Math.abs(offsetPx) + evenPx + softnessPx / 2) + 6;
}

function limitOf({ offsetPx, evenPx }: Shaping): number {
  return Math.abs(offsetPx) + SOFT_PX + evenPx;
}

/** Side of the squares that are shaped one by one; those without an edge near need no work. */
const TILE_PX = 128;

/**
 * Shapes the edge of a cutout. `wide` is the cutout over `around`, which is `shapeMargin` wider than `rect` except at
 * the picture's own border; the result for `rect` goes to `out`, whose size is that of `rect`. Alpha is moved by its
 * signed distance; what the edge's own profile does not explain (an uneven transition) moves along with it. Pixels that
 * appear take the color of the nearest pixel of the edge, where nothing is seen of that the nearest color that is seen; what
 * stands under alpha 0 is never read.
 */
export function shapeInto(wide: Raster, around: Rect, rect: Rect, out: Raster, shaping: Shaping): void {
  const margin = shapeMargin(shaping);
  for (let y = 0; y < rect.height; y += TILE_PX) {
    for (let x = 0; x < rect.width; x += TILE_PX) {
      const tile: Rect = {
        x: rect.x - around.x + x,
        y: rect.y - around.y + y,
        width: Math.min(TILE_PX, rect.width - x),
        height: Math.min(TILE_PX, rect.height - y),
      };
      shapeTile(wide, tile, margin, out, x, y, shaping);
    }
  }
}

/** Shapes the part `tile` of `wide` into `out` at (left, top). */
function shapeTile(
  wide: Raster,
  tile: Rect,
  margin: number,
  out: Raster,
  left: number,
  top: number,
  shaping: Shaping,
): void {
  const { data } = wide;
  const part = clipRect(growRect(tile, margin), wide.width, wide.height);
  if (isPlain(wide, part)) {
    copyPixels(wide, tile, tile, out, { x: left, y: top });
    return;
  }
  const { width, height } = part;
  const found: AlphaPlane = { data: alphaOf(wide, part), width, height };
  const field = signedDistance(found, limitOf(shaping));
  const alpha = shapedAlpha(found, field, shaping);
  const near = new NearestSeen(wide, margin);
  for (let y = 0; y < tile.height; y++) {
    const row = tile.y + y;
    let p = (row * wide.width + tile.x) * 4;
    let q = ((top + y) * out.width + left) * 4;
    let i = (row - part.y) * width + tile.x - part.x;
    for (let x = 0; x < tile.width; x++, p += 4, q += 4, i++) {
      const value = Math.round(alpha[i]! * 255);
      const appears = data[p + 3] === 0 && value > 0;
      const from = appears ? lenderOf(wide, part, field.nearest[i]!, near, tile.x + x, row) : p;
      for (let c = 0; c < 3; c++) out.data[q + c] = from < 0 ? 0 : data[from + c]!;
      out.data[q + 3] = from < 0 ? 0 : value;
    }
  }
}

/** Whether alpha is the same all over a part. */
function isPlain({ width, data }: Raster, part: Rect): boolean {
  const first = data[(part.y * width + part.x) * 4 + 3];
  for (let y = part.y; y < part.y + part.height; y++)
    for (let p = (y * width + part.x) * 4 + 3, end = p + part.width * 4; p < end; p += 4)
      if (data[p] !== first) return false;
  return true;
}

function alphaOf({ width, data }: Raster, part: Rect): Float32Array<ArrayBuffer> {
  const alpha = new Float32Array(part.width * part.height);
  for (let y = 0, i = 0; y < part.height; y++) {
    let p = ((part.y + y) * width + part.x) * 4 + 3;
    for (let x = 0; x < part.width; x++, p += 4, i++) alpha[i] = data[p]! / 255;
  }
  return alpha;
}

function shapedAlpha(
  original: AlphaPlane,
  field: SignedDistance,
  shaping: Shaping,
): Float32Array<ArrayBuffer> {
  const { offsetPx, softnessPx, evenness, firmness } = shaping;
  let alpha = original;
  if (offsetPx !== 0 || evenness > 0) alpha = moved(alpha, field, shaping);
  if (softnessPx > 0) alpha = averaged(alpha, weightsWithin(softnessPx / 2));
  return firmness > 0 ? firmed(alpha.data, firmness) : alpha.data;
}

/**
 * Where the pixel lies in `wide` that lends its color to one at (x, y) that was clear: `nearest` is an index in `part`. -1
 * where none is near.
 */
function lenderOf(
  wide: Raster,
  part: Rect,
  nearest: number,
  seen: NearestSeen,
  x: number,
  y: number,
): number {
  if (nearest >= 0) {
    const u = nearest % part.width;
    const from = ((part.y + (nearest - u) / part.width) * wide.width + part.x + u) * 4;
    if (wide.data[from + 3]! > 0) return from;
  }
  return seen.at(x, y);
}

/** Rings by their radius, with where to begin in them by distance. */
const RINGS = new Map<number, { readonly offsets: Int8Array; readonly starts: Int32Array }>();

function ringOf(radius: number) {
  let ring = RINGS.get(radius);
  if (!ring) {
    const offsets = offsetsWithin(radius);
    RINGS.set(radius, (ring = { offsets, starts: startsOf(offsets, radius) }));
  }
  return ring;
}

/** Finds the pixels nearest to others of which something is seen, no farther than a radius. */
class NearestSeen {
  private readonly last = new LastSearch();

  constructor(
    private readonly raster: Raster,
    private readonly radius: number,
  ) {}

  /** Where it lies in the raster's data; -1 where there is none. Ties in a fixed order. */
  at(x: number, y: number): number {
    const { last, radius } = this;
    const { width, height, data } = this.raster;
    const { offsets, starts } = ringOf(radius);
    for (let k = 2 * starts[last.leastFrom(x, y)]!; k < offsets.length; k += 2) {
      const u = x + offsets[k]!;
      const v = y + offsets[k + 1]!;
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const p = (v * width + u) * 4;
      if (data[p + 3] === 0) continue;
      last.note(x, y, lengthOf(offsets[k]!, offsets[k + 1]!));
      return p;
    }
    last.note(x, y, radius);
    return -1;
  }
}

function firmed(alpha: Float32Array<ArrayBuffer>, firmness: number): Float32Array<ArrayBuffer> {
  if (firmness >= 1) return alpha.map((value) => (value >= 0.5 ? 1 : 0));
  const steepness = 1 / (1 - firmness);
  return alpha.map((value) => Math.min(1, Math.max(0, 0.5 + (value - 0.5) * steepness)));
}

/** Alpha with its edge evened and moved. */
function moved(
  { data: alpha, width, height }: AlphaPlane,
  field: SignedDistance,
  { offsetPx, evenness, evenPx }: Shaping,
): AlphaPlane {
  const { nearest, inwardX, inwardY } = field;
  const planeOf = (data: Float32Array) => ({ data, width, height });
  const distance = planeOf(field.distance);
  const even = evenness > 0 ? averaged(distance, weightsWithin(evenPx)) : null;
  const rest = planeOf(new Float32Array(alpha.length));
  for (let i = 0; i < alpha.length; i++) {
    const e = nearest[i]!;
    if (e >= 0) rest.data[i] = alpha[i]! - profileAt(field, e, field.distance[i]!);
  }
  const out = Float32Array.from(alpha);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const e = nearest[i]!;
      if (e < 0) continue;
      const nx = inwardX[e]!;
      const ny = inwardY[e]!;
      const shift = even ? evenness * ironed(even, distance, x, y) : 0;
      const left = between(rest, x + offsetPx * nx, y + offsetPx * ny);
      out[i] = Math.min(1, Math.max(0, profileAt(field, e, field.distance[i]! + shift + offsetPx) + left));
    }
  }
  return { data: out, width, height };
}

/** How far evenness moves the edge at a pixel: not at corners and thin parts, and not by more than a step is high. */
function ironed(even: Plane<Float32Array>, distance: Plane<Float32Array>, x: number, y: number): number {
  const i = y * even.width + x;
  const shift = even.data[i]! - distance.data[i]!;
  const dx = between(even, x + 1, y) - between(even, x - 1, y);
  const dy = between(even, x, y + 1) - between(even, x, y - 1);
  const rise = Math.sqrt(dx * dx + dy * dy) / 2;
  const straight = Math.min(1, Math.max(0, (rise - CORNER_SLOPE) / (STRAIGHT_SLOPE - CORNER_SLOPE)));
  const small = Math.min(
    1,
    Math.max(0, (MOST_MOVED_PX - Math.abs(shift)) / (MOST_MOVED_PX - LEAST_MOVED_PX)),
  );
  return shift * straight * small;
}

/** Places at which a kernel is sampled on either side. */
const KERNEL_SAMPLES = 64;

/**
 * Weights of the pixels from the middle outward, sum 1 over both sides: a biweight of that radius between pixels that
 * are interpolated, so that small radii count too. Made without exponentials.
 */
function weightsWithin(radiusPx: number): Float64Array {
  const weights = new Float64Array(Math.ceil(radiusPx) + 1);
  let sum = 0;
  for (let k = -KERNEL_SAMPLES; k <= KERNEL_SAMPLES; k++) {
    const u = k / (KERNEL_SAMPLES + 0.5);
    const weight = square(1 - u * u);
    const at = Math.abs(u * radiusPx);
    const low = Math.floor(at);
    weights[low]! += weight * (1 - at + low);
    if (low + 1 < weights.length) weights[low + 1]! += weight * (at - low);
    sum += weight;
  }
  return weights.map((weight, k) => weight / (k === 0 ? sum : 2 * sum));
}

/** A plane averaged across and down with weights from the middle outward; its border goes on outside. */
function averaged({ data: plane, width, height }: Plane<Float32Array>, weights: Float64Array): AlphaPlane {
  const reach = weights.length - 1;
  const across = new Float32Array(plane.length);
  const padded = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    padded.fill(plane[start]!, 0, reach);
    padded.set(plane.subarray(start, start + width), reach);
    padded.fill(plane[start + width - 1]!, reach + width);
    for (let x = 0, at = reach; x < width; x++, at++) {
      let sum = padded[at]! * weights[0]!;
      for (let k = 1; k <= reach; k++) sum += (padded[at - k]! + padded[at + k]!) * weights[k]!;
      across[start + x] = sum;
    }
  }
  const out = new Float32Array(plane.length);
  const sums = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    for (let x = 0; x < width; x++) sums[x] = across[start + x]! * weights[0]!;
    for (let k = 1; k <= reach; k++) {
      const up = Math.max(0, y - k) * width;
      const down = Math.min(height - 1, y + k) * width;
      for (let x = 0; x < width; x++) sums[x]! += (across[up + x]! + across[down + x]!) * weights[k]!;
    }
    out.set(sums, start);
  }
  return { data: out, width, height };
}
