import { labelRuns } from '../../numeric/label';
import type { Raster, Rect } from '../../raster/raster';
import { SPECK_ALPHA } from './island';

/** A joined piece of what is left: its box, and a pixel of it, in pixels of the cutout. */
export interface PieceLeft extends Rect {
  readonly at: { readonly x: number; readonly y: number };
  readonly pixels: number;
}

/** Pieces that are told at most, and how small a piece may be beside the largest one. */
export const MOST_PIECES_LEFT = 24;
const LEAST_SHARE = 0.01;

/** The pieces of a cutout that hang together (8 neighbors, alpha of SPECK_ALPHA or more), row by row from the upper left; the largest ones. */
export function piecesLeft({ width, height, data }: Raster): PieceLeft[] {
  const alpha = new Uint8Array(width * height);
  for (let i = 0, p = 3; i < alpha.length; i++, p += 4) alpha[i] = data[p]!;
  const parts = labelRuns({ data: alpha, width, height }, SPECK_ALPHA);
  const order = parts.areas
    .map((pixels, part) => ({ pixels, part }))
    .sort((one, other) => other.pixels - one.pixels);
  const least = LEAST_SHARE * (order[0]?.pixels ?? 0);
  const wanted = order.slice(0, MOST_PIECES_LEFT).filter(({ pixels }) => pixels >= least);
  const boxes = new Map(
    wanted.map(({ part }) => [part, { left: width, top: height, right: 0, bottom: 0, at: -1, deep: 0 }]),
  );
  parts.forEachRun((part, start, length) => {
    const box = boxes.get(part);
    if (!box) return;
    const y = Math.floor(start / width);
    const x = start - y * width;
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x + length);
    box.top = Math.min(box.top, y);
    box.bottom = Math.max(box.bottom, y + 1);
    if (length <= box.deep) return;
    // In the middle of its longest run a piece is most likely to stay, whatever becomes of its edge.
    box.deep = length;
    box.at = start + (length >> 1);
  });
  return [...boxes.values()]
    .map(({ left, top, right, bottom, at }, k): PieceLeft => ({
      x: left,
      y: top,
      width: right - left,
      height: bottom - top,
      at: { x: at % width, y: Math.floor(at / width) },
      pixels: wanted[k]!.pixels,
    }))
    .sort((one, other) => (isAbove(one, other) ? -1 : isAbove(other, one) ? 1 : one.x - other.x));
}

/** Whether a piece lies wholly above another. */
function isAbove(one: Rect, other: Rect): boolean {
  return one.y + one.height <= other.y;
}
