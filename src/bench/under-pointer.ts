import type { Point } from '../core/numeric/matrix3';
import { originalPixel, originalPlace } from '../core/stages/prepare/shown';
import { PLACE_PX, type Stroke } from '../core/stages/shapes';
import type { PieceFacts } from './api';
import type { BenchState } from './bench-state';
import { pixelUnder } from './placement';

type Seen = Pick<BenchState, 'view' | 'frame'>;

/** The pixel of the original under a screen pixel; null outside of what is shown. */
export function pixelAt({ view, frame }: Seen, { x, y }: Point): Point | null {
  const at = pixelUnder(view, x, y);
  if (at.x < 0 || at.y < 0 || at.x >= frame.crop.width || at.y >= frame.crop.height) return null;
  return originalPixel(frame, at.x, at.y);
}

/** The pixel of the original that is nearest to a screen pixel. */
export function nearestPixel({ view, frame }: Seen, piece: PieceFacts, { x, y }: Point): Point {
  const at = pixelUnder(view, x, y);
  const found = originalPixel(frame, at.x, at.y);
  return {
    x: Math.min(piece.width - 1, Math.max(0, found.x)),
    y: Math.min(piece.height - 1, Math.max(0, found.y)),
  };
}

/** The place of the original under a screen pixel, as exact as a brush or a corner is led. */
export function placeAt({ view, frame }: Seen, { x, y }: Point): Stroke['points'][number] {
  const at = originalPlace(frame, (x - view.left) / view.scale, (y - view.top) / view.scale);
  const tenth = (value: number) =>
    Math.min(PLACE_PX.max, Math.max(PLACE_PX.min, Math.round(value * 10) / 10));
  return [tenth(at.x), tenth(at.y)];
}
