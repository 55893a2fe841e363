import { lengthOf, square } from '../../numeric/exact';
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

/** Side of a cell, in pixels: blocks of blocks, for what lies farther off along a strand. */
const CELL_PX = 4 * BLOCK_PX;

/** The indices of the strongest subject pixels of a grid's squares: -1 none, -2 not looked for yet. */
interface Level {
  readonly grid: Blocks;
  readonly known: Int32Array;
}

/**
 * The strongest colors of the subject, square by square, computed where they are asked for. Strong is what lies far from
 * the background around its own block, so that the answer is the same whoever asks.
 */
export class Strands {
  private readonly blocks: Level;
  private readonly cells: Level;
  private readonly own = new Float64Array(3);

  constructor(
    private readonly input: EdgeInput,
    private readonly spread: Spread,
  ) {
    const level = (side: number): Level => {
      const grid = new Blocks(input.around, side);
      return { grid, known: new Int32Array(grid.count).fill(-2) };
    };
    this.blocks = level(BLOCK_PX);
    this.cells = level(CELL_PX);
  }

  /** The subject color farthest from `b` within `reach` blocks around pixel `i`. False where there is no subject. */
  strongest(i: number, reach: number, b: Float64Array, out: Float64Array): boolean {
    return this.among(this.blocks, i, reach, b, out);
  }

  /** The same within `reach` cells. */
  strongestFar(i: number, reach: number, b: Float64Array, out: Float64Array): boolean {
    return this.among(this.cells, i, reach, b, out);
  }

