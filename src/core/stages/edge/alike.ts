import type { Rect } from '../../raster/raster';

/** A place where subject and background are too alike to tell how they mix, and how many pixels of the edge it has. */
export interface AlikePlace extends Rect {
  readonly pixels: number;
}

/** Side of a cell, in pixels. */
const CELL_PX = 32;

/** Cells with fewer pixels are no finding: a stray pixel or two is left to chance anywhere. */
const FEWEST = 6;

/** Places that are told of at most, largest first. */
const MOST_PLACES = 50;

/** Gathers where in a picture subject and background are too alike along the edge. */
export class Alike {
  private readonly columns: number;
  private readonly counts: Uint32Array;
  private from = 0;
  private to = Infinity;

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.columns = Math.ceil(width / CELL_PX);
    this.counts = new Uint32Array(this.columns * Math.ceil(height / CELL_PX));
  }

  /** From now on only pixels of these rows count, so that those which are looked at twice do not. */
  countRows(from: number, to: number): void {
    this.from = from;
    this.to = to;
  }

  add(x: number, y: number): void {
    if (y < this.from || y >= this.to) return;
    this.counts[Math.floor(y / CELL_PX) * this.columns + Math.floor(x / CELL_PX)]!++;
  }

  /** Cells that touch, as one place each. */
  places(): AlikePlace[] {
    const { counts } = this;
    const seen = new Uint8Array(counts.length);
    const found: AlikePlace[] = [];
    for (let start = 0; start < counts.length; start++) {
      if (seen[start] === 1 || counts[start]! < FEWEST) continue;
      const cells = [start];
      seen[start] = 1;
      for (let k = 0; k < cells.length; k++) {
        for (const next of this.beside(cells[k]!)) {
          if (seen[next] === 1 || counts[next]! < FEWEST) continue;
          seen[next] = 1;
          cells.push(next);
        }
      }
      found.push(this.placeOf(cells));
    }
    return found.sort((one, other) => other.pixels - one.pixels).slice(0, MOST_PLACES);
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

  private placeOf(cells: readonly number[]): AlikePlace {
    const columns = cells.map((cell) => cell % this.columns);
    const rows = cells.map((cell) => Math.floor(cell / this.columns));
    const [x, y] = [Math.min(...columns) * CELL_PX, Math.min(...rows) * CELL_PX];
    return {
      x,
      y,
      width: Math.min(this.width, (Math.max(...columns) + 1) * CELL_PX) - x,
      height: Math.min(this.height, (Math.max(...rows) + 1) * CELL_PX) - y,
      pixels: cells.reduce((sum, cell) => sum + this.counts[cell]!, 0),
    };
  }
}
