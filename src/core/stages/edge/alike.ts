import { Cells, type Cluster } from '../../numeric/cells';
import type { Rect } from '../../raster/raster';

/** A place where subject and background are too alike to tell how they mix, and how many pixels of the edge it has. */
export type AlikePlace = Cluster;

/** Cells with fewer pixels are no finding: a stray pixel or two is left to chance anywhere. */
const FEWEST_PIXELS = 6;

/** Places that are told of at most, largest first. */
const MOST_PLACES = 50;

/** Gathers where in a picture subject and background are too alike along the edge. */
export class Alike {
  private readonly cells: Cells;
  private counted: Rect;

  constructor(width: number, height: number) {
    this.cells = new Cells(width, height);
    this.counted = { x: 0, y: 0, width, height };
  }

  /** From now on only pixels of this part count, so that those which are looked at twice do not. */
  countWithin(part: Rect): void {
    this.counted = part;
  }

  add(x: number, y: number): void {
    const { counted } = this;
    if (x < counted.x || x >= counted.x + counted.width) return;
    if (y < counted.y || y >= counted.y + counted.height) return;
    this.cells.add(x, y);
  }

  /** What was gathered so far: pixels of each cell. */
  get counts(): Uint32Array {
    return this.cells.counts;
  }

  /** Takes in what another one of the same picture gathered. */
  addCounts(counts: Uint32Array): void {
    for (let cell = 0; cell < counts.length; cell++) this.cells.counts[cell]! += counts[cell]!;
  }

  /** Cells that touch, as one place each. */
  places(): AlikePlace[] {
    return this.cells.clusters(FEWEST_PIXELS).slice(0, MOST_PLACES);
  }
}
