import { CHROMA_WEIGHT, colorDistance, labOf, type Lab } from '../../color/oklab';
import type { Raster } from '../../raster/raster';

/** Steps of a stored distance per unit of tolerance. */
export const STEPS_PER_UNIT = 20;

/** The largest stored distance: tolerance 100. */
export const MAX_LEVEL = 100 * STEPS_PER_UNIT;

/** Tolerance 0 to 100 -> the largest stored distance that it clears. */
export function toleranceLevel(tolerance: number): number {
  return Math.floor(tolerance * STEPS_PER_UNIT + 1e-6);
}

/** How much darker and lighter than the backdrop still counts as backdrop, in units of tolerance. */
export interface Shade {
  readonly darker: number;
  readonly lighter: number;
}

/** What the backdrop's color is in each pixel of one row, whose own lightness is given; see `distanceToModel`. */
export type RowModel = (
  y: number,
  lightness: Float32Array,
  a: Float32Array,
  b: Float32Array,
  own: Float32Array,
) => void;

/** How much more a change of hue counts in the shade: a shadow keeps the hue, a gray part of the subject seldom does. */
const SHADE_HUE = 2;

/** Colors remembered at a time while distances are computed; a power of two. */
const MEMO = 1 << 14;

/**
 * Writes the perceptual distance of the pixels `from` up to `to` (indices) to `color` into `out`, in steps of
 * 1 / STEPS_PER_UNIT, rounded, at most MAX_LEVEL, each with the bits of `mark` set. Fully transparent pixels have no
 * color: their distance is 0. Same measure as `colorDistance`; colors met lately are looked up in a small memo.
 */
export function distanceLevels(
  raster: Raster,
  color: Lab,
  from: number,
  to: number,
  mark: number,
  out: Uint16Array,
): void {
  const { data } = raster;
  const memoKeys = new Int32Array(MEMO).fill(-1);
  const memoLevels = new Uint16Array(MEMO);
  for (let i = from, p = from * 4; i < to; i++, p += 4) {
    if (data[p + 3] === 0) {
      out[i] = mark;
      continue;
    }
    const key = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
    const slot = (key ^ (key >> 7) ^ (key >> 13)) & (MEMO - 1);
    if (memoKeys[slot] !== key) {
      memoKeys[slot] = key;
      memoLevels[slot] = Math.round(
        colorDistance(labOf(key >> 16, (key >> 8) & 255, key & 255), color) * STEPS_PER_UNIT,
      );
    }
    out[i] = memoLevels[slot]! | mark;
  }
}

type ThreeRows = readonly [Float32Array, Float32Array, Float32Array];

/** Rows of the comparison space around the one that is worked on, of the picture or of the backdrop's model. */
interface LabRows {
  readonly lightness: ThreeRows;
  readonly a: ThreeRows;
  readonly b: ThreeRows;
}

/**
 * The same for the rows `fromRow` up to `toRow` and a backdrop that differs from place to place, with a shade
 * allowance. A color that is the backdrop's, only darker or lighter within the allowance (on the line through black in
 * the comparison space), has the distance to that line instead, but no less than the steepness of lightness there
 * against the backdrop's own, in units per pixel: a shadow rises slowly, a subject's edge does not, so a gray subject is
 * not taken for a shadow.
 */
export function distanceToModel(
  raster: Raster,
  model: RowModel,
  shade: Shade,
  fromRow: number,
  toRow: number,
  mark: number,
  out: Uint16Array,
): void {
  const { width, height, data } = raster;
  const rows = labRows(width);
  const targets = labRows(width);
  const load = (y: number) => {
    if (y < 0 || y >= height) return;
    const k = (y % 3) as 0;
    loadRow(data, width, y, rows);
    model(y, targets.lightness[k], targets.a[k], targets.b[k], rows.lightness[k]);
  };
  load(fromRow - 1);
  load(fromRow);
  for (let y = fromRow; y < toRow; y++) {
    load(y + 1);
    levelsOfRow(raster, y, rows, targets, shade, mark, out);
  }
}

function levelsOfRow(
  { width, height, data }: Raster,
  y: number,
  rows: LabRows,
  targets: LabRows,
  shade: Shade,
  mark: number,
  out: Uint16Array,
): void {
  const here = (y % 3) as 0;
  const above = (y > 0 ? (y + 2) % 3 : here) as 0;
  const below = (y < height - 1 ? (y + 1) % 3 : here) as 0;
  const light = rows.lightness[here];
  const target = targets.lightness[here];
  const allowed = shade.darker > 0 || shade.lighter > 0;
  const ratio = (row: 0, x: number) => rows.lightness[row][x]! / Math.max(0.05, targets.lightness[row][x]!);
  for (let x = 0, i = y * width; x < width; x++, i++) {
    if (data[i * 4 + 3] === 0) {
      out[i] = mark;
      continue;
    }
    const l = light[x]!;
    const a = rows.a[here][x]! * CHROMA_WEIGHT;
    const b = rows.b[here][x]! * CHROMA_WEIGHT;
    const tl = target[x]!;
    const ta = targets.a[here][x]! * CHROMA_WEIGHT;
    const tb = targets.b[here][x]! * CHROMA_WEIGHT;
    let distance = Math.sqrt((l - tl) * (l - tl) + (a - ta) * (a - ta) + (b - tb) * (b - tb)) * 100;
    const length = tl * tl + ta * ta + tb * tb;
    if (allowed && length > 0.01) {
      const along = (l * tl + a * ta + b * tb) / length;
      const moved = (along - 1) * Math.sqrt(length) * 100;
      const beyond = moved < 0 ? Math.max(0, -moved - shade.darker) : Math.max(0, moved - shade.lighter);
      const dl = l - along * tl;
      const da = a - along * ta;
      const db = b - along * tb;
      const hue = (dl * dl + da * da + db * db) * 10_000 * SHADE_HUE * SHADE_HUE;
      const aside = Math.sqrt(hue + beyond * beyond);
      if (aside < distance) {
        const own = ratio(here, x);
        const sides = Math.max(
          Math.abs(ratio(here, x > 0 ? x - 1 : x) - own),
          Math.abs(ratio(here, x < width - 1 ? x + 1 : x) - own),
        );
        const steep = Math.max(sides, Math.abs(ratio(above, x) - own), Math.abs(ratio(below, x) - own));
        distance = Math.min(distance, Math.max(aside, 100 * tl * steep));
      }
    }
    const level = Math.round(distance * STEPS_PER_UNIT);
    out[i] = (level > MAX_LEVEL ? MAX_LEVEL : level) | mark;
  }
}

function labRows(width: number): LabRows {
  const three = () => [new Float32Array(width), new Float32Array(width), new Float32Array(width)] as const;
  return { lightness: three(), a: three(), b: three() };
}

function loadRow(data: Uint8Array, width: number, y: number, rows: LabRows): void {
  const lightness = rows.lightness[(y % 3) as 0];
  const rowA = rows.a[(y % 3) as 0];
  const rowB = rows.b[(y % 3) as 0];
  let lastKey = -1;
  let lab: Lab = { lightness: 0, a: 0, b: 0 };
  for (let x = 0, p = y * width * 4; x < width; x++, p += 4) {
    const key = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
    if (key !== lastKey) {
      lastKey = key;
      lab = labOf(data[p]!, data[p + 1]!, data[p + 2]!);
    }
    lightness[x] = lab.lightness;
    rowA[x] = lab.a;
    rowB[x] = lab.b;
  }
}
