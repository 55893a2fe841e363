import type { Cut, Mend, Sample, Stroke } from '../../cut/schema';
import { AS_IT_CAME } from '../../cut/upgrade';
import { apply } from '../../numeric/matrix3';
import type { Rect } from '../../raster/raster';
import { pixelToFrame, type Frame } from './frame';

/**
 * The part of the frame that is worked on: the crop, and as much around it as to hold the samples and pockets that act
 * on it, so that cropping changes nothing of what is cleared. All of it where the picture as a whole decides.
 */
export function workOf(frame: Frame, cut: Cut): Rect {
  const { crop } = frame;
  if (cut.clear.marks.length > 0 || cut.clear.samples.some(({ rule }) => rule === 'whole'))
    return { x: 0, y: 0, width: frame.width, height: frame.height };
  let left = crop.x;
  let top = crop.y;
  let right = crop.x + crop.width;
  let bottom = crop.y + crop.height;
  const take = (at: { x: number; y: number }, reach: number) => {
    const { x, y } = pixelToFrame(frame, at.x, at.y);
    left = Math.min(left, x - reach);
    top = Math.min(top, y - reach);
    right = Math.max(right, x + 1 + reach);
    bottom = Math.max(bottom, y + 1 + reach);
  };
  for (const sample of cut.clear.samples) {
    take(sample, sample.areaPx);
    if (sample.to) take(sample.to, sample.areaPx);
  }
  const x = Math.max(0, left);
  const y = Math.max(0, top);
  return { x, y, width: Math.min(frame.width, right) - x, height: Math.min(frame.height, bottom) - y };
}

/** The cut with all its places in pixels of the work area, and nothing left to prepare. */
export function framedCut(cut: Cut, frame: Frame, work: Rect): Cut {
  if (isUnprepared(cut)) return cut;
  const place = <T extends { x: number; y: number }>(at: T): T => {
    const { x, y } = pixelToFrame(frame, at.x, at.y);
    return { ...at, x: within(x - work.x, work.width), y: within(y - work.y, work.height) };
  };
  const sample = (one: Sample): Sample => ({ ...place(one), to: one.to && place(one.to) });
  const inside = ({ x, y }: { x: number; y: number }) => {
    const at = pixelToFrame(frame, x, y);
    return at.x >= work.x && at.y >= work.y && at.x < work.x + work.width && at.y < work.y + work.height;
  };
  /** Mends of things outside do nothing; what reaches far acts around its place all the same. */
  const reaches = (one: Mend) => one.mend === 'residue' || one.mend === 'halo' || inside(one);
  const mend = (one: Mend): Mend => {
    const { x, y } = pixelToFrame(frame, one.x, one.y);
    return { ...one, x: x - work.x, y: y - work.y };
  };
  const stroke = <T extends Stroke>(one: T): T => ({
    ...one,
    points: one.points.map(([x, y]) => {
      const at = apply(frame.toFrame, x, y);
      return [at.x - work.x, at.y - work.y];
    }),
  });
  return {
    ...cut,
    prepare: AS_IT_CAME,
    clear: {
      ...cut.clear,
      samples: cut.clear.samples.map(sample),
      pockets: cut.clear.pockets.filter(inside).map(place),
      marks: cut.clear.marks.map(stroke),
    },
    edge: { ...cut.edge, fineDetail: cut.edge.fineDetail.map(stroke) },
    touchUp: { ...cut.touchUp, mends: cut.touchUp.mends.filter(reaches).map(mend) },
  };
}

/** Whether Prepare leaves each pixel as and where it is. */
export function isUnprepared({ prepare }: Cut): boolean {
  return !prepare.on || JSON.stringify({ ...prepare, on: true }) === JSON.stringify(AS_IT_CAME);
}

function within(at: number, size: number): number {
  return Math.min(size - 1, Math.max(0, at));
}
