import type { Point } from '../numeric/matrix3';
import type { Frame } from '../stages/prepare/frame';
import { originalPixel, shownPixel } from '../stages/prepare/shown';

/** Where the pixels of a cutout and of its original lie in each other. */
export interface Bearings {
  /** The pixel of the original under a pixel of the cutout, within the original. */
  toOriginal(x: number, y: number): Point;
  /** The pixel of the cutout in which a pixel of the original lies; may lie outside. */
  toCutout(x: number, y: number): Point;
}

/** The bearings of a cutout of that frame, of an original of that size. */
export function bearingsOf(
  frame: Frame,
  { width, height }: { readonly width: number; readonly height: number },
): Bearings {
  return {
    toOriginal(x, y) {
      const at = originalPixel(frame, x, y);
      return { x: Math.min(width - 1, Math.max(0, at.x)), y: Math.min(height - 1, Math.max(0, at.y)) };
    },
    toCutout: (x, y) => shownPixel(frame, x, y),
  };
}
