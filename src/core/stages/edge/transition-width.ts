import { jpegLumaOf } from '../../color/luma';
import { lengthOf } from '../../numeric/exact';
import { Blocks } from './blocks';
import { HALVED_CHROMA_WEIGHT, type EdgeInput } from './mixture';
import type { Spread } from './spread';

// What the figures of this file rest on: docs/decisions/011-measured-widths.md

/** Side of a block; what is told of one is the mean over the three by three blocks around it. */
const BLOCK_PX = 12;

/** Fewer profiles than this say nothing. */
const FEWEST_PROFILES = 16;

/** Profiles across the border reach so far outward and inward, and their steepest place lies so near outside of it. */
const OUTWARD_PX = 7;
const INWARD_PX = 10;
const STEEPEST_PX = 4;

/** The border's direction is read from the mask within this; a sum of fewer steps has none. */
const NORMAL_PX = 3;
const LEAST_NORMAL_LENGTH = 8;

/** The color that a profile leads to lies so far behind the border. */
const SUBJECT_PX = 3;

/** Below this, encoded, background and subject are too alike to measure a profile. */
const LEAST_SPAN_ENCODED = 24;

/** Where more than this of a profile is halved chroma, its width says nothing of the edge's. */
const MOST_CHROMA_SHARE = 0.4;

/** The half width of an edge that is as sharp as pixels can be, on average over its angles and places. */
const SHARP_PX = 0.65;

/** What chroma alone at half the resolution adds to the square of the half width. */
const CHROMA_WIDENS_SQUARE_PX = 6;

/** How wide the transition from background to subject is around a place. */
export interface TransitionWidth {
  /**
   * Half the width in pixels: the height of the outer half of a profile by its steepest slope. About 0.65 where an edge
   * is sharp, 1.25 times the deviation of a Gaussian blur.
   */
  readonly half: number;
  /** The same without what halved chroma adds. */
  readonly own: number;
  /** How far inside of the outermost uncleared pixels alpha is a half, in pixels. */
  readonly middle: number;
  /** How far from the background a pixel of half alpha lies, encoded. */
  readonly height: number;
}

/**
 * Measures how wide transitions are, on profiles across the border of what is cleared. Blur is symmetric, so the outer
 * half tells the width of both; the inner one may be anything, a rim that reflects the backdrop or an outline. What
 * halved chroma adds is taken out by the rule that squares of widths add.
 */
export class TransitionWidths {
  private readonly grid: Blocks;
  /** For each block sums of heights, of slopes, of slopes times the middle's place and times chroma's share, and a count. */
  private readonly sums: Float64Array;
  private readonly known: (TransitionWidth | null | undefined)[];
  private readonly b = new Float64Array(3);
  private readonly color = new Float64Array(3);
  private readonly way = new Float64Array(3);
  private readonly profile = new Float64Array(OUTWARD_PX + INWARD_PX + 1);

  /** `border` lists the uncleared pixels that have a cleared one beside them, `spread` is that of the ordinary band. */
  constructor(
    private readonly input: EdgeInput,
    border: readonly number[],
    private readonly spread: Spread,
  ) {
    this.grid = new Blocks(input.around, BLOCK_PX);
    this.sums = new Float64Array(this.grid.count * 5);
    this.known = new Array<undefined>(this.grid.count).fill(undefined);
    const { width } = input.around;
    for (const i of border) this.measure(i % width, Math.floor(i / width));
  }

  /** Around a pixel of the surroundings; null where too little tells. */
  at(i: number): TransitionWidth | null {
    const { width } = this.input.around;
    const block = this.grid.at(i % width, Math.floor(i / width));
    const known = this.known[block];
    return known === undefined ? (this.known[block] = this.around(block)) : known;
  }

