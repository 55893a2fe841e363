import type { Cut, Prepare } from '../cut/schema';
import { apply, multiply, type Matrix3 } from '../numeric/matrix3';
import type { Rect } from '../raster/raster';
import { frameOf } from '../stages/prepare/frame';
import { evenLight } from '../stages/prepare/light';
import { lightOf, type Source } from '../stages/prepare/prepare';
import { findStraightening } from '../stages/prepare/straighten';
import { KenosisError } from '../errors';
import { cropAround, flatCopy, type InkLook, type NoInk } from './ink';
import { nameColor } from './name-color';

/** A cut by ink and how its frame was changed. */
export interface Reframed {
  readonly cut: Cut;
  readonly straightened: boolean;
  readonly cropped: boolean;
}

/** Writing is straightened by itself only when it is so sure, and so far off, in degrees. */
export const SURE = 0.6;
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
  const straightened = found !== null && found.confidence >= SURE && Math.abs(found.deg) >= LEAST_DEG;
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

/** One sentence that says why the picture is taken for ink and what is done. */
export function explainInk({ light }: InkLook, { cut, straightened, cropped }: Reframed): string {
  const { red, green, blue } = light.paper;
  const paper = nameColor({
    red: Math.round(red),
    green: Math.round(green),
    blue: Math.round(blue),
  }).toLowerCase();
  const { prepare } = cut;
  const parts = [`Ink on ${paper} paper${prepare.flatten > 0 ? ', its uneven light flattened' : ''}`];
  if (prepare.corners) parts.push('the sheet squared up');
  if (prepare.removeRules) parts.push('ruled lines removed');
  if (prepare.calm > 0) parts.push('grain calmed');
  if (straightened) parts.push(`straightened by ${prepare.straightenDeg}°`);
  if (cropped) parts.push('cropped to the writing');
  parts.push(`read from ${CHANNEL_WORDS[cut.clear.ink!.channel]}`);
  return `${parts.join('; ')}.`;
}

export const CHANNEL_WORDS = {
  luminance: 'luminance',
  red: 'the red channel',
  green: 'the green channel',
  blue: 'the blue channel',
  'red-green': 'red against green',
  'yellow-blue': 'yellow against blue',
} as const;

/** Why there is no ink to be cleared by, and what to do. */
export const NO_INK: Readonly<Record<NoInk, string>> = {
  'too small': 'The picture is under 32 pixels wide or high: too small to tell ink from paper.',
  blank: 'The page is blank: nothing on it is dark enough to be ink.',
  solid: 'The page is dark all over: no bare paper is seen to tell ink from.',
  dark: 'The ground is too dark for paper. Clear it by color instead.',
  colored: 'The ground is too strongly colored for paper. Clear it by color instead.',
  patchy: 'The ground changes its color from place to place: that is no paper. Clear it by color instead.',
  pure: 'The ground is pure white, as drawn pictures have it.',
  broad:
    'What is dark is broad or covers much of the picture: that is no writing. Clear it by color instead.',
  'many hues': 'What is dark has several colors: that is not one ink. Clear it by color instead.',
  photo:
    'Most of the picture lies between dark and light: that looks like a photo, not like ink on paper. Clear it by color instead.',
};

export function noInk(why: NoInk): KenosisError {
  return new KenosisError('no-ink', `No ink was cleared and nothing was written. ${NO_INK[why]}`);
}
