import type { Mend } from '../stages/touch-up/settings';
import { CELL_PX, Cells, type Cluster } from '../numeric/cells';
import { nextOne } from '../numeric/plane';
import { clipRect, growRect, rowsOf, type Rect } from '../raster/raster';
import { EDGE_TAIL_PX, RESIDUE_MARGIN_PX, residueIn } from '../stages/touch-up/residue';
import type { Steps } from '../numeric/steps';
import { foundAt, withMends, type Finding, type Finished, type Fix, type Place } from './finding';

/** Up to this alpha what stands in the cleared region is faint. */
export const FAINT_ALPHA = 40;

/** A cell with fewer pixels of residue is left to chance. */
const FEWEST_PIXELS = 6;

/** Rows that are looked at between two pauses: whole cells. */
const ROWS = 128;

/**
 * Faint alpha where nothing should be: veils over the cleared region, smudges, sprinkled traces of compression. Alpha up to
 * FAINT_ALPHA with nothing stronger near, unless it is the faint end of something thin.
 */
export function* findResidue({ raster, alpha, blocks }: Finished): Steps<Finding | null> {
  const { width, height } = raster;
  const cells = new Cells(width, height);
  const seeds = new Map<number, number>();
  let most = 0;
  for (let y = 0; y < height; y += ROWS) {
    for (const rect of blocks.mixedWithin(y, ROWS)) {
      if (!hasFaint(alpha, rect, width)) continue;
      const rows = clipRect({ ...rect, x: 0, width }, width, height);
      const around = clipRect(growRect(rows, RESIDUE_MARGIN_PX), width, height);
      const mask = residueIn(rowsOf(raster, around), around, rect, FAINT_ALPHA, EDGE_TAIL_PX);
      for (let i = nextOne(mask, 0); i >= 0; i = nextOne(mask, i + 1)) {
        const x = rect.x + (i % rect.width);
        const row = rect.y + Math.floor(i / rect.width);
        const j = row * width + x;
        cells.add(x, row);
        most = Math.max(most, alpha[j]!);
        const cell = cells.cellOf(x, row);
        if (!seeds.has(cell)) seeds.set(cell, j);
      }
    }
    yield { doing: 'checking', done: Math.min(height, y + ROWS), total: height };
  }
  const places = cells.clusters(FEWEST_PIXELS).map((cluster) => placeOf(cluster, seeds, cells));
  const pixels = places.reduce((sum, place) => sum + place.pixels, 0);
  return foundAt(
    'residue',
    'fault',
    places,
    `${pixels} px of faint alpha, up to ${most} of 255, stand over what is cleared.`,
    most,
  );
}

/** Clears what is as faint within the places, and nothing near an edge. */
export const clearResidue: Fix = (cut, places, { toOriginal }) => {
  const mends = places.map((place): Mend => {
    const middle = toOriginal(place.x + (place.width >> 1), place.y + (place.height >> 1));
    const reachPx = Math.ceil(Math.max(place.width, place.height) / 2) + 1;
    return { mend: 'residue', ...middle, reachPx, alpha: FAINT_ALPHA };
  });
  return withMends(cut, mends);
};

function hasFaint(alpha: Uint8Array, rect: Rect, width: number): boolean {
  for (let y = rect.y; y < rect.y + rect.height; y++)
    for (let i = y * width + rect.x, end = i + rect.width; i < end; i++)
      if (alpha[i]! > 0 && alpha[i]! <= FAINT_ALPHA) return true;
  return false;
}

function placeOf(cluster: Cluster, seeds: ReadonlyMap<number, number>, cells: Cells): Place {
  for (let y = cluster.y; y < cluster.y + cluster.height; y += CELL_PX)
    for (let x = cluster.x; x < cluster.x + cluster.width; x += CELL_PX) {
      const seed = seeds.get(cells.cellOf(x, y));
      if (seed !== undefined && cells.counts[cells.cellOf(x, y)]! >= FEWEST_PIXELS) {
        const width = cells.width;
        return { ...cluster, at: { x: seed % width, y: Math.floor(seed / width) } };
      }
    }
  return { ...cluster, at: { x: cluster.x, y: cluster.y } };
}
