import type { DrawnMark, MarkVersion } from './draw-mark';
import type { PhotoView } from './photo-view';
import type { MarkLook } from './settings';

/** How a copy of a mark lies on the photo: by what was found to be needed there. */
export interface MarkTone {
  readonly version: MarkVersion;
  /** How far the ground is darkened (under the light version) or lightened, 0 to 1. */
  readonly veil: number;
  /** 0 to 1. */
  readonly opacity: number;
}

/** Where a mark lies: the pixel of the photo that the upper left one of its region lies on. */
export interface MarkOrigin {
  readonly x: number;
  readonly y: number;
}

/**
 * Puts what a pixel of the photo becomes under a pixel of the mark into `out` (red, green, blue, and alpha where the photo has it):
 * the veil first, then what lies under the letters, then they; in encoded values, as browsers do.
 */
export function blendPixel(
  { data, channels }: PhotoView,
  q: number,
  mark: DrawnMark,
  i: number,
  { version, veil, opacity }: MarkTone,
  blend: MarkLook['blend'],
  out: Uint8Array,
): void {
  const p = i * 4;
  const face = mark.face[version].data;
  const share = (face[p + 3]! / 255) * opacity;
  const shade = veil > 0 ? (mark.veil().data[i]! / 255) * veil : 0;
  const under = mark.under?.[version].data;
  const underShare = under ? (under[p + 3]! / 255) * opacity : 0;
  const toward = version === 'light' ? 0 : 255;
  // What is seen of the photo itself where it is not opaque.
  const own = channels === 4 ? data[q + 3]! / 255 : 1;
  const middle = own + underShare * (1 - own);
  const whole = middle + share * (1 - middle);
  for (let c = 0; c < 3; c++) {
    let color = data[q + c]! + (toward - data[q + c]!) * shade;
    if (underShare > 0) color = (under![p + c]! * underShare + color * own * (1 - underShare)) / middle;
    if (share > 0) {
      const mine = face[p + c]!;
      const shown =
        blend === 'lighten' ? Math.max(mine, color) : blend === 'darken' ? Math.min(mine, color) : mine;
      color = (shown * share + color * middle * (1 - share)) / whole;
    }
    out[c] = Math.round(color);
  }
  if (channels === 4) out[3] = Math.round(255 * whole);
}

/** Lays a copy of a mark on a photo, which is changed. Returns how many pixels of it are others now. */
export function layMark(
  view: PhotoView,
  mark: DrawnMark,
  { x: left, y: top }: MarkOrigin,
  tone: MarkTone,
  blend: MarkLook['blend'],
): number {
  const { channels, origin, stepX, stepY } = view;
  const isPlain = channels === 3 && blend === 'normal' && mark.under === null;
  const spans = tone.veil > 0 ? mark.veil().spans : mark.spans;
  let changed = 0;
  for (let y = Math.max(0, -top); y < Math.min(mark.height, view.height - top); y++) {
    const from = Math.max(spans[2 * y]!, -left);
    const to = Math.min(spans[2 * y + 1]!, view.width - left);
    if (to <= from) continue;
    const i = y * mark.width + from;
    const q = origin + (left + from) * stepX + (top + y) * stepY;
    changed += isPlain
      ? layPlainRow(view, q, mark, i, to - from, tone)
      : layRow(view, q, mark, i, to - from, tone, blend);
  }
  return changed;
}

function layRow(
  view: PhotoView,
  from: number,
  mark: DrawnMark,
  start: number,
  count: number,
  tone: MarkTone,
  blend: MarkLook['blend'],
): number {
  const { data, channels, stepX } = view;
  const out = new Uint8Array(4);
  const face = mark.face[tone.version].data;
  const under = mark.under?.[tone.version].data;
  const veils = tone.veil > 0 ? mark.veil().data : null;
  let changed = 0;
  for (let k = 0, i = start, q = from; k < count; k++, i++, q += stepX) {
    const isVeiled = veils !== null && veils[i]! > 0;
    if (face[i * 4 + 3] === 0 && !isVeiled && !(under && under[i * 4 + 3]! > 0)) continue;
    blendPixel(view, q, mark, i, tone, blend, out);
    let differs = false;
    for (let c = 0; c < channels; c++) {
      if (data[q + c] !== out[c]) differs = true;
      data[q + c] = out[c]!;
    }
    if (differs) changed++;
  }
  return changed;
}

/** The same for an opaque photo and a mark of letters alone: what `blendPixel` computes, without what is not there. */
function layPlainRow(
  { data, stepX }: PhotoView,
  from: number,
  mark: DrawnMark,
  start: number,
  count: number,
  { version, veil, opacity }: MarkTone,
): number {
  const face = mark.face[version].data;
  const veils = veil > 0 ? mark.veil().data : null;
  const toward = version === 'light' ? 0 : 255;
  let changed = 0;
  for (let k = 0, i = start, q = from, p = start * 4; k < count; k++, i++, q += stepX, p += 4) {
    const alpha = face[p + 3]!;
    const shade = veils ? (veils[i]! / 255) * veil : 0;
    if (alpha === 0 && shade === 0) continue;
    const share = (alpha / 255) * opacity;
    const [red, green, blue] = [data[q]!, data[q + 1]!, data[q + 2]!];
    const rest = 1 - share;
    const r = Math.round(face[p]! * share + (red + (toward - red) * shade) * rest);
    const g = Math.round(face[p + 1]! * share + (green + (toward - green) * shade) * rest);
    const b = Math.round(face[p + 2]! * share + (blue + (toward - blue) * shade) * rest);
    if (r === red && g === green && b === blue) continue;
    data[q] = r;
    data[q + 1] = g;
    data[q + 2] = b;
    changed++;
  }
  return changed;
}
