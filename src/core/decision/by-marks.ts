import type { Plane } from '../raster/plane';
import { distancesTo } from '../numeric/chamfer-distance';
import type { Mark } from '../stages/clear/settings';
import { blurBox } from '../numeric/box';
import { floatsBy } from '../numeric/plane';
import { markStrokes } from '../stages/edge/strokes';
import type { Planes } from './planes';
import type { Area } from './area';
import { placeOf, regionsOf } from './regions';
import { coarserTies, FIXED, walked, type Ties } from './walk';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** Colors and textures are compared at a size of at most so many pixels. */
const MOST_COMPARED = 14_000;

/** Places that are remembered of each side, at most. */
const MOST_REMEMBERED = 120;

/** What counts as one step of difference: luma, color differences, texture in levels; a place as a share of the longer side. */
const LUMA_ENCODED = 14;
const CHROMA_ENCODED = 6;
const TEXTURE_ENCODED = 5;
const PLACE_SHARE = 0.22;

/** How far around a pixel its texture is read, in pixels of the decision. */
const TEXTURE_PX = 3;

/** Trust in what colors and textures say. */
const TRUST = 0.02;

/** A step of so many levels halves a tie. */
const STEP_ENCODED = 5;

/** Weakest tie. */
const LEAST_TIE = 0.002;

/** What a picture shows wherever marks lie: what is compared, at the size at which it is, and how its pixels are tied. */
export interface Field extends Ties {
  readonly coarser: readonly Ties[];
  /** One of `step` x `step` pixels is compared. */
  readonly step: number;
  readonly columns: number;
  readonly rows: number;
  /** FEATURES numbers of each. */
  readonly features: Float32Array;
}

/** Reads a picture once for all marks that may be put on it. */
export function fieldOf(planes: Planes): Field {
  const { width, height, channels } = planes;
  const across = new Float32Array(width * height);
  const down = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (x < width - 1) across[i] = tie(channels, i, i + 1);
      if (y < height - 1) down[i] = tie(channels, i, i + width);
    }
  const ties = { width, height, across, down };
  return { ...ties, coarser: coarserTies(ties), ...featuresOf(planes) };
}

/**
 * How likely each pixel is background, 0 to 1, from strokes of a brush: colors and textures under them and around, borders
 * between, and the places where they lie.
 */
export function likelyGoes(field: Field, marks: readonly Mark[], reduction: number): Float32Array {
  const { width, height, coarser } = field;
  const pixels = width * height;
  const side = marksOf(marks, width, height, reduction);
  const likely = new Float32Array(pixels).fill(0.5);
  const trust = new Float32Array(pixels).fill(TRUST);
  compare(field, side, likely);
  for (let i = 0; i < pixels; i++)
    if (side[i] !== 0) {
      likely[i] = side[i]! > 0 ? 1 : 0;
      trust[i] = FIXED;
    }
  return walked({ ...field, likely, trust }, coarser);
}

/** 1 under strokes of what goes, -1 under those of what stays, 0 elsewhere; what stays counts where both are. */
export function marksOf(marks: readonly Mark[], width: number, height: number, reduction: number): Int8Array {
  const out = new Int8Array(width * height);
  const under = new Uint8Array(width * height);
  for (const [strokes, answer] of [
    [marks.filter(({ goes }) => goes), 1],
    [marks.filter(({ goes }) => !goes), -1],
  ] as const) {
    under.fill(0);
    markStrokes(strokes, reduction, { x: 0, y: 0, width, height }, under);
    for (let i = 0; i < out.length; i++) if (under[i] === 1) out[i] = answer;
  }
  return out;
}

function tie(channels: Planes['channels'], i: number, j: number): number {
  let squares = 0;
  for (let c = 0; c < 3; c++) {
    const off = (channels[c]![i]! - channels[c]![j]!) / STEP_ENCODED;
    squares += (c === 0 ? 1 : 4) * off * off;
  }
  return Math.max(LEAST_TIE, 1 / (1 + squares * squares));
}

const FEATURES = 6;

/** Colors, textures and places, each in steps of difference, of one in so many pixels. */
function featuresOf({
  width,
  height,
  channels,
}: Planes): Pick<Field, 'step' | 'columns' | 'rows' | 'features'> {
  let step = 1;
  while ((width / step) * (height / step) > MOST_COMPARED) step++;
  const columns = Math.ceil(width / step);
  const rows = Math.ceil(height / step);
  const luma = blurBox({ data: channels[0], width, height }, TEXTURE_PX);
  const rough = blurBox(
    { data: floatsBy(luma.length, (i) => Math.abs(channels[0][i]! - luma[i]!)), width, height },
    TEXTURE_PX,
  );
  const long = Math.max(width, height);
  const near = channels.map((plane) => blurBox({ data: plane, width, height }, step >> 1));
  const features = new Float32Array(columns * rows * FEATURES);
  for (let v = 0, at = 0; v < rows; v++) {
    const y = middleOf(v, step, height);
    for (let u = 0; u < columns; u++, at += FEATURES) {
      const x = middleOf(u, step, width);
      const i = y * width + x;
      features[at] = near[0]![i]! / LUMA_ENCODED;
      features[at + 1] = near[1]![i]! / CHROMA_ENCODED;
      features[at + 2] = near[2]![i]! / CHROMA_ENCODED;
      features[at + 3] = rough[i]! / TEXTURE_ENCODED;
      features[at + 4] = x / (PLACE_SHARE * long);
      features[at + 5] = y / (PLACE_SHARE * long);
    }
  }
  return { step, columns, rows, features };
}

