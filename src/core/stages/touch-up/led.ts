import { pixelsOf } from '../../cut/keys';
import type { Cut } from '../../cut/schema';
import type { Rect } from '../../raster/raster';
import { STAGES } from '../stages';
import { boxAround, pathOf } from './path';
import { rimMarginAt } from './rim-mix';
import type { HandStroke } from './settings';

/**
 * Where a brush that is led changes what is seen, in pixels of the original: around the places that its stroke has gained since
 * an earlier cut. Null where nothing was gained, where the cuts differ in anything else, or where more of a stroke may look different: then nothing is
 * known. It may change more than it covers, by as much as its rim is un-mixed from.
 */
export function gainedBy(before: Cut, after: Cut): Rect | null {
  const [one, other] = [before.touchUp.strokes, after.touchUp.strokes];
  const last = other.at(-1);
  const led = one[other.length - 1];
  if (
    last?.kind !== 'brush' ||
    last.alike ||
    (one.length !== other.length && one.length !== other.length - 1)
  )
    return null;
  if (!sameBut(before, after, other.length - 1)) return null;
  const far = last.radiusPx + 2 * rimMarginAt(0);
  if (!led) return boxAround(pathOf(last.path), far);
  if (
    led.kind !== 'brush' ||
    led.path === last.path ||
    !last.path.startsWith(led.path) ||
    !sameBrush(led, last)
  )
    return null;
  // The last place counts again: the line goes on from there.
  return boxAround(pathOf(last.path), far, pathOf(led.path).xs.length - 1);
}

/** Whether two cuts are the same but for their strokes from one on. */
function sameBut(before: Cut, after: Cut, count: number): boolean {
  const keyOf = (cut: Cut) => {
    const strokes = cut.touchUp.strokes.slice(0, count);
    const without = { ...cut, touchUp: { ...cut.touchUp, strokes } };
    return JSON.stringify(STAGES.map((stage) => pixelsOf(without, stage)));
  };
  return keyOf(before) === keyOf(after);
}

function sameBrush(one: HandStroke, other: HandStroke): boolean {
  return JSON.stringify({ ...one, path: '' }) === JSON.stringify({ ...other, path: '' });
}
