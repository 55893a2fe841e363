import { Cells } from '../numeric/cells';
import type { Steps } from '../numeric/steps';
import { foundAt, type Finding, type Finished, type Fix, type Place } from './finding';

// What the figures of this file rest on: docs/decisions/009-findings-and-mends.md

/** Alpha from which a pixel is fully there and up to which it is fully gone, where no transition is between. */
const FULL_ALPHA = 248;
const GONE_ALPHA = 7;

/** A cell is rough with this many steps, and this share of them among all places where its edge passes. */
const FEWEST_STEPS = 6;
const ROUGH_SHARE = 0.12;

const ROWS = 256;

/**
 * Stair-steps: corners of four pixels, of which one or three are fully there and the others fully gone, many of them along
 * the same stretch of edge. An edge with a transition has none, one along the pixels only at its ends.
 */
export function* findRoughEdges({
  raster: { width, height },
  alpha,
  blocks,
}: Finished): Steps<Finding | null> {
  const steps = new Cells(width, height);
  const edge = new Cells(width, height);
  let row = 0;
  for (const block of blocks.borders()) {
    const right = Math.min(width - 1, block.x + block.width);
    const bottom = Math.min(height - 1, block.y + block.height);
    for (let y = block.y; y < bottom; y++)
      for (let x = block.x, i = y * width + x; x < right; x++, i++) {
        const a = alpha[i]!;
        const b = alpha[i + 1]!;
        const c = alpha[i + width]!;
        const d = alpha[i + width + 1]!;
        const low =
          a < b ? (a < c ? (a < d ? a : d) : c < d ? c : d) : b < c ? (b < d ? b : d) : c < d ? c : d;
        if (low >= 128 || (a < 128 && b < 128 && c < 128 && d < 128)) continue;
        edge.add(x, y);
        const full =
          (a >= FULL_ALPHA ? 1 : 0) +
          (b >= FULL_ALPHA ? 1 : 0) +
          (c >= FULL_ALPHA ? 1 : 0) +
          (d >= FULL_ALPHA ? 1 : 0);
        const gone =
          (a <= GONE_ALPHA ? 1 : 0) +
          (b <= GONE_ALPHA ? 1 : 0) +
          (c <= GONE_ALPHA ? 1 : 0) +
          (d <= GONE_ALPHA ? 1 : 0);
        if (full + gone === 4 && full % 2 === 1) steps.add(x, y);
      }
    if (block.y >= row + ROWS) yield { doing: 'checking', done: (row = block.y), total: height };
  }
  const isRough = (cell: number) =>
    steps.counts[cell]! >= FEWEST_STEPS && steps.counts[cell]! >= ROUGH_SHARE * edge.counts[cell]!;
  const places = steps
    .clustersOf(isRough)
    .map((cluster): Place => ({ ...cluster, at: { x: cluster.x, y: cluster.y } }));
  const count = places.reduce((sum, { pixels }) => sum + pixels, 0);
  return foundAt('rough-edge', 'doubt', places, `The edge has ${count} stair-steps without a transition.`);
}

/** Evens the edge out, from the mixture where that was switched off. */
export const evenEdges: Fix = (cut) => {
  if (!cut.edge.on) return { ...cut, edge: { ...cut.edge, on: true } };
  return { ...cut, edge: { ...cut.edge, evenness: Math.min(100, Math.max(60, cut.edge.evenness + 20)) } };
};
