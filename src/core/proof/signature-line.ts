import { lumaOf } from '../color/luma';
import type { Raster } from '../raster/raster';
import type { SignatureLine } from './place';

// What the figures of this file rest on: docs/decisions/020-proofs.md

/** So much darker than the paper a line is, encoded luma. */
const LEAST_DARKER_ENCODED = 36;

/** Lines for a signature are so long, so thin, and have so much empty paper above them, in millimeters. */
const SHORTEST_MM = 25;
const LONGEST_MM = 130;
const THICKEST_MM = 1.3;
const CLEAR_MM = { from: 0.8, to: 8 } as const;

/** A line of dots or dashes has gaps of at most so much, and this share of it is ink. */
const GAP_MM = 1.6;
const LEAST_INK_SHARE = 0.3;

/** What stands upright at an end of a line, so high and mostly ink, makes a box of it. */
const UPRIGHT_MM = 4;
const MOSTLY = 0.9;

/** Of the paper above a line this share may be dark, as dust or the tail of a letter. */
const MOST_DARK_SHARE = 0.004;

/** Writing of this height is looked for above a line: more room is not better. */
const ENOUGH_ROOM_MM = 18;

/**
 * The lines of a page that look meant for a signature: long, thin, with empty paper above, not part of a box or table; the most
 * likely first. `page` is opaque, of `dpi` pixels per inch. Places are in millimeters from its upper left corner.
 */
export function signatureLines(page: Raster, dpi: number): SignatureLine[] {
  const dark = darkOf(page);
  const { width, height } = page;
  const px = (mm: number) => (mm * dpi) / MM_PER_INCH;
  const found: (SignatureLine & { readonly room: number })[] = [];
  /** Rows in which a line that was taken still lies. */
  let taken: { readonly from: number; readonly to: number; readonly until: number }[] = [];
  for (let y = 0; y < height; y++) {
    taken = taken.filter(({ until }) => until >= y);
    for (const run of runsOf(dark, width, y, px(GAP_MM), px(SHORTEST_MM))) {
      if (run.to - run.from > px(LONGEST_MM)) continue;
      if (taken.some(({ from, to }) => from <= run.to && to >= run.from)) continue;
      const thick = thicknessOf(dark, width, height, run, y);
      taken.push({ ...run, until: y + thick });
      if (thick > Math.max(2, px(THICKEST_MM))) continue;
      if (isBoxed(dark, width, run, y, thick, px(UPRIGHT_MM))) continue;
      const room = roomAbove(dark, width, run, y, px(CLEAR_MM.from), px(ENOUGH_ROOM_MM));
      if (room < px(CLEAR_MM.to)) continue;
      const mm = (value: number) => (value * MM_PER_INCH) / dpi;
      found.push({
        x: mm(run.from),
        y: mm(y + thick / 2),
        width: mm(run.to - run.from),
        room: Math.min(mm(room), ENOUGH_ROOM_MM),
      });
    }
  }
  // Signatures stand at the end of a page; a rule under its head has the head above it.
  return found
    .sort((one, other) => other.room - one.room || other.y - one.y)
    .map(({ x, y, width: long }) => ({ x, y, width: long }));
}

const MM_PER_INCH = 25.4;

/** 1 for what is ink on a page, beside the commonest of its tones, which is paper. */
function darkOf({ width, height, data }: Raster): Uint8Array {
  const lumas = new Uint8Array(width * height);
  const counts = new Uint32Array(256);
  for (let i = 0, p = 0; i < lumas.length; i++, p += 4) {
    const luma = Math.round(lumaOf(data[p]!, data[p + 1]!, data[p + 2]!));
    lumas[i] = luma;
    counts[luma]!++;
  }
  const paper = counts.reduce((best, count, luma) => (count > counts[best]! ? luma : best), 0);
  const limit = paper - LEAST_DARKER_ENCODED;
  return lumas.map((luma) => (luma <= limit ? 1 : 0));
}

interface Run {
  readonly from: number;
  /** Behind its last pixel. */
  readonly to: number;
}

/** Stretches of a row that are ink, over small gaps. */
function runsOf(dark: Uint8Array, width: number, y: number, gap: number, shortest: number): Run[] {
  const runs: Run[] = [];
  const row = y * width;
  for (let x = 0; x < width; x++) {
    if (dark[row + x] === 0) continue;
    const from = x;
    let last = x;
    let ink = 0;
    for (; x < width && x - last <= gap; x++) {
      if (dark[row + x] === 0) continue;
      last = x;
      ink++;
    }
    const to = last + 1;
    if (to - from >= shortest && ink >= LEAST_INK_SHARE * (to - from)) runs.push({ from, to });
    x = last;
  }
  return runs;
}

/** How many rows from `y` on carry the run. */
function thicknessOf(dark: Uint8Array, width: number, height: number, { from, to }: Run, y: number): number {
  let thick = 1;
  for (; y + thick < height; thick++) {
    let ink = 0;
    for (let x = from; x < to; x++) ink += dark[(y + thick) * width + x]!;
    if (ink < (LEAST_INK_SHARE / 2) * (to - from)) break;
  }
  return thick;
}

/** Whether something stands upright at one of its ends, above or below: then it is a side of a box. */
function isBoxed(
  dark: Uint8Array,
  width: number,
  { from, to }: Run,
  y: number,
  thick: number,
  high: number,
): boolean {
  const height = dark.length / width;
  const isUpright = (x: number, first: number, step: 1 | -1) => {
    let ink = 0;
    for (let k = 0; k < high; k++) {
      const v = first + k * step;
      if (v < 0 || v >= height) return false;
      ink += dark[v * width + x]!;
    }
    return ink >= MOSTLY * high;
  };
  for (const end of [from, to - 1])
    for (let x = Math.max(0, end - 2); x <= Math.min(width - 1, end + 2); x++)
      if (isUpright(x, y - 1, -1) || isUpright(x, y + thick, 1)) return true;
  return false;
}

/** How many rows above a run are empty, from a little above it on; at most `enough`. */
function roomAbove(
  dark: Uint8Array,
  width: number,
  { from, to }: Run,
  y: number,
  skip: number,
  enough: number,
): number {
  const first = Math.floor(y - skip);
  let seen = 0;
  let sum = 0;
  for (let v = first; v >= 0 && first - v < enough; v--) {
    for (let x = from; x < to; x++) sum += dark[v * width + x]!;
    seen++;
    if (sum > MOST_DARK_SHARE * seen * (to - from)) return seen - 1 + skip;
  }
  return seen + skip;
}
