import type { Rect } from '../../raster/raster';

/** Side of a block, in pixels. */
export const BLOCK_PX = 5;

/**
 * Squares that lie fast in a picture, over a part of it, so that what is found in one does not depend on the part; of
 * BLOCK_PX unless another `side` is given.
 */
export class Blocks {
  readonly columns: number;
  readonly rows: number;
  readonly count: number;
  /** The square of the part's upper left corner, counted from that of the picture. */
  readonly firstColumn: number;
  readonly firstRow: number;

  constructor(
    private readonly around: Rect,
    private readonly side = BLOCK_PX,
  ) {
    this.firstColumn = Math.floor(around.x / side);
    this.firstRow = Math.floor(around.y / side);
    this.columns = Math.ceil(around.width / side) + 1;
    this.rows = Math.ceil(around.height / side) + 1;
    this.count = this.columns * this.rows;
  }

  /** The block in which a place of the part lies. */
  at(x: number, y: number): number {
    const row = Math.floor((this.around.y + y) / this.side) - this.firstRow;
    return row * this.columns + Math.floor((this.around.x + x) / this.side) - this.firstColumn;
  }

  /** Where a block begins, as a place of the part; may lie before it. */
  left(block: number): number {
    return (this.firstColumn + (block % this.columns)) * this.side - this.around.x;
  }

  top(block: number): number {
    return (this.firstRow + Math.floor(block / this.columns)) * this.side - this.around.y;
  }
}
