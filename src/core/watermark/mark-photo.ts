import { KenosisError } from '../errors';
import type { Plane } from '../raster/plane';
import { drawMark } from './draw-mark';
import { layMark } from './lay-mark';
import { edgeOfMark, MOST_PLACES, MOST_PLACES_OF_MANY, toneOn, type MarkSeen } from './mark-contrast';
import { laidMark, type MarkMaterial } from './layout';
import { placedMark, placeOn } from './place-mark';
import { smallLight, type PhotoView } from './photo-view';
import type { Watermark } from './settings';

/** A photo is made so small to look for a quiet place. */
const QUIET_PX = 320;

/** Letters that are less high than this cannot be read. */
const LEAST_LETTER_PX = 7;

/** A mark that is less wide or high than this is none. */
const LEAST_MARK_PX = 3;

/** Of more copies fewer places of their edges are read. */
const FEW_COPIES = 4;

/** What became of a photo. */
export interface MarkReport {
  /** Each copy. */
  readonly copies: readonly MarkSeen[];
  /** The least contrast of all copies; null where none has an edge on the photo. */
  readonly contrast: number | null;
  /** How much of the photo's pixels were changed, 0 to 1. */
  readonly changed: number;
  /** What is to be said of it, in sentences. */
  readonly remarks: readonly string[];
}

/**
 * Puts a watermark on a photo, which is changed in place. The same pixels, watermark and material give the same result everywhere.
 * Throws `bad-watermark` where nothing of it is to be seen, and `photo-too-small`.
 */
export function markPhoto(view: PhotoView, watermark: Watermark, material: MarkMaterial): MarkReport {
  const laid = laidMark(watermark, material);
  const { look } = watermark;
  if (laid.box.width <= 0 || laid.box.height <= 0)
    throw new KenosisError(
      'bad-watermark',
      `"${watermark.name}" has nothing to be seen: it has no cutout, and no text with letters.`,
    );
  const place = placeOn(watermark, view);
  let small: Plane<Float32Array> | null = null;
  const light = () => (small ??= smallLight(view, QUIET_PX));
  const { unitPx, middles, isShrunk, roomPx } = placedMark(laid, look, place, view, light);
  if (laid.box.width * unitPx < LEAST_MARK_PX || laid.box.height * unitPx < LEAST_MARK_PX)
    throw new KenosisError(
      'photo-too-small',
      `A photo of ${view.width} x ${view.height} pixels is too small for the mark "${watermark.name}". Nothing was made of it.`,
    );
  const mark = drawMark(laid, look, { unitPx, angleDeg: place.angleDeg, mostVeilPx: roomPx });
  const edge = edgeOfMark(mark, middles.length > FEW_COPIES ? MOST_PLACES_OF_MANY : MOST_PLACES);
  const copies: MarkSeen[] = [];
  let changed = 0;
  for (const { x, y } of middles) {
    const at = { x: Math.round(x) + mark.left, y: Math.round(y) + mark.top };
    const seen = toneOn(view, mark, edge, at, look);
    changed += layMark(view, mark, at, seen, look.blend);
    copies.push(seen);
  }
  const contrasts = copies.flatMap((copy) => (copy.contrast === null ? [] : [copy.contrast]));
  const contrast = contrasts.length > 0 ? Math.min(...contrasts) : null;
  const remarks: string[] = [];
  if (contrast !== null && contrast < look.contrast.least)
    remarks.push(
      `The mark has a contrast of ${contrast.toFixed(1)} only: its color lies too near to both black and white. Choose others.`,
    );
  const letter = 0.7 * smallestText(watermark) * unitPx;
  if (letter < LEAST_LETTER_PX)
    remarks.push(
      `Its letters are about ${Math.max(1, Math.round(letter))}\u00a0px high here: too small to be read.`,
    );
  if (isShrunk)
    remarks.push('It was made smaller than its rule says, to fit and to change no more than it may.');
  return { copies, contrast, changed: changed / (view.width * view.height), remarks };
}

function smallestText({ layout }: Watermark): number {
  const sizes = layout.groups.flatMap(({ parts }) =>
    parts.flatMap((part) => (part.kind === 'text' && part.text.trim() !== '' ? [part.size] : [])),
  );
  return Math.min(...sizes, Infinity);
}
