import { square } from '../../numeric/exact';
import { BLOCK_PX, Blocks } from './blocks';
import { presumed, type Certain } from './certain';
import {
  PRESUMED_NOISE,
  projection,
  sharpened,
  takeOut,
  type EdgeInput,
  type Mix,
  type Projection,
} from './mixture';
import type { Spread } from './spread';

/** Slack against noise below and above, as multiples of the background's spread. */
const BELOW = 2.5;
const ABOVE = 3;

/**
 * The strongest colors of the subject, block by block, computed where they are asked for. Strong is what lies far from
 * the background around its own block, so that the answer is the same whoever asks.
 */
export class Strands {
  private readonly grid: Blocks;
  /** Index of the strongest subject pixel of a block, -1 none, -2 not looked for yet. */
  private readonly known: Int32Array;
  private readonly own = new Float64Array(3);

  constructor(
    private readonly input: EdgeInput,
    private readonly spread: Spread,
  ) {
    this.grid = new Blocks(input.around);
    this.known = new Int32Array(this.grid.count).fill(-2);
  }

  /** The subject color farthest from `b` within `reach` blocks around pixel `i`. False where there is no subject. */
  strongest(i: number, reach: number, b: Float64Array, out: Float64Array): boolean {
    const { around, raster } = this.input;
    const { columns, rows } = this.grid;
    const block = this.grid.at(i % around.width, Math.floor(i / around.width));
    const column = block % columns;
    const row = (block - column) / columns;
    let farthest = -1;
    for (let y = Math.max(0, row - reach); y <= Math.min(rows - 1, row + reach); y++) {
      for (let x = Math.max(0, column - reach); x <= Math.min(columns - 1, column + reach); x++) {
        const j = this.of(y * columns + x);
        if (j < 0) continue;
        const p = this.offset(j);
        const far = distance(raster.data, p, b);
        if (far <= farthest) continue;
        farthest = far;
        for (let c = 0; c < 3; c++) out[c] = raster.data[p + c]!;
      }
    }
    return farthest > 0;
  }

  private of(block: number): number {
    if (this.known[block] === -2) this.known[block] = this.look(block);
    return this.known[block]!;
  }

  private offset(j: number): number {
    const { around, raster } = this.input;
    return ((around.y + Math.floor(j / around.width)) * raster.width + around.x + (j % around.width)) * 4;
  }

  private look(block: number): number {
    const { around, raster, cleared } = this.input;
    const left = Math.max(0, this.grid.left(block));
    const top = Math.max(0, this.grid.top(block));
    const right = Math.min(around.width, this.grid.left(block) + BLOCK_PX);
    const bottom = Math.min(around.height, this.grid.top(block) + BLOCK_PX);
    if (left >= right || top >= bottom) return -1;
    const known =
      this.spread.background(left, top, this.own) ||
      presumed(this.input, top * around.width + left, this.own);
    if (!known) return -1;
    let best = -1;
    let farthest = -1;
    for (let y = top; y < bottom; y++) {
      for (let x = left, j = y * around.width + x; x < right; x++, j++) {
        if (cleared[j] === 1) continue;
        const far = distance(raster.data, this.offset(j), this.own);
        if (far <= farthest) continue;
        farthest = far;
        best = j;
      }
    }
    return best;
  }
}

function distance(data: Uint8Array, p: number, b: Float64Array): number {
  return square(data[p]! - b[0]!) + square(data[p + 1]! - b[1]!) + square(data[p + 2]! - b[2]!);
}

/** A color farther off is taken if the pixel lies this much nearer to its line, or if it is so much stronger. */
const NEARER = 2;
const STRONG_ENOUGH = 0.7;

/** Instead of a reach in blocks: the nearest certain inside, of what the threads hang on. */
const SOLID = -1;

/** A subject pixel so far beside every line from B to F is no thread but what they hang on, and stays as it is. */
const UNEXPLAINED = 26;

/** Colors nearer than this to the background cannot be told from it, encoded. */
const LEAST_SPAN = 20;

/**
 * Solves a pixel among threads: B is the mean of the certain background around, F the strongest color of the subject
 * nearby or a little farther off, whichever explains the pixel better.
 */
export function solveFine(
  input: EdgeInput,
  certain: Certain,
  spread: Spread,
  strands: Strands,
  i: number,
  p: number,
  mix: Mix,
): boolean {
  const { b, f, g } = mix;
  const { width } = input.around;
  const hasBackground = spread.background(i % width, Math.floor(i / width), b);
  if (!hasBackground && !presumed(input, i, b)) return false;
  const noise = hasBackground ? spread.at(i, 1) : PRESUMED_NOISE;
  let best: Projection | null = null;
  let subject = f;
  for (const reach of [0, 1, 2, SOLID]) {
    const into = subject === f && best ? g : f;
    const there = reach === SOLID ? certain.mean(i, 0, into, true) : strands.strongest(i, reach, b, into);
    if (!there) continue;
    const found = projection(input, p, b, into);
    if (found.span < LEAST_SPAN) continue;
    if (best && found.rest > best.rest - NEARER && best.span > STRONG_ENOUGH * found.span) continue;
    best = found;
    subject = into;
  }
  if (!best || (input.cleared[i] === 0 && best.off > UNEXPLAINED + 3 * noise)) return false;
  mix.alpha = sharpened(best, BELOW * noise, ABOVE * noise);
  mix.noise = noise;
  mix.unsure = false;
  takeOut(input.raster.data, p, mix, subject);
  return true;
}
