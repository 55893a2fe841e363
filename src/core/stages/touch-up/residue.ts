import { sumBox } from '../../numeric/box';
import { clipRect, growRect, type Raster, type Rect } from '../../raster/raster';

/** Faint alpha this many pixels around anything stronger belongs to that thing's edge. */
export const EDGE_TAIL_PX = 6;

// What the figures of this file rest on: docs/decisions/009-findings-and-mends.md

/** Residue is broad where this many pixels of the square of 7 are: a thread or a line that fades is not. */
const BROAD_RADIUS_PX = 3;
const BROAD_PIXELS = 25;

/** How far a smudge may go in each direction and still stand alone. */
const ALONE_PX = 4;

/** How far around a pixel the picture must be known to say whether it is residue. */
export const RESIDUE_MARGIN_PX = EDGE_TAIL_PX + 2 * BROAD_RADIUS_PX;

/**
 * Marks with 1 what is residue in a part of a picture: alpha from 1 to `most` with nothing stronger in the square of
 * `tailPx` pixels around it, where that is broad (or lies beside what is), or a small smudge alone. The faint end of
 * something thin is none. `wide` holds the part `part`, which goes RESIDUE_MARGIN_PX farther than `rect` or as far as the
 * picture. The mask is of `rect`'s size.
 */
export function residueIn(wide: Raster, part: Rect, rect: Rect, most: number, tailPx: number): Uint8Array {
  const mask = new Uint8Array(rect.width * rect.height);
  const around = clipRect(
    growRect({ ...rect, x: rect.x - part.x, y: rect.y - part.y }, 2 * BROAD_RADIUS_PX),
    part.width,
    part.height,
  );
  const faint = faintIn(wide, around, most, tailPx);
  if (!faint) return mask;
  const { width, height } = around;
  const sums = sumBox({ data: faint, width, height }, BROAD_RADIUS_PX);
  const core = new Uint8Array(faint.length);
  for (let i = 0; i < core.length; i++) if (faint[i] === 1 && sums[i]! >= BROAD_PIXELS) core[i] = 1;
  const beside = sumBox({ data: core, width, height }, BROAD_RADIUS_PX);
  for (let y = 0; y < rect.height; y++)
    for (let x = 0; x < rect.width; x++) {
      const [u, v] = [rect.x - part.x + x, rect.y - part.y + y];
      const i = (v - around.y) * width + u - around.x;
      if (faint[i] === 1 && (beside[i]! > 0 || standsAlone(wide, u, v))) mask[y * rect.width + x] = 1;
    }
  return mask;
}

/** Marks what is faint with nothing stronger near; null where nothing is. */
function faintIn(wide: Raster, rect: Rect, most: number, tailPx: number): Uint8Array | null {
  const { width, data } = wide;
  const out = new Uint8Array(rect.width * rect.height);
  let any = false;
  for (let y = 0, i = 0; y < rect.height; y++)
    for (let x = 0, p = ((rect.y + y) * width + rect.x) * 4 + 3; x < rect.width; x++, i++, p += 4)
      if (data[p]! > 0 && data[p]! <= most) {
        out[i] = 1;
        any = true;
      }
  if (!any) return null;
  const near = nearStronger(wide, rect, most, tailPx);
  any = false;
  for (let i = 0; i < out.length; i++) {
    if (near[i] === 1) out[i] = 0;
    else if (out[i] === 1) any = true;
  }
  return any ? out : null;
}

/** Whether some square around a pixel has a rim of nothing: what is there is a small smudge and no thread. */
function standsAlone(wide: Raster, x: number, y: number): boolean {
  for (let radius = 1; radius <= ALONE_PX; radius++) if (isRingClear(wide, x, y, radius)) return true;
  return false;
}

function isRingClear({ width, height, data }: Raster, x: number, y: number, radius: number): boolean {
  for (let k = -radius; k <= radius; k++) {
    const inColumns = x + k >= 0 && x + k < width;
    const inRows = y + k >= 0 && y + k < height;
    if (inColumns && y >= radius && data[((y - radius) * width + x + k) * 4 + 3]! > 0) return false;
    if (inColumns && y + radius < height && data[((y + radius) * width + x + k) * 4 + 3]! > 0) return false;
    if (inRows && x >= radius && data[((y + k) * width + x - radius) * 4 + 3]! > 0) return false;
    if (inRows && x + radius < width && data[((y + k) * width + x + radius) * 4 + 3]! > 0) return false;
  }
  return true;
}

/** Marks what of the part `rect` has an alpha above `most` in the square around it. The plane is of `rect`'s size. */
function nearStronger(wide: Raster, rect: Rect, most: number, radius: number): Uint8Array {
  const { data } = wide;
  const part = clipRect(growRect(rect, radius), wide.width, wide.height);
  const { width, height } = part;
  const across = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const line = y * width;
    const start = ((part.y + y) * wide.width + part.x) * 4 + 3;
    for (let x = 0, left = 0; x < width; x++) {
      left = data[start + x * 4]! > most ? radius + 1 : left - 1;
      if (left > 0) across[line + x] = 1;
    }
    for (let x = width - 1, left = 0; x >= 0; x--) {
      left = data[start + x * 4]! > most ? radius + 1 : left - 1;
      if (left > 0) across[line + x] = 1;
    }
  }
  const out = new Uint8Array(rect.width * rect.height);
  // Down the columns all at a time, row by row, as memory lies.
  const left = new Int32Array(width);
  const sweep = (y: number) => {
    for (let x = 0, i = y * width; x < width; x++, i++) left[x] = across[i] === 1 ? radius + 1 : left[x]! - 1;
    const row = part.y + y - rect.y;
    if (row < 0 || row >= rect.height) return;
    for (let x = 0, k = rect.x - part.x; x < rect.width; x++, k++)
      if (left[k]! > 0) out[row * rect.width + x] = 1;
  };
  for (let y = 0; y < height; y++) sweep(y);
  left.fill(0);
  for (let y = height - 1; y >= 0; y--) sweep(y);
  return out;
}
