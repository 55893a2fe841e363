import type { Rect } from '../raster/raster';

/** Where many pixels of some kind lie together: a rectangle of whole cells and how many they are. */
export interface Cluster extends Rect {
  readonly pixels: number;
}

/** Side of a cell, in pixels. */
export const CELL_PX = 32;

/** Counts pixels in square cells of a plane, and finds the cells with many that touch. */
export class Cells {
  readonly columns: number;
  readonly counts: Uint32Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.columns = Math.ceil(width / CELL_PX);
    this.counts = new Uint32Array(this.columns * Math.ceil(height / CELL_PX));
  }

  /** The cell in which a pixel lies. */
  cellOf(x: number, y: number): number {
    return Math.floor(y / CELL_PX) * this.columns + Math.floor(x / CELL_PX);
  }

  add(x: number, y: number): void {
    this.counts[this.cellOf(x, y)]!++;
  }

  /** Cells of at least `fewest` pixels, those that touch as one cluster, largest first. */
  clusters(fewest: number): Cluster[] {
    return this.clustersOf((cell) => this.counts[cell]! >= fewest);
  }

  /** The same for cells of the caller's choice. */
  clustersOf(takes: (cell: number) => boolean): Cluster[] {
    const { counts } = this;
    const seen = new Uint8Array(counts.length);
    const found: Cluster[] = [];
    for (let start = 0; start < counts.length; start++) {
      if (seen[start] === 1 || !takes(start)) continue;
      const cells = [start];
      seen[start] = 1;
      for (let k = 0; k < cells.length; k++) {
        for (const next of this.beside(cells[k]!)) {
          if (seen[next] === 1 || !takes(next)) continue;
          seen[next] = 1;
          cells.push(next);
        }
      }
      found.push(this.clusterOf(cells));
    }
    return found.sort((one, other) => other.pixels - one.pixels);
  }

  private beside(cell: number): number[] {
    const { columns, counts } = this;
    const column = cell % columns;
    const near: number[] = [];
    for (const row of [-columns, 0, columns]) {
      for (const step of [-1, 0, 1]) {
        const inside = column + step >= 0 && column + step < columns;
        const next = cell + row + step;
        if (inside && next >= 0 && next < counts.length) near.push(next);
      }
    }
    return near;
  }

  private clusterOf(cells: readonly number[]): Cluster {
    let [left, top, right, bottom, pixels] = [Infinity, Infinity, 0, 0, 0];
    for (const cell of cells) {
      const column = cell % this.columns;
      const row = Math.floor(cell / this.columns);
      left = Math.min(left, column);
      right = Math.max(right, column + 1);
      top = Math.min(top, row);
      bottom = Math.max(bottom, row + 1);
      pixels += this.counts[cell]!;
    }
    const [x, y] = [left * CELL_PX, top * CELL_PX];
    return {
      x,
      y,
      width: Math.min(this.width, right * CELL_PX) - x,
      height: Math.min(this.height, bottom * CELL_PX) - y,
      pixels,
    };
  }
}
