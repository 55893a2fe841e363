import { Fact, Remembered } from '../../../scene/memo';
import type { Cut } from '../../../cut/schema';
import type { ByInk } from '../settings';
import { sumBox } from '../../../numeric/box';
import { clipRect, growRect, type Raster, type Rect } from '../../../raster/raster';
import { CERTAIN_BACKGROUND, CERTAIN_SUBJECT, IN_EDGE } from '../../edge/unmix';
import type { Scene } from '../../../scene/scene';
import type { Rgb } from '../sample-color';
import { levelsTable } from './levels';
import { alphaAt, inkAlphaInto } from './ink-alpha';
import { droppedSpecks } from './specks';

/** Around a pixel the color of the ink is averaged over so many pixels of the original to either side. */
const COLOR_PX = 4;

/** Places at which the paper's color is read. */
const PAPER_PLACES = 400_000;

/** The ink settings that act; null where nothing is cleared by ink. */
function actingInk(cut: Cut): ByInk | null {
  return cut.clear.on && cut.clear.ink?.on ? cut.clear.ink : null;
}

/** What clearing by ink needs of the whole picture. */
export interface InkWork {
  readonly ink: ByInk;
  readonly table: Uint8Array;
  readonly paper: Rgb;
  /** Marks the pixels of specks that are dropped; null where none are. */
  readonly dropped: Uint8Array | null;
}

export function inkWorkOf(scene: Scene, cut: Cut): InkWork | null {
  const ink = actingInk(cut);
  if (!ink) return null;
  const table = levelsTable(ink);
  const dropped = ink.speckPx > 0 ? droppedSpecks(scene, ink, table) : null;
  return { ink, table, paper: paperOf(scene, ink, table), dropped };
}

/** The bare paper's color, by the levels that tell it from ink. */
const PAPERS = new Fact(() => new Remembered<Rgb>(64));

/** The mean color of what is bare paper by the levels, read from the full size; white where nothing is. */
function paperOf({ original, memo }: Scene, ink: ByInk, table: Uint8Array): Rgb {
  const key = JSON.stringify([ink.channel, ink.black, ink.mid, ink.white]);
  return memo.of(PAPERS).at(key, () => readPaper(original, ink, table));
}

function readPaper(original: Raster, ink: ByInk, table: Uint8Array): Rgb {
  const { data } = original;
  const step = Math.max(1, Math.floor(data.length / 4 / PAPER_PLACES));
  let red = 0;
  let green = 0;
  let blue = 0;
  let count = 0;
  for (let p = 0; p < data.length; p += 4 * step) {
    if (data[p + 3] !== 255 || alphaAt(data, p, { ink, table }) > 0) continue;
    red += data[p]!;
    green += data[p + 1]!;
    blue += data[p + 2]!;
    count++;
  }
  const mean = (sum: number) => (count > 0 ? Math.round(sum / count) : 255);
  return { red: mean(red), green: mean(green), blue: mean(blue) };
}

/**
 * Clears by ink the part `rect` of the scene into `out`: alpha from the reading through the levels; of colors the share
 * `cleaned` (0 to 1) of what the paper has in them is taken out, C = aF + (1 - a)B with the paper as B. Where alpha is low F
 * is the mean of the ink around, weighted by the square of alpha, since there a pixel of its own says little.
 */
export function byInkInto(scene: Scene, work: InkWork, cleaned: number, rect: Rect, out: Raster): void {
  const { raster, reduction } = scene;
  const radius = Math.max(1, COLOR_PX >> reduction);
  const wide = clipRect(growRect(rect, radius), raster.width, raster.height);
  const { dropped, table, ink } = work;
  const all = new Uint8Array(wide.width * wide.height);
  readAlphas(raster, wide, ink, table, dropped, all);
  const inked = inkedPart(all, wide);
  if (!inked) return;
  const around = clipRect(growRect(inked, radius), raster.width, raster.height);
  const alphas = partOf(all, wide, around);
  const colors = cleaned > 0 ? inkColors(raster, around, alphas, work.paper, radius) : null;
  const [reds, greens, blues, weights] = colors ?? [];
  const { red, green, blue } = work.paper;
  const { data } = raster;
  const top = Math.max(rect.y, inked.y);
  const bottom = Math.min(rect.y + rect.height, inked.y + inked.height);
  const left = Math.max(rect.x, inked.x);
  const right = Math.min(rect.x + rect.width, inked.x + inked.width);
  for (let y = top; y < bottom; y++) {
    let p = (y * raster.width + left) * 4;
    let i = (y - around.y) * around.width + left - around.x;
    let q = ((y - rect.y) * rect.width + left - rect.x) * 4;
    for (let x = left; x < right; x++, i++, p += 4, q += 4) {
      const alpha = alphas[i]!;
      if (alpha === 0) continue;
      const own = data[p + 3]!;
      out.data[q + 3] = own === 255 ? alpha : Math.round((own * alpha) / 255);
      const weight = weights ? weights[i]! : 0;
      out.data[q] = inkColor(data[p]!, red, alpha, weight && reds![i]! / weight, weight, cleaned);
      out.data[q + 1] = inkColor(data[p + 1]!, green, alpha, weight && greens![i]! / weight, weight, cleaned);
      out.data[q + 2] = inkColor(data[p + 2]!, blue, alpha, weight && blues![i]! / weight, weight, cleaned);
    }
  }
}

