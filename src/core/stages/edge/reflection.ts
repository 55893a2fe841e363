import { jpegLumaOf } from '../../color/luma';
import { CHAMFER_UNIT, chamferDistances } from '../../numeric/chamfer-distance';
import { lengthOf } from '../../numeric/exact';
import { Blocks } from './blocks';
import { sampledBackground } from './certain';
import type { EdgeInput } from './mixture';

/**
 * Color that a subject's opaque rim reflects from its backdrop, as a share that falls from the border inward:
 * C = (1 - m)F + mB with m = m0 q^d, d in pixels from the border. Its two numbers are fitted block by block to the mean
 * colors in three rings along the border, since a single pixel does not tell reflection from the subject's own color.
 *
 * A ring's mean lies on the line from the color farther in toward the backdrop, the nearer the stronger; anything else
 * is the subject's own. Only colored backdrops are looked at: gray ones tint nothing.
 */

/** Rings by their distance from the border, at a scale of 1: near (from, to), in the middle, and farther in. */
const RINGS = [3, 5, 8, 14] as const;

// What the figures of this file rest on: docs/decisions/007-reflections-and-threads.md

/** Side of a block at a scale of 1; a block is fitted from the three by three blocks around it. */
const BLOCK_PX = 8;

/** A part is narrow where no block within so many has a ring farther in. */
const NARROW_BLOCKS = 2;

/** How far beyond a part its surroundings must be given at a scale of 1. */
const MARGIN_PX = 50;

/** The largest scale: how many pixels a unit of the rings is in large pictures. */
const LARGEST_SCALE = 3;

/** Shorter sides of this many pixels have a scale of 1, twice as long ones of 2. */
const SIDE_PX = 1200;

/** A ring is known from so many pixels on. */
const FEWEST_PIXELS = 12;

/** A backdrop whose channels lie this far apart is colored, encoded. */
const COLORED_ENCODED = 40;

/** Chroma must be at least this share of the way from the subject to the backdrop. */
const CHROMA_SHARE = 0.4;

/** The least share of the backdrop in the near ring, and how far beside the line its mean may lie, as a share of it. */
const LEAST_SHARE = 0.025;
const BESIDE_SHARE = 0.4;

/** On narrow parts the near ring has lost at least this share of the middle ring's way from the backdrop. */
const LEAST_LOST_SHARE = 0.015;

/** More than this at the border is no reflection but a subject out of focus. */
const MOST_SHARE = 0.85;

/** How a share falls from one pixel to the next, at a scale of 1; a slower fall than the last is shading, no reflection. */
const FALLS = [0.5, 0.55, 0.6, 0.65, 0.7, 0.75, 0.8, 0.85] as const;
const SHADING_TIMES = 0.875;

/** The fall on narrow parts, which have no untinted color farther in to tell it by. */
const USUAL_FALL_TIMES = 0.75;

interface RingMean {
  readonly color: number[];
  /** Mean distance from the border in units of the scale. */
  readonly far: number;
}

/** m0 and q. */
interface Fit {
  readonly most: number;
  readonly fall: number;
}

/** How many pixels a unit of the rings is at one size of a picture; the same at every reduction of it. */
export function reflectionScale(originalWidth: number, originalHeight: number, reduction: number): number {
  const side = Math.min(originalWidth, originalHeight);
  const full = Math.min(LARGEST_SCALE, Math.max(1, Math.round(side / SIDE_PX)));
  return Math.max(1, full >> reduction);
}

/** How far beyond a part its surroundings must be given, in pixels. */
export function reflectionMargin(scale: number): number {
  return MARGIN_PX * scale;
}

/** Whether a background of one color tints what stands before it. */
export function isColored({ red, green, blue }: { red: number; green: number; blue: number }): boolean {
  return Math.max(red, green, blue) - Math.min(red, green, blue) >= COLORED_ENCODED;
}

/** What is reflected around the border within a part of a picture. `band` says what may be a mixture, see `bandOf`. */
export class Reflection {
  private readonly side: number;
  private readonly grid: Blocks;
  /** Count and three sums for each block and ring, and the sum of distances. */
  private readonly sums: Float64Array;
  /** m0 and q of each block; m0 is negative as long as nobody asked. */
  private readonly fits: Float64Array;
  private readonly distances: Uint8Array;

