import { settingsOf, withSettings, type Cut } from '../../cut/schema';
import { apply, multiply } from '../../numeric/matrix3';
import type { Rect } from '../../raster/raster';
import type { Stroke } from '../shapes';
import { same, type Placing, type Stage } from '../stage';
import { STAGES } from '../stages';
import { pixelToFrame, type Frame } from './frame';
import { AS_IT_CAME } from './settings';

/**
 * The part of the frame that is worked on: the crop, and as much around it as to hold the places that act on it, so that
 * cropping changes nothing of what is cleared. All of it where a stage needs to see all.
 */
export function workOf(frame: Frame, cut: Cut, stages: readonly Stage[] = STAGES): Rect {
  const { crop } = frame;
  let left = crop.x;
  let top = crop.y;
  let right = crop.x + crop.width;
  let bottom = crop.y + crop.height;
  for (const stage of stages) {
    const places = stage.beyondCrop(settingsOf(cut, stage));
    if (places === 'all') return { x: 0, y: 0, width: frame.width, height: frame.height };
    for (const place of places) {
      const { x, y } = pixelToFrame(frame, place.x, place.y);
      left = Math.min(left, x - place.reachPx);
      top = Math.min(top, y - place.reachPx);
      right = Math.max(right, x + 1 + place.reachPx);
      bottom = Math.max(bottom, y + 1 + place.reachPx);
    }
  }
  const x = Math.max(0, left);
  const y = Math.max(0, top);
  return { x, y, width: Math.min(frame.width, right) - x, height: Math.min(frame.height, bottom) - y };
}

/** The cut with all its places in pixels of the work area, and nothing left to prepare. */
export function framedCut(cut: Cut, frame: Frame, work: Rect, stages: readonly Stage[] = STAGES): Cut {
  if (isUnprepared(cut)) return cut;
  const placing = placingOn(frame, work);
  return withSettings(cut, stages, (stage, settings) => stage.place(settings, placing));
}

function placingOn(frame: Frame, work: Rect): Placing {
  const at = <T extends { readonly x: number; readonly y: number }>(place: T): T => {
    const { x, y } = pixelToFrame(frame, place.x, place.y);
    return { ...place, x: x - work.x, y: y - work.y };
  };
  return {
    at,
    toWork: multiply([1, 0, -work.x, 0, 1, -work.y, 0, 0, 1], frame.toFrame),
    within(place) {
      const moved = at(place);
      return { ...moved, x: clamped(moved.x, work.width), y: clamped(moved.y, work.height) };
    },
    isInside(place) {
      const { x, y } = at({ x: place.x, y: place.y });
      return x >= 0 && y >= 0 && x < work.width && y < work.height;
    },
    stroke: <T extends Stroke>(stroke: T): T => ({
      ...stroke,
      points: stroke.points.map(([x, y]) => {
        const moved = apply(frame.toFrame, x, y);
        return [moved.x - work.x, moved.y - work.y];
      }),
    }),
  };
}

/** Whether Prepare leaves each pixel as and where it is. */
export function isUnprepared({ prepare }: Cut): boolean {
  return !prepare.on || same({ ...prepare, on: true }, AS_IT_CAME);
}

function clamped(at: number, size: number): number {
  return Math.min(size - 1, Math.max(0, at));
}
