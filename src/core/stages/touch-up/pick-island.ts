import type { Plane } from '../../raster/plane';
import type { Layer } from '../work';
import { createRaster, type Rect } from '../../raster/raster';
import { SPECK_ALPHA } from './island';
import type { Placed } from './strokes';

/** How far the faint rim of a piece goes, in pixels. */
const RIM_PX = 6;

/** Rows that are read at a time. */
const ROWS = 256;

/** The alpha of all of a layer. */
export function alphaOf(
  layer: Layer,
  { width, height }: { readonly width: number; readonly height: number },
): Plane {
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y += ROWS) {
    const rect: Rect = { x: 0, y, width, height: Math.min(ROWS, height - y) };
    const part = createRaster(rect.width, rect.height);
    layer.into(rect, part);
    for (let i = 0, p = 3; p < part.data.length; i++, p += 4) data[y * width + i] = part.data[p]!;
  }
  return { data, width, height };
}

/**
 * Which pixels go when pieces are picked: what hangs together (8 neighbors, alpha of SPECK_ALPHA or more) around a place, with
 * its faint rim. Where some are kept everything else goes. A place where nothing is left picks nothing.
 */
export function pickedAway(alpha: Plane, picks: readonly Placed[]): Uint8Array {
  const { width, height } = alpha;
  const goes = new Uint8Array(alpha.data.length);
  const kept = new Uint8Array(alpha.data.length);
  let keeps = false;
  for (const { stroke, line } of picks) {
    const x = Math.floor(line.xs[0]!);
    const y = Math.floor(line.ys[0]!);
    if (x < 0 || y < 0 || x >= width || y >= height || alpha.data[y * width + x]! < SPECK_ALPHA) continue;
    if (stroke.does === 'keep') keeps = true;
    markPiece(alpha, y * width + x, stroke.does === 'keep' ? kept : goes);
  }
  if (keeps) for (let i = 0; i < goes.length; i++) if (kept[i] === 0) goes[i] = 1;
  return goes;
}

/** Marks the piece around a pixel, with its rim. */
function markPiece({ data, width, height }: Plane, start: number, mask: Uint8Array): void {
  const found = [start];
  mask[start] = 1;
  const grow = (least: number, from: number, to: number) => {
    for (let k = from; k < to; k++) {
      const x = found[k]! % width;
      const y = (found[k]! - x) / width;
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const i = v * width + u;
          if (mask[i] === 1 || data[i]! < least) continue;
          mask[i] = 1;
          found.push(i);
        }
    }
  };
  for (let from = 0; from < found.length;) {
    const to = found.length;
    grow(SPECK_ALPHA, from, to);
    from = to;
  }
  // From there outward what is faint, a few rings.
  let from = 0;
  for (let ring = 0; ring < RIM_PX; ring++) {
    const to = found.length;
    grow(1, from, to);
    from = to;
  }
}