  private around(block: number): TransitionWidth | null {
    const { columns, rows } = this.grid;
    const column = block % columns;
    const row = (block - column) / columns;
    const sum = [0, 0, 0, 0, 0];
    for (let y = Math.max(0, row - 1); y <= Math.min(rows - 1, row + 1); y++) {
      for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x++) {
        for (let k = 0; k < 5; k++) sum[k]! += this.sums[(y * columns + x) * 5 + k]!;
      }
    }
    const [heights, slopes, places, chromas, count] = sum as [number, number, number, number, number];
    if (count < FEWEST_PROFILES || heights <= 0) return null;
    const half = heights / slopes;
    const chroma = chromas / slopes;
    const without = Math.max(SHARP_PX * SHARP_PX, half * half - CHROMA_WIDENS_SQUARE_PX * chroma * chroma);
    return {
      half,
      own: Math.min(half, Math.sqrt(without)),
      middle: places / slopes,
      height: heights / count,
    };
  }

  private measure(x: number, y: number): void {
    const { b, color, profile, way, sums } = this;
    const normal = this.normalAt(x, y);
    if (!normal || !this.spread.background(x, y, b)) return;
    this.sample(x, y, SUBJECT_PX * normal.x, SUBJECT_PX * normal.y, color);
    const chroma = this.wayTo(color);
    if (chroma === null) return;
    for (let k = 0; k < profile.length; k++) {
      this.sample(x, y, (k - OUTWARD_PX) * normal.x, (k - OUTWARD_PX) * normal.y, color);
      profile[k] =
        (color[0]! - b[0]!) * way[0]! + (color[1]! - b[1]!) * way[1]! + (color[2]! - b[2]!) * way[2]!;
    }
    const steepest = steepestOf(profile);
    if (steepest === null) return;
    const k = this.grid.at(x, y) * 5;
    sums[k]! += steepest.height;
    sums[k + 1]! += steepest.slope;
    sums[k + 2]! += steepest.slope * (steepest.place - OUTWARD_PX);
    sums[k + 3]! += steepest.slope * chroma;
    sums[k + 4]! += 1;
  }

  /** Across the border, toward the subject; null where it has no direction. */
  private normalAt(x: number, y: number): { x: number; y: number } | null {
    const {
      cleared,
      around: { width, height },
    } = this.input;
    let nx = 0;
    let ny = 0;
    for (let v = Math.max(0, y - NORMAL_PX); v <= Math.min(height - 1, y + NORMAL_PX); v++) {
      for (let u = Math.max(0, x - NORMAL_PX); u <= Math.min(width - 1, x + NORMAL_PX); u++) {
        const side = 1 - 2 * cleared[v * width + u]!;
        nx += side * (u - x);
        ny += side * (v - y);
      }
    }
    const length = lengthOf(nx, ny);
    return length < LEAST_NORMAL_LENGTH ? null : { x: nx / length, y: ny / length };
  }

  /**
   * Finds the unit way from the background to a color, by which colors are measured as `projection` does. Returns how much
   * of it is halved chroma; null where the two are too alike to measure.
   */
  private wayTo(color: Float64Array): number | null {
    const { b, way } = this;
    for (let c = 0; c < 3; c++) way[c] = color[c]! - b[c]!;
    const span = lengthOf(way[0]!, way[1]!, way[2]);
    if (span < LEAST_SPAN_ENCODED) return null;
    if (!this.input.halvedChroma) {
      for (let c = 0; c < 3; c++) way[c]! /= span;
      return 0;
    }
    const luma = jpegLumaOf(way[0]!, way[1]!, way[2]!);
    const cb = way[2]! - luma;
    const cr = way[0]! - luma;
    const ofChroma = HALVED_CHROMA_WEIGHT * (cb * cb + cr * cr);
    const square = luma * luma + ofChroma;
    if (ofChroma > MOST_CHROMA_SHARE * square) return null;
    const length = Math.sqrt(square);
    const ofLuma = luma - HALVED_CHROMA_WEIGHT * (cb + cr);
    way[0] = (jpegLumaOf(ofLuma, 0, 0) + HALVED_CHROMA_WEIGHT * cr) / length;
    way[1] = jpegLumaOf(0, ofLuma, 0) / length;
    way[2] = (jpegLumaOf(0, 0, ofLuma) + HALVED_CHROMA_WEIGHT * cb) / length;
    return ofChroma / square;
  }

  /**
   * The color at a place between pixels, so far from a whole one, bilinear. The way is added to the place in the picture, so
   * that it is rounded the same however the picture is parted.
   */
  private sample(x: number, y: number, wayX: number, wayY: number, out: Float64Array): void {
    const { raster, around } = this.input;
    const px = Math.min(raster.width - 1, Math.max(0, around.x + x + wayX));
    const py = Math.min(raster.height - 1, Math.max(0, around.y + y + wayY));
    const cx = Math.floor(px);
    const cy = Math.floor(py);
    const u = px - cx;
    const v = py - cy;
    const p = (cy * raster.width + cx) * 4;
    const right = cx + 1 < raster.width ? 4 : 0;
    const below = cy + 1 < raster.height ? raster.width * 4 : 0;
    const { data } = raster;
    for (let c = 0; c < 3; c++) {
      const upper = data[p + c]! * (1 - u) + data[p + right + c]! * u;
      const lower = data[p + below + c]! * (1 - u) + data[p + below + right + c]! * u;
      out[c] = upper * (1 - v) + lower * v;
    }
  }
}

/**
 * The steepest place of a profile, its slope there by a parabola, and how high it lies there above the profile's lowest
 * place before it. Null where nothing rises.
 */
function steepestOf(profile: Float64Array): { slope: number; height: number; place: number } | null {
  const rise = (k: number) => (k >= 0 && k + 1 < profile.length ? profile[k + 1]! - profile[k]! : 0);
  let best = -1;
  for (let k = OUTWARD_PX - STEEPEST_PX, most = 0; k + 1 < profile.length; k++) {
    if (rise(k) <= most) continue;
    most = rise(k);
    best = k;
  }
  if (best < 0) return null;
  const before = rise(best - 1);
  const here = rise(best);
  const after = rise(best + 1);
  const bend = 2 * here - before - after;
  const shift = bend > 0 ? Math.min(0.5, Math.max(-0.5, (after - before) / (2 * bend))) : 0;
  let lowest = Infinity;
  for (let k = Math.max(1, best - OUTWARD_PX - 1); k <= best; k++)
    lowest = Math.min(lowest, (profile[k - 1]! + profile[k]!) / 2);
  return {
    slope: here + (shift * (after - before)) / 4,
    height: profile[best]! + here * (0.5 + shift) - lowest,
    place: best + 0.5 + shift,
  };
}
