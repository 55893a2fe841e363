import type { Plane } from '../raster/plane';
import type { Raster } from '../raster/raster';

/**
 * A photo as it is seen, on pixels that may lie otherwise in memory: the pixel at (x, y) begins at `origin + x * stepX + y * stepY`.
 * Red, green, blue, and alpha where there are four channels; 8 bits, encoded, in the photo's own color space.
 */
export interface PhotoView {
  readonly data: Uint8Array;
  readonly width: number;
  readonly height: number;
  readonly channels: 3 | 4;
  readonly origin: number;
  readonly stepX: number;
  readonly stepY: number;
}

export function viewOf({ data, width, height }: Raster): PhotoView {
  return { data, width, height, channels: 4, origin: 0, stepX: 4, stepY: 4 * width };
}

/**
 * A stored picture as it is to be seen by its orientation (Exif 3.0, 4.6.5.1: 1 to 8, of which 5 to 8 lie on their side). The
 * pixels stay where they are.
 */
export function orientedView(
  data: Uint8Array,
  width: number,
  height: number,
  channels: 3 | 4,
  orientation: number,
): PhotoView {
  const right = channels;
  const down = channels * width;
  const last = { x: (width - 1) * right, y: (height - 1) * down };
  const upright = { data, width, height, channels };
  const aside = { data, width: height, height: width, channels };
  switch (orientation) {
    case 2:
      return { ...upright, origin: last.x, stepX: -right, stepY: down };
    case 3:
      return { ...upright, origin: last.x + last.y, stepX: -right, stepY: -down };
    case 4:
      return { ...upright, origin: last.y, stepX: right, stepY: -down };
    case 5:
      return { ...aside, origin: 0, stepX: down, stepY: right };
    case 6:
      return { ...aside, origin: last.y, stepX: -down, stepY: right };
    case 7:
      return { ...aside, origin: last.x + last.y, stepX: -down, stepY: -right };
    case 8:
      return { ...aside, origin: last.x, stepX: down, stepY: -right };
    default:
      return { ...upright, origin: 0, stepX: right, stepY: down };
  }
}

/** Pixels that are read of a square at most, across and down. */
const READ_A_CELL = 4;

/** A photo's light (luma of Rec. 709, encoded, 0 to 255), its longer side at most `mostPx`, each value a mean of its square. */
export function smallLight(view: PhotoView, mostPx: number): Plane<Float32Array> {
  const { data, width, height, origin, stepX, stepY } = view;
  const side = Math.max(1, Math.ceil(Math.max(width, height) / mostPx));
  const across = Math.ceil(width / side);
  const down = Math.ceil(height / side);
  const step = Math.max(1, Math.floor(side / READ_A_CELL));
  const out = new Float32Array(across * down);
  for (let v = 0, i = 0; v < down; v++)
    for (let u = 0; u < across; u++, i++) {
      let sum = 0;
      let count = 0;
      for (let y = v * side; y < Math.min(height, (v + 1) * side); y += step)
        for (let x = u * side; x < Math.min(width, (u + 1) * side); x += step) {
          const p = origin + x * stepX + y * stepY;
          sum += 0.2126 * data[p]! + 0.7152 * data[p + 1]! + 0.0722 * data[p + 2]!;
          count++;
        }
      out[i] = sum / count;
    }
  return { data: out, width: across, height: down };
}
