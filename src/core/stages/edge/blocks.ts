import type { Rect } from '../../raster/raster';

/** Side of a block, in pixels. */
export const BLOCK_PX = 5;

/** Blocks that lie fast in a picture, over a part of it, so that what is found in one does not depend on the part. */
export class Blocks {
  readonly columns: number;
  readonly rows: number;
  readonly count: number;
  private readonly firstColumn: number;
  private readonly firstRow: number;

  constructor(private readonly around: Rect) {
    this.firstColumn = Math.floor(around.x / BLOCK_PX);
    this.firstRow = Math.floor(around.y / BLOCK_PX);
    this.columns = Math.ceil(around.width / BLOCK_PX) + 1;
    this.rows = Math.ceil(around.height / BLOCK_PX) + 1;
    this.count = this.columns * this.rows;
  }

  /** The block in which a place of the part lies. */
  at(x: number, y: number): number {
    const row = Math.floor((this.around.y + y) / BLOCK_PX) - this.firstRow;
    return row * this.columns + Math.floor((this.around.x + x) / BLOCK_PX) - this.firstColumn;
  }

  /** Where a block begins, as a place of the part; may lie before it. */
  left(block: number): number {
    return (this.firstColumn + (block % this.columns)) * BLOCK_PX - this.around.x;
  }

  top(block: number): number {
    return (this.firstRow + Math.floor(block / this.columns)) * BLOCK_PX - this.around.y;
  }
}
