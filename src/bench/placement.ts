import type { View } from '../core/view/compose';

/** Zoom limits: the smallest and the largest number of device pixels for one pixel of the original. */
export const SCALE = { min: 1 / 64, max: 32 } as const;

/** Free space around a fitted sheet, in device pixels. */
const MARGIN = 24;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** The whole picture as large as it fits, never over 100 %, in the middle. */
export function fit(picture: Size, screen: Size): View {
  const scale = Math.min(
    1,
    Math.max(
      SCALE.min,
      Math.min((screen.width - 2 * MARGIN) / picture.width, (screen.height - 2 * MARGIN) / picture.height),
    ),
  );
  return centered(picture, screen, scale);
}

/** The picture at one scale, in the middle of the screen. */
export function centered(picture: Size, screen: Size, scale: number): View {
  return {
    scale,
    left: Math.round((screen.width - picture.width * scale) / 2),
    top: Math.round((screen.height - picture.height * scale) / 2),
    width: screen.width,
    height: screen.height,
  };
}

/** Another scale, with the point (screen pixels) staying where it is. */
export function zoomAt(view: View, x: number, y: number, scale: number): View {
  const next = Math.min(SCALE.max, Math.max(SCALE.min, scale));
  const ratio = next / view.scale;
  return {
    ...view,
    scale: next,
    left: Math.round(x - (x - view.left) * ratio),
    top: Math.round(y - (y - view.top) * ratio),
  };
}

/** Moves the sheet; at least `MARGIN` pixels of it stay in sight. */
export function panBy(view: View, dx: number, dy: number, picture: Size): View {
  const keep = (value: number, screen: number, size: number) =>
    Math.round(Math.min(screen - MARGIN, Math.max(MARGIN - size, value)));
  return {
    ...view,
    left: keep(view.left + dx, view.width, picture.width * view.scale),
    top: keep(view.top + dy, view.height, picture.height * view.scale),
  };
}

/** The pixel of the original under a screen point; may lie outside of the picture. */
export function pixelUnder(view: View, x: number, y: number): { x: number; y: number } {
  return { x: Math.floor((x - view.left) / view.scale), y: Math.floor((y - view.top) / view.scale) };
}
