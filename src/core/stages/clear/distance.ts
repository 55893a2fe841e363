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

/** One row of the comparison space. */
export interface LabRow {
  readonly lightness: Float32Array;
  readonly a: Float32Array;
  readonly b: Float32Array;
}

/** One row of a backdrop's model; `low` and `high` bound the lightness it may have, and are `lightness` where it is certain. */
export interface ModelRow extends LabRow {
  readonly low: Float32Array;
  readonly high: Float32Array;
}

/** What the backdrop's color is in every pixel; see `distanceToModel`. */
export interface BackdropModel {
  /** Whether `low` and `high` are filled; otherwise they are the same arrays as `lightness`. */
  readonly bounds: boolean;
  /** Fills row `y` from column `from` up to `to` at least; `own` is the picture's lightness there. */
  fill(y: number, row: ModelRow, own: Float32Array, from: number, to: number): void;
}

/** Stretches of a row: from where up to where, and so on, rising and apart. */
export type Spans = readonly number[];

/** The stretches of a row that are asked for; rows that share them give the same list. */
export type SpansOf = (y: number) => Spans;

/** How much more a change of hue counts in the shade: a shadow keeps the hue, a gray part of the subject seldom does. */
const SHADE_HUE_TIMES = 2;

/** Colors remembered at a time while distances are computed; a power of two. */
const MEMO_COLORS = 1 << 14;

/** Distances of colors met lately to one color. */
export interface ColorMemo {
  readonly keys: Int32Array;
  readonly levels: Uint16Array;
}

export function colorMemo(): ColorMemo {
  return { keys: new Int32Array(MEMO_COLORS).fill(-1), levels: new Uint16Array(MEMO_COLORS) };
}

/**
 * Writes the perceptual distance of the pixels `from` up to `to` (indices) to `color` into `out`, in steps of
 * 1 / STEPS_PER_UNIT, rounded, at most MAX_LEVEL, each with the bits of `mark` set. Fully transparent pixels have no
 * color: their distance is 0. Same measure as `colorDistance`; colors met lately are looked up in a small memo, which
 * belongs to `color` and may be kept from one call to the next.
 */
export function distanceLevels(
  raster: Raster,
  color: Lab,
  from: number,
  to: number,
  mark: number,
  out: Uint16Array,
  memo: ColorMemo = colorMemo(),
): void {
  const { data } = raster;
  const { keys: memoKeys, levels: memoLevels } = memo;
  for (let i = from, p = from * 4; i < to; i++, p += 4) {
    if (data[p + 3] === 0) {
      out[i] = mark;
      continue;
    }
    const key = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
    const slot = (key ^ (key >> 7) ^ (key >> 13)) & (MEMO_COLORS - 1);
    if (memoKeys[slot] !== key) {
      memoKeys[slot] = key;
      memoLevels[slot] = Math.round(
        colorDistance(labOf(key >> 16, (key >> 8) & 255, key & 255), color) * STEPS_PER_UNIT,
      );
    }
    out[i] = memoLevels[slot]! | mark;
  }
}

/**
 * The same for the rows `fromRow` up to `toRow` and a backdrop that differs from place to place, with a shade
 * allowance. A color that is the backdrop's, only darker or lighter within the allowance (on the line through black in
 * the comparison space), has the distance to that line instead, but no less than the steepness of lightness there
 * against the backdrop's own, in units per pixel: a shadow rises slowly, a subject's edge does not, so a gray subject is
 * not taken for a shadow. Where `spansOf` is given, what lies outside of its stretches is left as it is.
 */
export function distanceToModel(
  raster: Raster,
  model: BackdropModel,
  shade: Shade,
  fromRow: number,
  toRow: number,
  mark: number,
  out: Uint16Array,
  spansOf?: SpansOf,
): void {
  const { width, height, data } = raster;
  const whole: Spans = [0, width];
  const own = [labRow(width), labRow(width), labRow(width)];
  const target = [0, 1, 2].map(() => modelRow(width, model.bounds));
  const shares = [0, 1, 2].map(() => shareRow(width, model.bounds));
  const allowed = shade.darker > 0 || shade.lighter > 0;
  const load = (y: number, spans: Spans) => {
    if (y < 0 || y >= height) return;
    const k = y % 3;
    for (let s = 0; s < spans.length; s += 2) {
      // Steepness looks at the pixels beside, too.
      const from = allowed ? Math.max(0, spans[s]! - 1) : spans[s]!;
      const to = allowed ? Math.min(width, spans[s + 1]! + 1) : spans[s + 1]!;
      loadRow(data, width, y, own[k]!, from, to);
      model.fill(y, target[k]!, own[k]!.lightness, from, to);
      if (allowed) fillShares(own[k]!.lightness, target[k]!, shares[k]!, from, to);
    }
  };
  const steep = new Float32Array(width);
  let loaded: Spans | null = null;
  for (let y = fromRow; y < toRow; y++) {
    const spans = spansOf?.(y) ?? whole;
    if (allowed && loaded !== spans) {
      load(y - 1, spans);
      load(y, spans);
    }
    loaded = spans;
    load(allowed ? y + 1 : y, spans);
    const here = shares[y % 3]!;
    for (let s = 0; s < spans.length; s += 2) {
      const from = spans[s]!;
      const to = spans[s + 1]!;
      if (allowed)
        steepness(
          here,
          y > 0 ? shares[(y - 1) % 3]! : here,
          y < height - 1 ? shares[(y + 1) % 3]! : here,
          steep,
          from,
          to,
        );
      const allowance = allowed ? { shade, steep } : null;
      levelsOfRow(data, y * width, own[y % 3]!, target[y % 3]!, allowance, mark, out, from, to);
    }
  }
}

