import { apply, type Point } from '../../numeric/matrix3';
import { pixelToFrame, pixelToOriginal, type Frame } from './frame';

/** The pixel of the cropped frame in which a pixel of the original lies; may lie outside. */
export function shownPixel(frame: Frame, x: number, y: number): Point {
  const at = pixelToFrame(frame, x, y);
  return { x: at.x - frame.crop.x, y: at.y - frame.crop.y };
}

/** The pixel of the original that a pixel of the cropped frame comes from; may lie outside. */
export function originalPixel(frame: Frame, x: number, y: number): Point {
  return pixelToOriginal(frame, x + frame.crop.x, y + frame.crop.y);
}

/** The same for places within pixels. */
export function shownPlace(frame: Frame, x: number, y: number): Point {
  const at = apply(frame.toFrame, x, y);
  return { x: at.x - frame.crop.x, y: at.y - frame.crop.y };
}

export function originalPlace(frame: Frame, x: number, y: number): Point {
  return apply(frame.toOriginal, x + frame.crop.x, y + frame.crop.y);
}
