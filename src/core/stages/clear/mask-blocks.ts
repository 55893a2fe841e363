import { growRect, overlapRect, type Rect } from '../../raster/raster';
import type { Stroke } from '../shapes';
import { toleranceLevel } from './distance';
import type { ReachMap } from './reach-map';
import type { Sample } from './settings';

/** Side of a block, in pixels. */
const BLOCK_PX = 32;

/** Smaller pictures are not parted: in them nothing is far from a border. */
const LEAST_SIDE_PX = 8;

const UNKNOWN = 0;
const CLEARED = 1;
const STAYS = 2;
const BORDER = 3;

/** A part of a picture by what an edge may touch. */
export interface Division {
  /** What may lie within the margin of a border; null where nothing does. */
  readonly near: Rect | null;
  /** What stays and lies farther from any border, outside of `near`. Everything else is cleared. */
  readonly stays: readonly Rect[];
}

/** Where Clear takes away all of a block of pixels, nothing of it, or some, found out block by block when it is asked for. */
export class MaskBlocks {
  private readonly columns: number;
  private readonly rows: number;
  private readonly states: Uint8Array;
  /** Per margin that was asked for, the state of a block with all that lies within that. */
  private readonly wide = new Map<number, Uint8Array>();
  private readonly limits: readonly number[];
  private readonly touched: Uint8Array;

  /** `kept` are the pixels of pockets that are kept; what `strokes` cover, in pixels of `reduction` halvings more, counts as a border. */
  constructor(
    private readonly whole: { readonly width: number; readonly height: number },
    samples: readonly Sample[],
    private readonly maps: readonly ReachMap[],
    private readonly kept: Uint8Array | null,
    strokes: readonly Stroke[],
    reduction: number,
  ) {
    this.columns = Math.ceil(whole.width / BLOCK_PX);
    this.rows = Math.ceil(whole.height / BLOCK_PX);
    this.states = new Uint8Array(this.columns * this.rows);
    this.limits = samples.map(({ tolerance }) => toleranceLevel(tolerance));
    this.touched = this.touchedBy(strokes, 2 ** reduction);
  }

  /** Parts `rect` by what lies within `marginPx` of a border between what is cleared and what stays. */
  divide(rect: Rect, marginPx: number): Division {
    if (Math.min(this.whole.width, this.whole.height) < LEAST_SIDE_PX) return { near: rect, stays: [] };
    const reach = Math.ceil(marginPx / BLOCK_PX);
    const { x, y, width, height } = this.blocksOf(rect);
    let near: Rect | null = null;
    for (let row = y; row < y + height; row++)
      for (let column = x; column < x + width; column++)
        if (this.around(column, row, reach) === BORDER)
          near = joined(near, { x: column, y: row, width: 1, height: 1 });
    const stays: Rect[] = [];
    for (let row = y; row < y + height; row++)
      for (let column = x; column < x + width; column++) {
        const block = { x: column, y: row, width: 1, height: 1 };
        if (this.around(column, row, reach) !== STAYS || (near && overlapRect(near, block))) continue;
        stays.push(overlapRect(pixelsOf(block), rect)!);
      }
    return { near: near && overlapRect(pixelsOf(near), rect), stays };
  }

  private blocksOf(rect: Rect): Rect {
    const x = Math.floor(rect.x / BLOCK_PX);
    const y = Math.floor(rect.y / BLOCK_PX);
    const right = Math.ceil((rect.x + rect.width) / BLOCK_PX);
    const bottom = Math.ceil((rect.y + rect.height) / BLOCK_PX);
    return { x, y, width: right - x, height: bottom - y };
  }

  /** The state of all blocks within `reach` of one, if it is the same; a border otherwise. */
  private around(column: number, row: number, reach: number): number {
    const { columns, rows } = this;
    let wide = this.wide.get(reach);
    if (!wide) this.wide.set(reach, (wide = new Uint8Array(this.states.length)));
    const block = row * columns + column;
    if (wide[block] !== UNKNOWN) return wide[block]!;
    const own = this.touched[block] === 1 ? BORDER : this.state(column, row);
    let state = own;
    for (let v = Math.max(0, row - reach); v <= Math.min(rows - 1, row + reach) && state !== BORDER; v++)
      for (let u = Math.max(0, column - reach); u <= Math.min(columns - 1, column + reach); u++)
        if (this.state(u, v) !== own) {
          state = BORDER;
          break;
        }
    wide[block] = state;
    return state;
  }

  private state(column: number, row: number): number {
    const block = row * this.columns + column;
    if (this.states[block] === UNKNOWN) this.states[block] = this.look(column, row);
    return this.states[block]!;
  }

  private look(column: number, row: number): number {
    const { width, height } = this.whole;
    const right = Math.min(width, (column + 1) * BLOCK_PX);
    const bottom = Math.min(height, (row + 1) * BLOCK_PX);
    const first = this.isCleared(row * BLOCK_PX * width + column * BLOCK_PX);
    for (let y = row * BLOCK_PX; y < bottom; y++)
      for (let i = y * width + column * BLOCK_PX, end = y * width + right; i < end; i++)
        if (this.isCleared(i) !== first) return BORDER;
    return first ? CLEARED : STAYS;
  }

  private isCleared(i: number): boolean {
    const { maps, limits, kept } = this;
    if (kept?.[i] === 1) return false;
    for (let k = 0; k < maps.length; k++) if (maps[k]!.levels[i]! <= limits[k]!) return true;
    return false;
  }

  /** Marks with 1 the blocks that a stroke may touch. */
  private touchedBy(strokes: readonly Stroke[], scale: number): Uint8Array {
    const touched = new Uint8Array(this.states.length);
    const whole = { x: 0, y: 0, width: this.columns, height: this.rows };
    for (const { radiusPx, points } of strokes)
      points.forEach(([x, y], k) => {
        const [fromX, fromY] = points[Math.max(0, k - 1)]!;
        const line = {
          x: Math.min(x, fromX) / scale,
          y: Math.min(y, fromY) / scale,
          width: Math.abs(x - fromX) / scale,
          height: Math.abs(y - fromY) / scale,
        };
        const blocks = overlapRect(whole, this.blocksOf(growRect(line, radiusPx / scale + BLOCK_PX)));
        if (!blocks) return;
        for (let row = blocks.y; row < blocks.y + blocks.height; row++)
          touched.fill(1, row * this.columns + blocks.x, row * this.columns + blocks.x + blocks.width);
      });
    return touched;
  }
}

function pixelsOf({ x, y, width, height }: Rect): Rect {
  return { x: x * BLOCK_PX, y: y * BLOCK_PX, width: width * BLOCK_PX, height: height * BLOCK_PX };
}

/** The smallest rectangle that holds both. */
function joined(one: Rect | null, other: Rect): Rect {
  if (!one) return other;
  const x = Math.min(one.x, other.x);
  const y = Math.min(one.y, other.y);
  const right = Math.max(one.x + one.width, other.x + other.width);
  const bottom = Math.max(one.y + one.height, other.y + other.height);
  return { x, y, width: right - x, height: bottom - y };
}