  constructor(
    private readonly input: EdgeInput,
    private readonly scale: number,
    band: Uint8Array,
  ) {
    const { around, cleared, scratch } = input;
    this.side = BLOCK_PX * scale;
    this.grid = new Blocks(around, this.side);
    this.distances = scratch.bytes('edge distances', cleared.length);
    chamferDistances(cleared, 0, around.width, around.height, this.distances);
    this.sums = new Float64Array(this.grid.count * 3 * 5);
    this.fits = new Float64Array(this.grid.count * 2).fill(-1);
    this.collect(band);
  }

  /** The share of the backdrop's color in the subject at pixel `i` of the surroundings, 0 where it is not known. */
  shareAt(i: number): number {
    const far = this.distances[i]! / (CHAMFER_UNIT * this.scale);
    if (far > RINGS[3]) return 0;
    const { around } = this.input;
    const x = i % around.width;
    const y = (i - x) / around.width;
    // Between the middles of blocks the shares pass into each other.
    const u = (around.x + x + 0.5) / this.side - 0.5 - this.grid.firstColumn;
    const v = (around.y + y + 0.5) / this.side - 0.5 - this.grid.firstRow;
    const column = Math.floor(u);
    const row = Math.floor(v);
    let share = 0;
    for (let k = 0; k < 4; k++) {
      const weight = (k & 1 ? u - column : 1 - u + column) * (k & 2 ? v - row : 1 - v + row);
      share += weight * this.blockShare(column + (k & 1), row + (k >> 1), far);
    }
    return share;
  }

  private blockShare(column: number, row: number, far: number): number {
    const { columns, rows } = this.grid;
    const block = Math.min(rows - 1, Math.max(0, row)) * columns + Math.min(columns - 1, Math.max(0, column));
    if (this.fits[block * 2]! < 0) this.fit(block);
    const most = this.fits[block * 2]!;
    return most === 0 ? 0 : most * power(this.fits[block * 2 + 1]!, Math.max(1, far));
  }

  private collect(band: Uint8Array): void {
    const { around, raster, cleared } = this.input;
    const { distances, sums, grid, scale } = this;
    for (let y = 0, i = 0; y < around.height; y++) {
      let p = ((around.y + y) * raster.width + around.x) * 4;
      for (let x = 0; x < around.width; x++, i++, p += 4) {
        if (cleared[i] === 1 || band[i] !== 0) continue;
        const far = distances[i]! / (CHAMFER_UNIT * scale);
        if (far < RINGS[0] || far > RINGS[3]) continue;
        const ring = far <= RINGS[1] ? 0 : far <= RINGS[2] ? 1 : 2;
        const k = (grid.at(x, y) * 3 + ring) * 5;
        sums[k]!++;
        sums[k + 1]! += raster.data[p]!;
        sums[k + 2]! += raster.data[p + 1]!;
        sums[k + 3]! += raster.data[p + 2]!;
        sums[k + 4]! += far;
      }
    }
  }

  private fit(block: number): void {
    const { fits } = this;
    fits[block * 2] = 0;
    const b = this.backdropOf(block);
    if (!b || !isColored({ red: b[0]!, green: b[1]!, blue: b[2]! })) return;
    const near = this.ringAround(block, 0);
    const middle = this.ringAround(block, 1);
    if (!near || !middle) return;
    const inner = this.ringAround(block, 2);
    if (!inner && this.ringAround(block, 2, NARROW_BLOCKS)) return;
    const found = inner ? fitted(near, middle, inner, b) : fittedNarrow(near, middle, b);
    if (!found || found.most > MOST_SHARE) return;
    fits[block * 2] = found.most;
    fits[block * 2 + 1] = found.fall;
  }

  private ringAround(block: number, ring: number, reach = 1): RingMean | null {
    const { columns, rows } = this.grid;
    const column = block % columns;
    const row = (block - column) / columns;
    const sum = [0, 0, 0, 0, 0];
    for (let y = Math.max(0, row - reach); y <= Math.min(rows - 1, row + reach); y++) {
      for (let x = Math.max(0, column - reach); x <= Math.min(columns - 1, column + reach); x++) {
        for (let c = 0; c < 5; c++) sum[c]! += this.sums[((y * columns + x) * 3 + ring) * 5 + c]!;
      }
    }
    const count = sum[0]!;
    if (count < FEWEST_PIXELS) return null;
    return { color: [sum[1]! / count, sum[2]! / count, sum[3]! / count], far: sum[4]! / count };
  }

