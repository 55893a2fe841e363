import type { Rect } from '../raster/raster';
import { foundAt, type Finding, type Finished, type Fix, type Place } from './finding';

/** What is this opaque along a side of the frame, over so many pixels, is the subject. */
const THERE_ALPHA = 128;
const FEWEST_PIXELS = 2;

type Side = 'left' | 'right' | 'top' | 'bottom';

/** Where the subject touches the frame. `cropped` says of which sides a crop took something away. */
export function findFrameTouches(
  { raster: { width, height }, alpha }: Finished,
  cropped: readonly Side[],
): Finding | null {
  const sides: [Side, Rect][] = [
    ['top', { x: 0, y: 0, width, height: 1 }],
    ['bottom', { x: 0, y: height - 1, width, height: 1 }],
    ['left', { x: 0, y: 0, width: 1, height }],
    ['right', { x: width - 1, y: 0, width: 1, height }],
  ];
  const places: Place[] = [];
  const touched: Side[] = [];
  for (const [side, line] of sides) {
    const found = touchOn(alpha, width, line);
    if (!found) continue;
    places.push(found);
    touched.push(side);
  }
  const cut = touched.filter((side) => cropped.includes(side));
  const sentence =
    cut.length > 0
      ? `The crop goes through the subject (${cut.join(', ')}).`
      : `The subject touches the frame (${touched.join(', ')}): it may go on beyond.`;
  return foundAt('frame', 'doubt', places, sentence);
}

/** Takes the crop away; what the picture itself lacks cannot be brought back. */
export const uncrop: Fix = (cut) => ({ ...cut, prepare: { ...cut.prepare, crop: null } });

function touchOn(alpha: Uint8Array, width: number, line: Rect): Place | null {
  const isRow = line.height === 1;
  const length = isRow ? line.width : line.height;
  let [first, last, pixels] = [-1, -1, 0];
  for (let k = 0; k < length; k++) {
    const i = isRow ? line.y * width + k : k * width + line.x;
    if (alpha[i]! < THERE_ALPHA) continue;
    if (first < 0) first = k;
    last = k;
    pixels++;
  }
  if (pixels < FEWEST_PIXELS) return null;
  const extent = last - first + 1;
  return isRow
    ? { x: first, y: line.y, width: extent, height: 1, at: { x: first, y: line.y }, pixels }
    : { x: line.x, y: first, width: 1, height: extent, at: { x: line.x, y: first }, pixels };
}
