import { BRUSH_PX } from '../core/stages/shapes';

/** The width of a brush in pixels of the original, whole and within its bounds. */
export function withinBrush(px: number): number {
  const { min, max } = BRUSH_PX;
  return Math.min(2 * max, Math.max(2 * min, Math.round(px)));
}
