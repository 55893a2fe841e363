import { distancesTo } from '../numeric/chamfer-distance';
import type { Mark } from '../cut/schema';
import { blurBox } from '../numeric/box';
import { markStrokes } from '../stages/edge/strokes';
import type { Planes } from './planes';
import type { Area } from './area';
import { placeOf, regionsOf } from './regions';
import { FIXED, walked } from './walk';

/** Colors and textures are compared at a size of at most so many pixels. */
const MOST_COMPARED = 14_000;

/** Places that are remembered of each side, at most. */
const MOST_REMEMBERED = 120;

/** What counts as one step of difference: luma, color differences, texture in levels; a place as a share of the longer side. */
const LUMA = 14;
const COLOR = 6;
const TEXTURE = 5;
const PLACE = 0.22;

/** How far around a pixel its texture is read, in pixels of the decision. */
const TEXTURE_PX = 3;

/** Trust in what colors and textures say. */
const TRUST = 0.02;

/** A step of so many levels halves a tie. */
const STEP = 5;

/** Weakest tie. */
const LEAST_TIE = 0.002;

/**
 * How likely each pixel is background, 0 to 1, from strokes of a brush: colors and textures under them and around, borders
 * between, and the places where they lie.
 */
export function likelyGoes(planes: Planes, marks: readonly Mark[], reduction: number): Float32Array {
  const { width, height, channels } = planes;
  const pixels = width * height;
  const side = marksOf(marks, width, height, reduction);
  const likely = new Float32Array(pixels).fill(0.5);
  const trust = new Float32Array(pixels).fill(TRUST);
  compare(planes, side, likely);
  for (let i = 0; i < pixels; i++)
    if (side[i] !== 0) {
      likely[i] = side[i]! > 0 ? 1 : 0;
      trust[i] = FIXED;
    }
  const across = new Float32Array(pixels);
  const down = new Float32Array(pixels);
  for (let i = 0; i < pixels; i++) {
    if (i % width < width - 1) across[i] = tie(channels, i, i + 1);
    if (i < pixels - width) down[i] = tie(channels, i, i + width);
  }
  return walked({ width, height, across, down, likely, trust });
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
    const off = (channels[c]![i]! - channels[c]![j]!) / STEP;
    squares += (c === 0 ? 1 : 4) * off * off;
  }
  return Math.max(LEAST_TIE, 1 / (1 + squares * squares));
}

const FEATURES = 6;

/** Fills in what colors and textures say: how much nearer each place is to what is under strokes of one side. */
function compare(planes: Planes, side: Int8Array, likely: Float32Array): void {
  const { width, height, channels } = planes;
  let step = 1;
  while ((width / step) * (height / step) > MOST_COMPARED) step++;
  const w = Math.ceil(width / step);
  const h = Math.ceil(height / step);
  const luma = blurBox(channels[0], width, height, TEXTURE_PX);
  const rough = blurBox(
    channels[0].map((value, i) => Math.abs(value - luma[i]!)),
    width,
    height,
    TEXTURE_PX,
  );
  const long = Math.max(width, height);
  const near = channels.map((plane) => blurBox(plane, width, height, step >> 1));
  const features = new Float32Array(w * h * FEATURES);
  const places: [number[], number[]] = [[], []];
  for (let v = 0, j = 0; v < h; v++) {
    for (let u = 0; u < w; u++, j++) {
      const x = Math.min(width - 1, u * step + (step >> 1));
      const y = Math.min(height - 1, v * step + (step >> 1));
      const i = y * width + x;
      const at = j * FEATURES;
      features[at] = near[0]![i]! / LUMA;
      features[at + 1] = near[1]![i]! / COLOR;
      features[at + 2] = near[2]![i]! / COLOR;
      features[at + 3] = rough[i]! / TEXTURE;
      features[at + 4] = x / (PLACE * long);
      features[at + 5] = y / (PLACE * long);
      for (let b = Math.max(0, y - (step >> 1)); b <= Math.min(height - 1, y + (step >> 1)); b++)
        for (let a = Math.max(0, x - (step >> 1)); a <= Math.min(width - 1, x + (step >> 1)); a++) {
          const answer = side[b * width + a]!;
          if (answer !== 0) {
            const list = places[answer > 0 ? 1 : 0];
            if (list.at(-1) !== j) list.push(j);
          }
        }
    }
  }
  if (places[0].length === 0 || places[1].length === 0) return;
  const remembered = places.map((list) => {
    const every = Math.ceil(list.length / MOST_REMEMBERED);
    return list.filter((_, k) => k % every === 0);
  });
  const found = new Float32Array(w * h);
  for (let j = 0; j < w * h; j++) {
    const sums = remembered.map((list) => {
      let sum = 0;
      for (const k of list) {
        let squares = 0;
        for (let f = 0; f < FEATURES; f++) {
          const off = features[j * FEATURES + f]! - features[k * FEATURES + f]!;
          squares += off * off;
        }
        const like = 1 / (1 + squares);
        sum += like * like * like;
      }
      return sum / list.length + 1e-6;
    });
    found[j] = sums[1]! / (sums[0]! + sums[1]!);
  }
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor(y / step) * w;
    for (let x = 0; x < width; x++, i++) likely[i] = found[row + Math.floor(x / step)]!;
  }
}

/** Parts and holes without a mark of their own side, up to these shares of the subject, are no parts and no holes. */
const LEAST_PART = 0.05;
const LEAST_HOLE = 0.01;

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
    [0, -1, LEAST_PART],
    [1, 1, LEAST_HOLE],
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
const UNSURE = 0.2;
const LEAST_UNSURE = 0.002;

/** What is hardly more likely to stay than to go, in pixels of the decision. */
export function unsureAreas(likely: Float32Array, width: number, height: number): Area[] {
  const regions = regionsOf(width, height, (i) => Math.abs(likely[i]! - 0.5) < 0.5 - UNSURE);
  const depths = distancesTo(width, height, (i) => regions.of[i]! < 0);
  return regions.list
    .filter(({ pixels }) => pixels > LEAST_UNSURE * likely.length)
    .map((region) => {
      const place = placeOf(regions, region, depths, width);
      const goes = likely[place.y * width + place.x]! > 0.5;
      return { ...place, pixels: region.pixels, goes, why: 'unmarked', sure: false };
    });
}
