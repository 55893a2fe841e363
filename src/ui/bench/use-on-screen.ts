import type { Point } from '../../core/numeric/matrix3';
import { shownPlace } from '../../core/stages/prepare/shown';
import { useBench } from './bench-context';

/** Leads places of the original to the screen, in CSS pixels. */
export function useOnScreen(density: number): (x: number, y: number) => Point {
  const view = useBench((state) => state.view);
  const frame = useBench((state) => state.frame);
  return (x, y) => {
    const at = shownPlace(frame, x, y);
    return { x: (at.x * view.scale + view.left) / density, y: (at.y * view.scale + view.top) / density };
  };
}
