import { clipRect, growRect, type Raster, type Rect } from '../../raster/raster';

/** From this alpha on pixels of a speck hang together. */
export const SPECK_ALPHA = 9;

/** Below this alpha a pixel of the subject is part of a hole. */
export const HOLE_ALPHA = 248;

/** How many pixels beyond a speck its faint rim goes at most. */
const RIM_PX = 2;

/** A place with a reach around it, in pixels of the picture. */
export interface Around {
  readonly x: number;
  readonly y: number;
  readonly reachPx: number;
}

/** The square that a place reaches over, within the picture. */
export function squareAround({ x, y, reachPx }: Around, whole: { width: number; height: number }): Rect {
  return clipRect(growRect({ x, y, width: 1, height: 1 }, reachPx), whole.width, whole.height);
}

/**
 * The pixels of `square` (1 in a mask of its size) that make up the island at a place: for a speck what hangs together by
 * 8 neighbors at SPECK_ALPHA or more, with its faint rim; for a pinhole what hangs together below HOLE_ALPHA. `wide` holds
 * the part `part` of the picture, the square in it. Null where nothing of that kind is there, or where it goes on beyond the
 * square: then it is no island.
 */
export function islandAt(
  wide: Raster,
  part: Rect,
  at: Around,
  square: Rect,
  whole: { readonly width: number; readonly height: number },
  what: 'speck' | 'pinhole',
): Uint8Array | null {
  const { width, height } = square;
  const alphaAt = (x: number, y: number) =>
    wide.data[((square.y + y - part.y) * wide.width + square.x + x - part.x) * 4 + 3]!;
  const belongs = (alpha: number) => (what === 'speck' ? alpha >= SPECK_ALPHA : alpha < HOLE_ALPHA);
  const [startX, startY] = [at.x - square.x, at.y - square.y];
  if (startX < 0 || startY < 0 || startX >= width || startY >= height) return null;
  if (!belongs(alphaAt(startX, startY))) return null;
  const mask = new Uint8Array(width * height);
  const found = [startY * width + startX];
  mask[found[0]!] = 1;
  for (let k = 0; k < found.length; k++) {
    const x = found[k]! % width;
    const y = Math.floor(found[k]! / width);
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        if (dx === 0 && dy === 0) continue;
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || v < 0 || u >= width || v >= height) {
          if (goesOn(square.x + u, square.y + v, whole, what)) return null;
          continue;
        }
        if (mask[v * width + u] === 1 || !belongs(alphaAt(u, v))) continue;
        mask[v * width + u] = 1;
        found.push(v * width + u);
      }
  }
  if (what === 'speck') addRim(mask, found, square, alphaAt);
  return mask;
}

/** Whether something may go on at a place beyond the square: not beyond the picture, but a hole there is open. */
function goesOn(x: number, y: number, whole: { width: number; height: number }, what: 'speck' | 'pinhole') {
  const inside = x >= 0 && y >= 0 && x < whole.width && y < whole.height;
  return inside || what === 'pinhole';
}

/** Adds what is fainter around a speck. */
function addRim(
  mask: Uint8Array,
  speck: readonly number[],
  { width, height }: Rect,
  alphaAt: (x: number, y: number) => number,
): void {
  let layer: readonly number[] = speck;
  for (let step = 0; step < RIM_PX; step++) {
    const next: number[] = [];
    for (const i of layer) {
      const x = i % width;
      const y = Math.floor(i / width);
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const alpha = alphaAt(u, v);
          if (mask[v * width + u] === 1 || alpha === 0 || alpha >= SPECK_ALPHA) continue;
          mask[v * width + u] = 1;
          next.push(v * width + u);
        }
    }
    layer = next;
  }
}