/** The pixel in the middle of a part of `step` pixels. */
function middleOf(part: number, step: number, size: number): number {
  return Math.min(size - 1, part * step + (step >> 1));
}

/** The parts of a field that strokes of either side touch: of what stays, and of what goes. */
function partsUnder({ width, height, step, columns, rows }: Field, side: Int8Array): [number[], number[]] {
  const parts: [number[], number[]] = [[], []];
  const half = step >> 1;
  for (let v = 0, j = 0; v < rows; v++) {
    const y = middleOf(v, step, height);
    for (let u = 0; u < columns; u++, j++) {
      const x = middleOf(u, step, width);
      let found = 0;
      for (let b = Math.max(0, y - half); b <= Math.min(height - 1, y + half) && found < 3; b++)
        for (let a = Math.max(0, x - half); a <= Math.min(width - 1, x + half); a++) {
          const answer = side[b * width + a]!;
          if (answer !== 0) found |= answer > 0 ? 2 : 1;
        }
      if (found & 1) parts[0].push(j);
      if (found & 2) parts[1].push(j);
    }
  }
  return parts;
}

/** Fills in what colors and textures say: how much nearer each place is to what is under strokes of one side. */
function compare(field: Field, side: Int8Array, likely: Float32Array): void {
  const { width, height, step, columns, features } = field;
  const places = partsUnder(field, side);
  if (places[0].length === 0 || places[1].length === 0) return;
  const [stays, goes] = places.map((list) => {
    const every = Math.ceil(list.length / MOST_REMEMBERED);
    const some = list.filter((_, k) => k % every === 0);
    return Float32Array.from(some.flatMap((k) => [...features.subarray(k * FEATURES, (k + 1) * FEATURES)]));
  }) as [Float32Array, Float32Array];
  const found = new Float32Array(features.length / FEATURES);
  for (let j = 0; j < found.length; j++) {
    const staying = likeness(features, j * FEATURES, stays);
    const going = likeness(features, j * FEATURES, goes);
    found[j] = going / (staying + going);
  }
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor(y / step) * columns;
    for (let x = 0; x < width; x++, i++) likely[i] = found[row + Math.floor(x / step)]!;
  }
}

/** How like one place is to those that are remembered, on average. */
function likeness(features: Float32Array, at: number, remembered: Float32Array): number {
  const [f0, f1, f2] = [features[at]!, features[at + 1]!, features[at + 2]!];
  const [f3, f4, f5] = [features[at + 3]!, features[at + 4]!, features[at + 5]!];
  let sum = 0;
  for (let k = 0; k < remembered.length; k += FEATURES) {
    const a = f0 - remembered[k]!;
    const b = f1 - remembered[k + 1]!;
    const c = f2 - remembered[k + 2]!;
    const d = f3 - remembered[k + 3]!;
    const e = f4 - remembered[k + 4]!;
    const f = f5 - remembered[k + 5]!;
    const near = 1 + a * a + b * b + c * c + d * d + e * e + f * f;
    sum += 1 / (near * near * near);
  }
  return (sum * FEATURES) / remembered.length + 1e-6;
}

/** Parts and holes without a mark of their own side, up to these shares of the subject, are no parts and no holes. */
const LEAST_PART_SHARE = 0.05;
const LEAST_HOLE_SHARE = 0.01;

/** Gives small parts that no stroke calls their own to what is around them: of the subject, then holes in it. */
export function dropUnmarked(
  goes: Uint8Array,
  told: ReadonlyMap<number, 1 | -1>,
  width: number,
  height: number,
): void {
  let subject = 0;
  for (const one of goes) subject += 1 - one;
  for (const [answer, mark, share] of [
    [0, -1, LEAST_PART_SHARE],
    [1, 1, LEAST_HOLE_SHARE],
  ] as const) {
    const { list, places } = regionsOf(width, height, (i) => goes[i] === answer);
    for (const { from, to, pixels } of list) {
      const own = places.subarray(from, to);
      if (pixels > share * subject || own.some((i) => told.get(i) === mark)) continue;
      for (const i of own) goes[i] = 1 - answer;
    }
  }
}

/** From here to as far above a half nothing is told for sure; only areas of that share of the picture are worth a word. */
const UNSURE_FROM = 0.2;
const LEAST_UNSURE_SHARE = 0.002;

/** What is hardly more likely to stay than to go, in pixels of the decision. */
export function unsureAreas({ data: likely, width, height }: Plane<Float32Array>): Area[] {
  const regions = regionsOf(width, height, (i) => Math.abs(likely[i]! - 0.5) < 0.5 - UNSURE_FROM);
  const depths = distancesTo(width, height, (i) => regions.of[i]! < 0);
  return regions.list
    .filter(({ pixels }) => pixels > LEAST_UNSURE_SHARE * likely.length)
    .map((region) => {
      const place = placeOf(regions, region, depths, width);
      const goes = likely[place.y * width + place.x]! > 0.5;
      return { ...place, pixels: region.pixels, goes, why: 'unmarked', sure: false };
    });
}
