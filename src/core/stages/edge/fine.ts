import { CHAMFER_UNIT, chamferDistances } from '../../numeric/chamfer-distance';
import { lengthOf, square } from '../../numeric/exact';
import { BLOCK_PX, Blocks } from './blocks';
import { sampledBackground, type Certain } from './certain';
import {
  USUAL_NOISE_ENCODED,
  defaultSteepness,
  negativeAlphas,
  projection,
  sharpened,
  takeOut,
  withClampedEnds,
  type EdgeInput,
  type Mix,
  type Projection,
} from './mixture';
import type { Spread } from './spread';
import { apart, sineToWay, wayAround } from './ways';

/** Side of a cell, in pixels: blocks of blocks, for what lies farther off along a strand. */
const CELL_PX = 4 * BLOCK_PX;

/** The indices of the strongest subject pixels of a grid's squares: -1 none, -2 not looked for yet. */
interface Level {
  readonly grid: Blocks;
  readonly known: Int32Array;
  /** Where the colors of those that were found lie in the picture. */
  readonly offsets: Int32Array;
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
      return { grid, known: new Int32Array(grid.count).fill(-2), offsets: new Int32Array(grid.count) };
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
    const { known, offsets } = level;
    const { data } = raster;
    const square = level.grid.at(i % around.width, Math.floor(i / around.width));
    const column = square % columns;
    const row = (square - column) / columns;
    const left = Math.max(0, column - reach);
    const right = Math.min(columns - 1, column + reach);
    let farthest = -1;
    let from = 0;
    for (let y = Math.max(0, row - reach); y <= Math.min(rows - 1, row + reach); y++) {
      for (let k = y * columns + left; k <= y * columns + right; k++) {
        if (known[k] === -2) this.of(level, k);
        if (known[k]! < 0) continue;
        const p = offsets[k]!;
        const far = distance(data, p, b);
        if (far <= farthest) continue;
        farthest = far;
        from = p;
      }
    }
    if (farthest <= 0) return false;
    for (let c = 0; c < 3; c++) out[c] = data[from + c]!;
    return true;
  }

  private of(level: Level, square: number): number {
    const { known } = level;
    if (known[square] === -2) {
      const found = level === this.blocks ? this.look(square) : this.lookAtBlocks(square);
      known[square] = found;
      if (found >= 0) level.offsets[square] = this.offset(found);
    }
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
      sampledBackground(this.input, y * this.input.around.width + x, this.own)
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

// What the figures of this file rest on: docs/decisions/007-reflections-and-threads.md

/** A color farther off is taken if the pixel lies this much nearer to its line, or if it is so much stronger. */
const NEARER_ENCODED = 2;
const STRONG_ENOUGH_SHARE = 0.7;

/** A color much farther off must be this much stronger, and explain the pixel about as well; encoded. */
const STRONGER_TIMES = 1.25;
const ABOUT_AS_WELL_ENCODED = 6;

/**
 * The strongest color near must lie so near to the line from B to the one farther off, as a share of its way from B: a
 * paler thread does not.
 */
const ON_THE_WAY_SHARE = 0.2;

/**
 * The same where chroma is smeared. What fills the gaps between threads looks solid there: it is none where a thread is
 * much stronger and explains the pixel not much worse.
 */
const SMEARED = { aboutAsWell: 12, onTheWay: 0.4, muchStronger: 1.8, notMuchWorse: 24 } as const;

/** Where F is looked for, in this order: blocks around, cells around, the nearest certain inside threads hang on. */
const BLOCKS_AROUND = [0, 1, 2] as const;
const CELLS_AROUND = [1, 2] as const;

/** A subject pixel so far beside every line from B to F is no thread but what they hang on, and stays as it is. */
const UNEXPLAINED_ENCODED = 26;
const UNEXPLAINED_HALVED_ENCODED = 40;

/**
 * Unless a drawing's few colors tell a mixture from a shade of the subject: what lies deeper than SHALLOW_PX in what Clear left
 * must be explained so well, and what lies deeper than DEEP_PX is no thread.
 */
const FEW_COLORS = 2;
const SHALLOW_PX = 2;
const DEEP_PX = 6;
const UNEXPLAINED_DEEP_ENCODED = 8;

/** What holds less of the subject than this is background seen through a gap, however deep. */
const MOSTLY_BACKGROUND_OPACITY = 0.12;

/** Colors nearer than this to the background cannot be told from it, encoded. */
const LEAST_SPAN_ENCODED = 20;

/** Slack against noise above, as a multiple of the background's spread. */
const ABOVE_SPREADS = 0.9;

/**
 * Slack against noise below: of the spread, and of how far the pixels within OPPOSITE_PX that lie on the other side of
 * the background lie there, which is nothing but noise: what compression makes beside threads is seen only there. Asked
 * for only up to FAINT_OPACITY. Where no color of the subject is known for sure, it takes more of the spread.
 */
const BELOW_SPREADS = 0.6;
const BELOW_UNKNOWN_SPREADS = 2.5;
const BELOW_OPPOSITE_TIMES = 2.5;
const OPPOSITE_PX = 4;
const FEWEST_OPPOSITE = 2;
const FAINT_OPACITY = 0.3;

/**
 * The way from the background to what is around a pixel is the mean within this. Where chroma has half the resolution it
 * takes more to have all of it.
 */
const AROUND_PX = 1;
const AROUND_HALVED_PX = 3;

/** A color of the drawing is taken if its way differs by so little more (in sines) than that of what was found near. */
const DRAWN_SLACK_SINE = 0.1;

/** The palest such color that reaches this share of the strongest color near is taken. */
const REACHES_SHARE = 0.85;

/**
 * Solves pixels among threads: B is the mean of the certain background around, F the strongest color of the subject
 * nearby or a little farther off, whichever explains the pixel better; where the nearest ones are mixtures themselves, as
 * along thin ends, the strongest one farther along. If the subject is drawn in a few colors, F is the one of them that lies
 * where the pixel's surroundings lead from the background.
 */
export class FineSolver {
  private best: Projection | null = null;
  private subject: Float64Array;
  private readonly hasFewColors: boolean;
  private depths: Uint8Array | null = null;
  private readonly way = new Float64Array(3);
  /** How far the strongest color in blocks around lies from the background. */
  private strongestNear = 0;

  constructor(
    private readonly input: EdgeInput,
    private readonly certain: Certain,
    private readonly spread: Spread,
    private readonly strands: Strands,
    private readonly mix: Mix,
  ) {
    this.subject = mix.f;
    const { length } = input.drawnColors;
    this.hasFewColors = length > 0 && length <= FEW_COLORS;
  }

  /** Solves pixel `i`, whose color is at `p`, into the mix. False where nothing explains it, or no background is near. */
  solve(i: number, p: number): boolean {
    const { input, mix, spread } = this;
    const { width } = input.around;
    const hasBackground = spread.background(i % width, Math.floor(i / width), mix.b);
    if (!hasBackground && !sampledBackground(input, i, mix.b)) return false;
    const noise = hasBackground ? spread.at(i, 1) : USUAL_NOISE_ENCODED;
    this.best = null;
    this.subject = mix.f;
    this.lookNear(i, p);
    if (input.drawnColors.length > 0) this.lookAtDrawing(i, p);
    const chosen = this.best as Projection | null;
    const unexplained = this.unexplainedAt(i, noise, chosen?.alpha ?? 0);
    if (!chosen || (input.cleared[i] === 0 && chosen.off > unexplained)) return false;
    const faint = chosen.alpha > 0 && chosen.alpha < FAINT_OPACITY;
    const below = Math.max(
      (input.drawnColors.length > 0 ? BELOW_SPREADS : BELOW_UNKNOWN_SPREADS) * noise,
      faint ? BELOW_OPPOSITE_TIMES * chosen.span * this.oppositeOf(i) : 0,
    );
    mix.alpha = sharpened(withClampedEnds(chosen, below, ABOVE_SPREADS * noise), defaultSteepness(chosen));
    mix.noise = noise;
    mix.unsure = false;
    takeOut(input.raster.data, p, mix, this.subject);
    return true;
  }

  /** How far beside every line subject may lie that still counts as a mixture. */
  private unexplainedAt(i: number, noise: number, alpha: number): number {
    const { input } = this;
    const depth = this.hasFewColors ? 0 : this.depthAt(i);
    if (depth <= SHALLOW_PX || alpha < MOSTLY_BACKGROUND_OPACITY)
      return (input.halvedChroma ? UNEXPLAINED_HALVED_ENCODED : UNEXPLAINED_ENCODED) + 3 * noise;
    return depth > DEEP_PX ? -1 : UNEXPLAINED_DEEP_ENCODED + noise;
  }

  /** How deep a pixel lies in what Clear left, in pixels. */
  private depthAt(i: number): number {
    if (!this.depths) {
      const { cleared, scratch, around } = this.input;
      this.depths = scratch.bytes('edge depths', cleared.length);
      chamferDistances(cleared, 0, around.width, around.height, this.depths);
    }
    return this.depths[i]! / CHAMFER_UNIT;
  }

  /** The best among the strongest colors around, and what threads hang on. */
  private lookNear(i: number, p: number): void {
    const { input, mix, strands, certain } = this;
    const { b } = mix;
    this.strongestNear = 0;
    for (const reach of BLOCKS_AROUND) {
      const into = this.spare();
      if (!strands.strongest(i, reach, b, into)) continue;
      const one = projection(input, p, b, into, this.spareProjection());
      // Farther around there is nothing weaker.
      this.strongestNear = one.span;
      if (one.span >= LEAST_SPAN_ENCODED && (!this.best || isBetter(one, this.best))) this.take(one, into);
    }
    for (const reach of CELLS_AROUND) {
      const into = this.spare();
      if (!strands.strongestFar(i, reach, b, into)) continue;
      const one = projection(input, p, b, into, this.spareProjection());
      if (one.span < LEAST_SPAN_ENCODED) continue;
      if (!this.best || isPurer(input, b, this.subject, into, one, this.best)) this.take(one, into);
    }
    const into = this.spare();
    if (!certain.mean(i, 0, into, true)) return;
    // What threads hang on is solid and no mixture of theirs with the background.
    const one = projection(input, p, b, into, this.spareProjection());
    if (one.span < LEAST_SPAN_ENCODED) return;
    const than = this.best;
    const isMixture =
      than !== null &&
      (input.halvedChroma ? isFilling(than, one) : isPurer(input, b, into, this.subject, than, one));
    if (!than || (isBetter(one, than) && !isMixture)) this.take(one, into);
  }

  private take(one: Projection, color: Float64Array): void {
    this.best = one;
    this.subject = color;
  }

  private spareProjection(): Projection {
    const { first, second } = this.mix;
    return this.best === first ? second : first;
  }

  /** Where to put a candidate so that it does not overwrite the best one. */
  private spare(): Float64Array {
    const { f, g } = this.mix;
    return this.best && this.subject === f ? g : f;
  }

  /** Takes a color of the drawing in place of the best one found near where it explains the surroundings about as well. */
  private lookAtDrawing(i: number, p: number): void {
    const { input, way, mix } = this;
    const { raster, around, halvedChroma } = input;
    const x = i % around.width;
    const y = (i - x) / around.width;
    const radius = halvedChroma ? AROUND_HALVED_PX : AROUND_PX;
    wayAround(raster, around.x + x, around.y + y, radius, mix.b, way);
    const wanted = REACHES_SHARE * this.strongestNear;
    let least = this.best ? sineToWay(this.subject, mix.b, way) : Infinity;
    for (const color of input.drawnColors) least = Math.min(least, sineToWay(color, mix.b, way));
    let found: Float64Array | null = null;
    let foundSpan = 0;
    for (const color of input.drawnColors) {
      const span = apart(color, mix.b);
      if (span < LEAST_SPAN_ENCODED || sineToWay(color, mix.b, way) > least + DRAWN_SLACK_SINE) continue;
      const reaches = span >= wanted;
      const isPaler = span < foundSpan;
      if (found && (reaches !== foundSpan >= wanted ? !reaches : isPaler !== reaches)) continue;
      found = color;
      foundSpan = span;
    }
    if (!found) return;
    const into = this.spare();
    into.set(found);
    this.take(projection(input, p, mix.b, into, this.spareProjection()), into);
  }

  /** Root mean square of alpha where it is negative around a pixel, which only noise can make; 0 where there is none. */
  private oppositeOf(i: number): number {
    const { input, mix, subject } = this;
    const { around } = input;
    const x = i % around.width;
    const y = (i - x) / around.width;
    const left = around.x + Math.max(0, x - OPPOSITE_PX);
    const top = around.y + Math.max(0, y - OPPOSITE_PX);
    const width = around.x + Math.min(around.width - 1, x + OPPOSITE_PX) - left + 1;
    const height = around.y + Math.min(around.height - 1, y + OPPOSITE_PX) - top + 1;
    const { squares, count } = negativeAlphas(input, { x: left, y: top, width, height }, mix.b, subject);
    return count < FEWEST_OPPOSITE ? 0 : Math.sqrt(squares / count);
  }
}

function isBetter(one: Projection, than: Projection): boolean {
  return one.rest <= than.rest - NEARER_ENCODED || than.span <= STRONG_ENOUGH_SHARE * one.span;
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
  const aboutAsWell = halvedChroma ? SMEARED.aboutAsWell : ABOUT_AS_WELL_ENCODED;
  if (one.span < STRONGER_TIMES * than.span || one.off >= than.off + aboutAsWell) return false;
  let dot = 0;
  for (let c = 0; c < 3; c++) dot += (near[c]! - b[c]!) * (far[c]! - b[c]!);
  const share = dot / square(one.span);
  const beside = lengthOf(
    near[0]! - b[0]! - share * (far[0]! - b[0]!),
    near[1]! - b[1]! - share * (far[1]! - b[1]!),
    near[2]! - b[2]! - share * (far[2]! - b[2]!),
  );
  return beside < (halvedChroma ? SMEARED.onTheWay : ON_THE_WAY_SHARE) * than.span;
}

/** Whether what looks solid in smeared chroma is the filling of a gap between threads. */
function isFilling(thread: Projection, solid: Projection): boolean {
  return thread.span > SMEARED.muchStronger * solid.span && thread.off < solid.off + SMEARED.notMuchWorse;
}