  /** The backdrop's color at the middle of a block. */
  private backdropOf(block: number): Float64Array | null {
    const { around } = this.input;
    const middle = (start: number, length: number) =>
      Math.min(length - 1, Math.max(0, start + Math.floor(this.side / 2)));
    const x = middle(this.grid.left(block), around.width);
    const y = middle(this.grid.top(block), around.height);
    const b = new Float64Array(3);
    return sampledBackground(this.input, y * around.width + x, b) ? b : null;
  }
}

/** How far along a way from one color another lies, and how far beside it, as shares of the way. */
function shareOf(
  color: ArrayLike<number>,
  from: ArrayLike<number>,
  way: readonly number[],
): { share: number; beside: number } {
  const span = lengthOf(way[0]!, way[1]!, way[2]);
  const [red, green, blue] = [0, 1, 2].map((c) => color[c]! - from[c]!) as [number, number, number];
  const share = (red * way[0]! + green * way[1]! + blue * way[2]!) / (span * span);
  const beside = lengthOf(red - share * way[0]!, green - share * way[1]!, blue - share * way[2]!) / span;
  return { share, beside };
}

/** What is reflected, from the mean colors of three rings; null where it is no reflection. */
function fitted(near: RingMean, middle: RingMean, inner: RingMean, b: Float64Array): Fit | null {
  const way = tintedWay(inner.color, b);
  if (!way) return null;
  const first = shareOf(near.color, inner.color, way);
  const second = shareOf(middle.color, inner.color, way);
  if (first.share < LEAST_SHARE || first.beside > BESIDE_SHARE * first.share) return null;
  const fall = fallOf(second.share / first.share, near.far, middle.far, inner.far);
  if (fall === null) return null;
  const [here, there] = [power(fall, near.far), power(fall, inner.far)];
  return { most: first.share / (here - there + first.share * there), fall };
}

/** The same for a narrow part, which has two rings only: that it falls as reflections mostly do is taken for granted. */
function fittedNarrow(near: RingMean, middle: RingMean, b: Float64Array): Fit | null {
  const way = tintedWay(b, middle.color);
  if (!way) return null;
  const { share, beside } = shareOf(near.color, b, way);
  const lost = 1 - share;
  if (lost < LEAST_LOST_SHARE || beside > BESIDE_SHARE * lost) return null;
  return {
    most: lost / (power(USUAL_FALL_TIMES, near.far) - share * power(USUAL_FALL_TIMES, middle.far)),
    fall: USUAL_FALL_TIMES,
  };
}

/** The way from one color to another where enough of it is chroma. */
function tintedWay(from: ArrayLike<number>, to: ArrayLike<number>): number[] | null {
  const way = [0, 1, 2].map((c) => to[c]! - from[c]!);
  const luma = jpegLumaOf(way[0]!, way[1]!, way[2]!);
  const chroma = lengthOf(way[0]! - luma, way[1]! - luma, way[2]! - luma);
  const span = lengthOf(way[0]!, way[1]!, way[2]);
  return chroma < COLORED_ENCODED || chroma < CHROMA_SHARE * span ? null : way;
}

/** The fall at which the middle ring would have this share of the near ring's; null where it is none of a reflection. */
function fallOf(ratio: number, near: number, middle: number, inner: number): number | null {
  const expected = (fall: number) =>
    (power(fall, middle) - power(fall, inner)) / (power(fall, near) - power(fall, inner));
  if (ratio > expected(SHADING_TIMES) || ratio < 0) return null;
  let best: number = FALLS[0];
  for (const fall of FALLS)
    if (Math.abs(expected(fall) - ratio) < Math.abs(expected(best) - ratio)) best = fall;
  return best;
}

/** A base below 1 to a power from 0 on, straight between whole powers. */
function power(base: number, exponent: number): number {
  const whole = Math.floor(exponent);
  let value = 1;
  for (let k = 0; k < whole; k++) value *= base;
  return value * (1 + (base - 1) * (exponent - whole));
}
