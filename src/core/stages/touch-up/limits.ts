import { clipRect, overlapRect, type Raster, type Rect } from '../../raster/raster';
import type { Placed } from './strokes';

/** What a part is drawn over where no stage acts: the picture as it came. */
export function limitInto(areas: readonly Placed[], rect: Rect, out: Raster, picture: Raster): void {
  const acts = actsIn(areas, rect, picture);
  if (!acts) return;
  const { data } = out;
  for (let y = 0, i = 0, p = 0; y < rect.height; y++) {
    let q = ((rect.y + y) * picture.width + rect.x) * 4;
    for (let x = 0; x < rect.width; x++, i++, p += 4, q += 4) {
      const share = acts[i]!;
      if (share >= 1) continue;
      const made = share * data[p + 3]!;
      const came = (1 - share) * picture.data[q + 3]!;
      const sum = made + came;
      if (sum > 0)
        for (let c = 0; c < 3; c++)
          data[p + c] = Math.round((made * data[p + c]! + came * picture.data[q + c]!) / sum);
      data[p + 3] = Math.round(sum);
    }
  }
}

/** How much of what the stages made counts in each pixel of a part, 0 to 1; null where all of it does. */
function actsIn(areas: readonly Placed[], rect: Rect, whole: Raster): Float32Array | null {
  const only = areas.filter(({ stroke }) => stroke.does === 'only');
  const near = areas.filter(({ footprint }) => overlapRect(footprint.box, rect));
  if (only.length === 0 && near.length === 0) return null;
  const acts = new Float32Array(rect.width * rect.height).fill(only.length > 0 ? 0 : 1);
  for (const { stroke, footprint } of near) {
    if (stroke.does !== 'only') continue;
    eachCovered(footprint, rect, whole, (i, cover) => (acts[i] = Math.max(acts[i]!, cover)));
  }
  for (const { stroke, footprint } of near) {
    if (stroke.does !== 'never') continue;
    eachCovered(footprint, rect, whole, (i, cover) => (acts[i]! *= 1 - cover));
  }
  return acts;
}

/** Calls for each pixel of a part that a footprint covers, with its place in the part. */
export function eachCovered(
  { box, cover }: Placed['footprint'],
  rect: Rect,
  whole: { readonly width: number; readonly height: number },
  take: (i: number, cover: number) => void,
): void {
  const part = overlapRect(clipRect(box, whole.width, whole.height), rect);
  if (!part) return;
  const plane = new Float32Array(part.width * part.height);
  cover(part, plane);
  for (let y = 0, k = 0; y < part.height; y++) {
    let i = (part.y + y - rect.y) * rect.width + part.x - rect.x;
    for (let x = 0; x < part.width; x++, k++, i++) if (plane[k]! > 0) take(i, plane[k]!);
  }
}
