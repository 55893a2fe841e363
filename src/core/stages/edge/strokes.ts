import { square } from '../../numeric/exact';
import type { Rect } from '../../raster/raster';
import type { Stroke } from '../shapes';

/**
 * Marks with 1 what strokes of a brush cover: every pixel whose center lies within a stroke's radius of its line. Points
 * and radii are in pixels of the original; `around` and `marks` at `reduction` halvings. Marks that are there stay.
 */
export function markStrokes(
  strokes: readonly Stroke[],
  reduction: number,
  around: Rect,
  marks: Uint8Array,
): void {
  for (const { radiusPx, points } of strokes) {
    const radius = Math.max(0.5, radiusPx / (1 << reduction));
    const at = points.map(([x, y]) => [x / (1 << reduction) - around.x, y / (1 << reduction) - around.y]);
    at.forEach((to, k) => markCapsule(at[Math.max(0, k - 1)]!, to, radius, around, marks));
  }
}

/** Marks what lies within `radius` of the line from one point to another. */
function markCapsule(
  from: readonly number[],
  to: readonly number[],
  radius: number,
  { width, height }: Rect,
  marks: Uint8Array,
): void {
  const [x0, y0] = [from[0]!, from[1]!];
  const [wayX, wayY] = [to[0]! - x0, to[1]! - y0];
  const length = wayX * wayX + wayY * wayY;
  const left = Math.max(0, Math.floor(Math.min(x0, to[0]!) - radius));
  const right = Math.min(width - 1, Math.ceil(Math.max(x0, to[0]!) + radius));
  const top = Math.max(0, Math.floor(Math.min(y0, to[1]!) - radius));
  const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, to[1]!) + radius));
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const [dx, dy] = [x + 0.5 - x0, y + 0.5 - y0];
      const along = length > 0 ? Math.min(1, Math.max(0, (dx * wayX + dy * wayY) / length)) : 0;
      if (square(dx - along * wayX) + square(dy - along * wayY) <= radius * radius) marks[y * width + x] = 1;
    }
  }
}