/** The smallest part of `rect` that holds all of its ink; null where there is none. */
function inkedPart(alphas: Uint8Array, rect: Rect): Rect | null {
  let left = rect.width;
  let right = -1;
  let top = -1;
  let bottom = -1;
  for (let y = 0; y < rect.height; y++) {
    const start = y * rect.width;
    let first = 0;
    while (first < rect.width && alphas[start + first] === 0) first++;
    if (first === rect.width) continue;
    let last = rect.width - 1;
    while (alphas[start + last] === 0) last--;
    if (top < 0) top = y;
    bottom = y;
    if (first < left) left = first;
    if (last > right) right = last;
  }
  return top < 0
    ? null
    : { x: rect.x + left, y: rect.y + top, width: right - left + 1, height: bottom - top + 1 };
}

/** The part `inner` of a plane over `rect`; what lies outside is 0. */
function partOf(plane: Uint8Array, rect: Rect, inner: Rect): Uint8Array {
  const out = new Uint8Array(inner.width * inner.height);
  const within = clipRect({ ...inner, x: inner.x - rect.x, y: inner.y - rect.y }, rect.width, rect.height);
  for (let y = 0; y < within.height; y++) {
    const from = (within.y + y) * rect.width + within.x;
    const to = (within.y + rect.y - inner.y + y) * inner.width + within.x + rect.x - inner.x;
    out.set(plane.subarray(from, from + within.width), to);
  }
  return out;
}

/** The ink's color in one channel, from what is seen, the paper, and the mean of the ink around. */
function inkColor(
  seen: number,
  paper: number,
  alpha: number,
  near: number,
  weight: number,
  cleaned: number,
): number {
  if (weight === 0) return seen;
  const share = alpha / 255;
  const own = (seen - (1 - share) * paper) / share;
  const trust = share * share * share * share;
  const color = Math.min(255, Math.max(0, near + (own - near) * trust));
  return Math.round(seen + (color - seen) * cleaned);
}

function readAlphas(
  raster: Raster,
  around: Rect,
  ink: ByInk,
  table: Uint8Array,
  dropped: Uint8Array | null,
  out: Uint8Array,
): void {
  for (let y = 0; y < around.height; y++) {
    const start = (around.y + y) * raster.width + around.x;
    const row = out.subarray(y * around.width, (y + 1) * around.width);
    const data = raster.data.subarray(start * 4, (start + around.width) * 4);
    inkAlphaInto({ ...raster, width: around.width, height: 1, data }, ink, table, row);
    if (dropped) for (let x = 0; x < row.length; x++) if (dropped[start + x] === 1) row[x] = 0;
  }
}

/** Sums of the ink's colors around each pixel, times the sums of their weights, which come last. In whole numbers. */
function inkColors(
  { width, data }: Raster,
  around: Rect,
  alphas: Uint8Array,
  paper: Rgb,
  radius: number,
): Float64Array[] {
  const backs = [paper.red, paper.green, paper.blue];
  const planes = backs.map((back, c) => {
    const plane = new Int32Array(alphas.length);
    for (let y = 0, i = 0; y < around.height; y++) {
      let p = ((around.y + y) * width + around.x) * 4 + c;
      for (let x = 0; x < around.width; x++, i++, p += 4) {
        const alpha = alphas[i]!;
        if (alpha > 0) plane[i] = alpha * (255 * data[p]! - (255 - alpha) * back);
      }
    }
    return sumBox({ data: plane, width: around.width, height: around.height }, radius);
  });
  const squares = new Int32Array(alphas.length);
  for (let i = 0; i < squares.length; i++) squares[i] = alphas[i]! * alphas[i]!;
  return [...planes, sumBox({ data: squares, width: around.width, height: around.height }, radius)];
}

/** Marks in the part `rect` of a raster what the levels of a cut clip to full ink and to bare paper; null without levels. */
export function clippedPart(raster: Raster, cut: Cut, rect: Rect): Uint8Array | null {
  const { ink } = cut.clear;
  if (!ink) return null;
  const marks = new Uint8Array(rect.width * rect.height);
  readAlphas(raster, rect, ink, levelsTable(ink), null, marks);
  for (let i = 0; i < marks.length; i++)
    marks[i] = marks[i] === 255 ? CERTAIN_SUBJECT : marks[i] === 0 ? CERTAIN_BACKGROUND : IN_EDGE;
  return marks;
}