  private among(level: Level, i: number, reach: number, b: Float64Array, out: Float64Array): boolean {
    const { around, raster } = this.input;
    const { columns, rows } = level.grid;
    const square = level.grid.at(i % around.width, Math.floor(i / around.width));
    const column = square % columns;
    const row = (square - column) / columns;
    let farthest = -1;
    for (let y = Math.max(0, row - reach); y <= Math.min(rows - 1, row + reach); y++) {
      for (let x = Math.max(0, column - reach); x <= Math.min(columns - 1, column + reach); x++) {
        const j = this.of(level, y * columns + x);
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

  private of(level: Level, square: number): number {
    const { known } = level;
    if (known[square] === -2)
      known[square] = level === this.blocks ? this.look(square) : this.lookAtBlocks(square);
    return known[square]!;
  }

  private offset(j: number): number {
    const { around, raster } = this.input;
    return ((around.y + Math.floor(j / around.width)) * raster.width + around.x + (j % around.width)) * 4;
  }

  /** How far a subject pixel lies from the background around its own block; -1 where that is not known. */
  private strength(j: number): number {
    const { width } = this.input.around;
    return this.backgroundAt(j % width, Math.floor(j / width))
      ? distance(this.input.raster.data, this.offset(j), this.own)
      : -1;
  }

  private backgroundAt(x: number, y: number): boolean {
    return (
      this.spread.background(x, y, this.own) ||
      presumed(this.input, y * this.input.around.width + x, this.own)
    );
  }

  private lookAtBlocks(cell: number): number {
    const { around } = this.input;
    const left = this.cells.grid.left(cell);
    const top = this.cells.grid.top(cell);
    let best = -1;
    let farthest = -1;
    for (let y = top; y < top + CELL_PX; y += BLOCK_PX) {
      for (let x = left; x < left + CELL_PX; x += BLOCK_PX) {
        const outside = y + BLOCK_PX <= 0 || x + BLOCK_PX <= 0 || y >= around.height || x >= around.width;
        const j = outside ? -1 : this.of(this.blocks, this.blocks.grid.at(x, y));
        const far = j < 0 ? -1 : this.strength(j);
        if (far <= farthest) continue;
        farthest = far;
        best = j;
      }
    }
    return best;
  }

  private look(block: number): number {
    const { around, raster, cleared } = this.input;
    const { grid } = this.blocks;
    const left = Math.max(0, grid.left(block));
    const top = Math.max(0, grid.top(block));
    const right = Math.min(around.width, grid.left(block) + BLOCK_PX);
    const bottom = Math.min(around.height, grid.top(block) + BLOCK_PX);
    if (left >= right || top >= bottom || !this.backgroundAt(left, top)) return -1;
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

/** A color much farther off must be this much stronger, and explain the pixel about as well; encoded. */
const STRONGER = 1.25;
const ABOUT_AS_WELL = 6;

/**
 * The strongest color near must lie so near to the line from B to the one farther off, as a share of its way from B: a
 * paler thread does not.
 */
const ON_THE_WAY = 0.2;

/**
 * The same where chroma is smeared. What fills the gaps between threads looks solid there: it is none where a thread is
 * much stronger and explains the pixel not much worse.
 */
const SMEARED = { aboutAsWell: 12, onTheWay: 0.4, muchStronger: 1.8, notMuchWorse: 24 } as const;

/** Where F is looked for, in this order: blocks around, cells around, the nearest certain inside threads hang on. */
const BLOCKS_AROUND = [0, 1, 2] as const;
const CELLS_AROUND = [1, 2] as const;

/** A subject pixel so far beside every line from B to F is no thread but what they hang on, and stays as it is. */
const UNEXPLAINED = 26;
const UNEXPLAINED_HALVED = 40;

/** Colors nearer than this to the background cannot be told from it, encoded. */
const LEAST_SPAN = 20;

/**
 * Solves a pixel among threads: B is the mean of the certain background around, F the strongest color of the subject
 * nearby or a little farther off, whichever explains the pixel better; where the nearest ones are mixtures themselves, as
 * along thin ends, the strongest one farther along.
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
  const consider = (
    found: boolean,
    into: Float64Array,
    isBetter: (one: Projection, than: Projection) => boolean,
  ) => {
    if (!found) return;
    const here = projection(input, p, b, into);
    if (here.span < LEAST_SPAN || (best && !isBetter(here, best))) return;
    best = here;
    subject = into;
  };
  const spare = () => (subject === f && best ? g : f);
  const nearer = (one: Projection, than: Projection) =>
    one.rest <= than.rest - NEARER || than.span <= STRONG_ENOUGH * one.span;
  for (const reach of BLOCKS_AROUND) {
    const into = spare();
    consider(strands.strongest(i, reach, b, into), into, nearer);
  }
  for (const reach of CELLS_AROUND) {
    const into = spare();
    consider(strands.strongestFar(i, reach, b, into), into, (one, than) =>
      isPurer(input, b, subject, into, one, than),
    );
  }
  const into = spare();
  // What threads hang on is solid and no mixture of theirs with the background.
  consider(certain.mean(i, 0, into, true), into, (one, than) => {
    const isMixture = input.halvedChroma ? isFilling(than, one) : isPurer(input, b, into, subject, than, one);
    return nearer(one, than) && !isMixture;
  });
  const chosen = best as Projection | null;
  const unexplained = (input.halvedChroma ? UNEXPLAINED_HALVED : UNEXPLAINED) + 3 * noise;
  if (!chosen || (input.cleared[i] === 0 && chosen.off > unexplained)) return false;
  mix.alpha = sharpened(chosen, BELOW * noise, ABOVE * noise);
  mix.noise = noise;
  mix.unsure = false;
  takeOut(input.raster.data, p, mix, subject);
  return true;
}

/** Whether the color found near is a mixture of one found farther off with the background. */
function isPurer(
  { halvedChroma }: EdgeInput,
  b: Float64Array,
  near: Float64Array,
  far: Float64Array,
  one: Projection,
  than: Projection,
): boolean {
  const aboutAsWell = halvedChroma ? SMEARED.aboutAsWell : ABOUT_AS_WELL;
  if (one.span < STRONGER * than.span || one.off >= than.off + aboutAsWell) return false;
  let dot = 0;
  for (let c = 0; c < 3; c++) dot += (near[c]! - b[c]!) * (far[c]! - b[c]!);
  const share = dot / square(one.span);
  const beside = lengthOf(
    near[0]! - b[0]! - share * (far[0]! - b[0]!),
    near[1]! - b[1]! - share * (far[1]! - b[1]!),
    near[2]! - b[2]! - share * (far[2]! - b[2]!),
  );
  return beside < (halvedChroma ? SMEARED.onTheWay : ON_THE_WAY) * than.span;
}

/** Whether what looks solid in smeared chroma is the filling of a gap between threads. */
function isFilling(thread: Projection, solid: Projection): boolean {
  return thread.span > SMEARED.muchStronger * solid.span && thread.off < solid.off + SMEARED.notMuchWorse;
}
