import { CELL_PX } from '../numeric/cells';
import { foursOf } from '../numeric/plane';
import type { Plane } from '../raster/plane';
import type { Rect } from '../raster/raster';

const ALL_CLEAR = 0;
const ALL_SOLID = 255;
/** A state that no alpha of a whole block has. */
const MIXED = 1;

/** Where alpha changes, by square blocks of CELL_PX: most of a cutout is all clear or all solid and need not be looked at. */
export class AlphaBlocks {
  private readonly columns: number;
  private readonly rows: number;
  private readonly states: Uint8Array;
  private readonly fours: Int32Array;

  constructor(private readonly alpha: Plane) {
    this.columns = Math.ceil(alpha.width / CELL_PX);
    this.rows = Math.ceil(alpha.height / CELL_PX);
    this.fours = foursOf(alpha.data);
    this.states = new Uint8Array(this.columns * this.rows);
    for (let row = 0, block = 0; row < this.rows; row++)
      for (let column = 0; column < this.columns; column++, block++)
        this.states[block] = this.look(this.pixelsOf(column, row));
  }

  /**
   * The blocks, row by row, in which a pixel may have another alpha beside it, within half a block: those that are mixed or
   * have another one beside them.
   */
  *borders(): Generator<Rect> {
    for (let row = 0; row < this.rows; row++)
      for (let column = 0; column < this.columns; column++)
        if (this.isBorder(column, row)) yield this.pixelsOf(column, row);
  }

  /** The parts of some whole rows of blocks, from `y` on, in which alpha is neither 0 nor 255 all over. */
  mixedWithin(y: number, height: number): Rect[] {
    const first = y / CELL_PX;
    const last = Math.min(this.rows, Math.ceil((y + height) / CELL_PX));
    const found: Rect[] = [];
    let from = -1;
    for (let column = 0; column <= this.columns; column++) {
      let any = false;
      for (let row = first; row < last && column < this.columns; row++)
        any ||= this.states[row * this.columns + column] === MIXED;
      if (any && from < 0) from = column;
      if (any || from < 0) continue;
      const right = Math.min(this.alpha.width, column * CELL_PX);
      const bottom = Math.min(this.alpha.height, y + height);
      found.push({ x: from * CELL_PX, y, width: right - from * CELL_PX, height: bottom - y });
      from = -1;
    }
    return found;
  }

  private isBorder(column: number, row: number): boolean {
    const own = this.states[row * this.columns + column];
    if (own === MIXED) return true;
    for (let v = Math.max(0, row - 1); v <= Math.min(this.rows - 1, row + 1); v++)
      for (let u = Math.max(0, column - 1); u <= Math.min(this.columns - 1, column + 1); u++)
        if (this.states[v * this.columns + u] !== own) return true;
    return false;
  }

  private look({ x, y, width, height }: Rect): number {
    const { data, width: stride } = this.alpha;
    const first = data[y * stride + x]!;
    if (first !== ALL_CLEAR && first !== ALL_SOLID) return MIXED;
    if (stride % 4 === 0 && width % 4 === 0) return this.lookByFours({ x, y, width, height }, first);
    for (let row = y; row < y + height; row++)
      for (let i = row * stride + x, end = i + width; i < end; i++) if (data[i] !== first) return MIXED;
    return first;
  }

  /** The same where rows begin at whole fours, as blocks do. */
  private lookByFours({ x, y, width, height }: Rect, first: number): number {
    const { fours } = this;
    const stride = this.alpha.width >> 2;
    const wanted = first === ALL_CLEAR ? 0 : -1;
    for (let row = y; row < y + height; row++)
      for (let i = row * stride + (x >> 2), end = i + (width >> 2); i < end; i++)
        if (fours[i] !== wanted) return MIXED;
    return first;
  }

  private pixelsOf(column: number, row: number): Rect {
    const x = column * CELL_PX;
    const y = row * CELL_PX;
    return {
      x,
      y,
      width: Math.min(CELL_PX, this.alpha.width - x),
      height: Math.min(CELL_PX, this.alpha.height - y),
    };
  }
}
