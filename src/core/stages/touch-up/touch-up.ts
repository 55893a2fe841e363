import type { Cut } from '../../cut/schema';
import type { Mend } from './settings';
import { clipRect, growRect, overlapRect, type Raster, type Rect } from '../../raster/raster';
import { rgbOfHex } from '../../color/hex';
import { cleanRimInto, RIM_MARGIN_PX } from './rim';
import { islandAt, squareAround } from './island';
import { EDGE_TAIL_PX, RESIDUE_MARGIN_PX, residueIn } from './residue';

/** A mend as it lies at some size of the picture. */
export type Spot = Mend;

/** The mends that act, in pixels of a scene of that reduction. */
export function spotsOf(cut: Cut, reduction: number): readonly Spot[] {
  if (!cut.touchUp.on) return [];
  if (reduction === 0) return cut.touchUp.mends;
  return cut.touchUp.mends.map((mend) => ({
    ...mend,
    x: mend.x >> reduction,
    y: mend.y >> reduction,
    reachPx: Math.max(1, Math.ceil(mend.reachPx / (1 << reduction))),
  }));
}

/**
 * The part of the picture that must be known before Touch up so that the part `rect` can be mended; null where no spot
 * reaches into it.
 */
export function surroundingsOf(
  spots: readonly Spot[],
  rect: Rect,
  whole: { readonly width: number; readonly height: number },
): Rect | null {
  let [left, top, right, bottom] = [rect.x, rect.y, rect.x + rect.width, rect.y + rect.height];
  let any = false;
  const take = ({ x, y, width, height }: Rect) => {
    any = true;
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x + width);
    bottom = Math.max(bottom, y + height);
  };
  for (const spot of spots) {
    const square = squareAround(spot, whole);
    if (!overlapRect(square, rect)) continue;
    if (spot.mend === 'residue') take(growRect(rect, RESIDUE_MARGIN_PX));
    else if (spot.mend === 'halo') take(growRect(rect, RIM_MARGIN_PX));
    else take(square);
  }
  return any
    ? clipRect({ x: left, y: top, width: right - left, height: bottom - top }, whole.width, whole.height)
    : null;
}

/**
 * Touch up: mends the part `rect` into `out`. `wide` holds the part `part` as it is before, at least `surroundingsOf`. Every
 * spot is judged by what was there before any was mended, so their order does not matter. What is brought back takes the
 * color of `picture`, the prepared picture.
 */
export function mendInto(
  wide: Raster,
  part: Rect,
  rect: Rect,
  out: Raster,
  spots: readonly Spot[],
  picture: Raster,
  reduction: number,
): void {
  for (let y = 0; y < rect.height; y++) {
    const from = ((rect.y + y - part.y) * wide.width + rect.x - part.x) * 4;
    out.data.set(wide.data.subarray(from, from + rect.width * 4), y * rect.width * 4);
  }
  for (const spot of spots) {
    const square = squareAround(spot, picture);
    const shared = overlapRect(square, rect);
    if (!shared) continue;
    if (spot.mend === 'halo') {
      cleanRimInto(wide, part, shared, rect, out, rgbOfHex(spot.background));
      continue;
    }
    const target = spot.mend === 'residue' ? shared : square;
    const mask =
      spot.mend === 'residue'
        ? residueIn(wide, part, target, spot.alpha, tailAt(reduction))
        : islandAt(wide, part, spot, square, picture, spot.mend);
    if (mask) put(mask, target, rect, out, spot.mend === 'pinhole' ? picture : null);
  }
}

/** Clears what is marked, or makes it opaque in the color of `from`. */
function put(mask: Uint8Array, target: Rect, rect: Rect, out: Raster, from: Raster | null): void {
  for (let y = 0, i = 0; y < target.height; y++)
    for (let x = 0; x < target.width; x++, i++) {
      if (mask[i] === 0) continue;
      const [u, v] = [target.x + x - rect.x, target.y + y - rect.y];
      if (u < 0 || v < 0 || u >= rect.width || v >= rect.height) continue;
      const p = (v * rect.width + u) * 4;
      if (!from) {
        out.data[p + 3] = 0;
        continue;
      }
      const q = ((target.y + y) * from.width + target.x + x) * 4;
      out.data[p] = from.data[q]!;
      out.data[p + 1] = from.data[q + 1]!;
      out.data[p + 2] = from.data[q + 2]!;
      out.data[p + 3] = 255;
    }
}

function tailAt(reduction: number): number {
  return Math.max(1, EDGE_TAIL_PX >> reduction);
}