/** Bounds of the pixels' lightness as a share of the backdrop's: their shade. One array where both are the same. */
interface ShareRow {
  readonly least: Float32Array;
  readonly most: Float32Array;
}

function shareRow(width: number, bounds: boolean): ShareRow {
  const least = new Float32Array(width);
  return { least, most: bounds ? new Float32Array(width) : least };
}

function fillShares(
  lightness: Float32Array,
  { low, high }: ModelRow,
  { least, most }: ShareRow,
  from: number,
  to: number,
): void {
  for (let x = from; x < to; x++) least[x] = lightness[x]! / (high[x]! + DARKEST_SHARE);
  if (most === least) return;
  for (let x = from; x < to; x++) most[x] = lightness[x]! / (low[x]! + DARKEST_SHARE);
}

/** How far the shade of each pixel of a row is from that of its four neighbors at most; `here` stands for a row that is not there. */
function steepness(
  here: ShareRow,
  above: ShareRow,
  below: ShareRow,
  steep: Float32Array,
  from: number,
  to: number,
): void {
  const { least, most } = here;
  const last = steep.length - 1;
  for (let x = from; x < to; x++) {
    const low = least[x]!;
    const high = most[x]!;
    const left = x > 0 ? x - 1 : x;
    const right = x < last ? x + 1 : x;
    let gap = 0;
    if (low - above.most[x]! > gap) gap = low - above.most[x]!;
    if (above.least[x]! - high > gap) gap = above.least[x]! - high;
    if (low - below.most[x]! > gap) gap = low - below.most[x]!;
    if (below.least[x]! - high > gap) gap = below.least[x]! - high;
    if (low - most[left]! > gap) gap = low - most[left]!;
    if (least[left]! - high > gap) gap = least[left]! - high;
    if (low - most[right]! > gap) gap = low - most[right]!;
    if (least[right]! - high > gap) gap = least[right]! - high;
    steep[x] = gap;
  }
}

/** Keeps shares of a black backdrop's lightness finite. */
const DARKEST_SHARE = 0.02;

function levelsOfRow(
  data: Uint8Array,
  start: number,
  own: LabRow,
  target: ModelRow,
  allowance: { readonly shade: Shade; readonly steep: Float32Array } | null,
  mark: number,
  out: Uint16Array,
  from: number,
  to: number,
): void {
  for (let x = from; x < to; x++) {
    const i = start + x;
    if (data[i * 4 + 3] === 0) {
      out[i] = mark;
      continue;
    }
    const l = own.lightness[x]!;
    const a = own.a[x]! * CHROMA_WEIGHT;
    const b = own.b[x]! * CHROMA_WEIGHT;
    const tl = target.lightness[x]!;
    const ta = target.a[x]! * CHROMA_WEIGHT;
    const tb = target.b[x]! * CHROMA_WEIGHT;
    let square = 10_000 * ((l - tl) * (l - tl) + (a - ta) * (a - ta) + (b - tb) * (b - tb));
    const length = tl * tl + ta * ta + tb * tb;
    const least = allowance ? 100 * tl * allowance.steep[x]! : 0;
    if (allowance && least * least < square && length > 0.01) {
      const { darker, lighter } = allowance.shade;
      const along = (l * tl + a * ta + b * tb) / length;
      const moved = (along - 1) * Math.sqrt(length) * 100;
      const beyond = moved < 0 ? Math.max(0, -moved - darker) : Math.max(0, moved - lighter);
      const dl = l - along * tl;
      const da = a - along * ta;
      const db = b - along * tb;
      const hue = (dl * dl + da * da + db * db) * 10_000 * SHADE_HUE_TIMES * SHADE_HUE_TIMES;
      const shaded = Math.max(hue + beyond * beyond, least * least);
      if (shaded < square) square = shaded;
    }
    const level = (Math.sqrt(square) * STEPS_PER_UNIT + 0.5) | 0;
    out[i] = (level > MAX_LEVEL ? MAX_LEVEL : level) | mark;
  }
}

function labRow(width: number): LabRow {
  return { lightness: new Float32Array(width), a: new Float32Array(width), b: new Float32Array(width) };
}

function modelRow(width: number, bounds: boolean): ModelRow {
  const row = labRow(width);
  return bounds
    ? { ...row, low: new Float32Array(width), high: new Float32Array(width) }
    : { ...row, low: row.lightness, high: row.lightness };
}

function loadRow(
  data: Uint8Array,
  width: number,
  y: number,
  { lightness, a, b }: LabRow,
  from: number,
  to: number,
): void {
  let lastKey = -1;
  for (let x = from, p = (y * width + from) * 4; x < to; x++, p += 4) {
    const key = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
    if (key === lastKey) {
      lightness[x] = lightness[x - 1]!;
      a[x] = a[x - 1]!;
      b[x] = b[x - 1]!;
      continue;
    }
    lastKey = key;
    const lab = labOf(data[p]!, data[p + 1]!, data[p + 2]!);
    lightness[x] = lab.lightness;
    a[x] = lab.a;
    b[x] = lab.b;
  }
}
