import type { Cut } from '../cut/schema';
import type { Prepare } from '../stages/prepare/settings';
import { apply, multiply, type Matrix3 } from '../numeric/matrix3';
import type { Rect } from '../raster/raster';
import { cropAround } from '../stages/prepare/content';
import { frameOf } from '../stages/prepare/frame';
import { evenLight } from '../stages/prepare/light';
import { lightOf, type Source } from '../stages/prepare/prepare';
import { findStraightening } from '../stages/prepare/straighten';
import { flatCopy, type InkLook } from './ink';

/** A cut by ink and how its frame was changed. */
export interface Reframed {
  readonly cut: Cut;
  readonly straightened: boolean;
  readonly cropped: boolean;
}

/** Writing is straightened by itself only when it is so sure, and so far off, in degrees. */
const SURE_SHARE = 0.6;
const LEAST_DEG = 0.2;

/** The cut with the frame that was wished for: straightened when that is sure, cropped to the writing with a margin. */
export function reframed(
  source: Source,
  { content, base }: InkLook,
  cut: Cut,
  wishes: { readonly crop?: boolean; readonly straighten?: boolean },
): Reframed {
  const { original } = source;
  let prepare: Prepare = cut.prepare;
  const found = wishes.straighten
    ? findStraightening(flatCopy(source, base), evenLight(lightOf(source).paper))
    : null;
  const straightened = found !== null && found.confidence >= SURE_SHARE && Math.abs(found.deg) >= LEAST_DEG;
  if (straightened) prepare = { ...prepare, straightenDeg: Math.round(found.deg * 100) / 100 };
  if (wishes.crop) {
    const frame = frameOf({ ...prepare, crop: null }, original.width, original.height);
    const { toOriginal } = frameOf(base, original.width, original.height);
    const box = framedBox(content, multiply(frame.toFrame, toOriginal));
    prepare = { ...prepare, crop: cropAround(box, frame.width, frame.height) };
  }
  return { cut: { ...cut, prepare }, straightened, cropped: wishes.crop ?? false };
}

/** The smallest box of a frame that holds a box of another. */
function framedBox({ x, y, width, height }: Rect, toFrame: Matrix3): Rect {
  const corners = [
    apply(toFrame, x, y),
    apply(toFrame, x + width, y),
    apply(toFrame, x, y + height),
    apply(toFrame, x + width, y + height),
  ];
  const left = Math.max(0, Math.floor(Math.min(...corners.map((corner) => corner.x))));
  const top = Math.max(0, Math.floor(Math.min(...corners.map((corner) => corner.y))));
  return {
    x: left,
    y: top,
    width: Math.ceil(Math.max(...corners.map((corner) => corner.x))) - left,
    height: Math.ceil(Math.max(...corners.map((corner) => corner.y))) - top,
  };
}
