import type { Plane } from '../raster/plane';
import { square } from './exact';
/**
 * For every pixel the index of the nearest pixel whose `mask` value is `wanted`, by exact Euclidean distance (lower
 * envelope of parabolas: Felzenszwalb and Huttenlocher, 2012, extended to carry the place). -1 everywhere if there is
 * no such pixel.
 */
export function nearestPixel({ data: mask, width, height }: Plane, wanted: number): Int32Array {
  const nearestRow = nearestInColumns({ data: mask, width, height }, wanted);
  const out = new Int32Array(width * height).fill(-1);
  const places = new Int32Array(width);
  const starts = new Float64Array(width + 1);
  for (let y = 0; y < height; y++) {
    const line = y * width;
    let last = -1;
    for (let x = 0; x < width; x++) {
      const row = nearestRow[line + x]!;
      if (row < 0) continue;
      const own = square(row - y) + x * x;
      let start = -Infinity;
      while (last >= 0) {
        const q = places[last]!;
        start = (own - (square(nearestRow[line + q]! - y) + q * q)) / (2 * (x - q));
        if (start > starts[last]!) break;
        last--;
      }
      last++;
      places[last] = x;
      starts[last] = last === 0 ? -Infinity : start;
    }
    if (last < 0) continue;
    for (let x = 0, k = 0; x < width; x++) {
      while (k < last && starts[k + 1]! < x) k++;
      const q = places[k]!;
      out[line + x] = nearestRow[line + q]! * width + q;
    }
  }
  return out;
}

/** Distance in pixels between two pixel indices of a raster of that width. */
export function pixelDistance(i: number, j: number, width: number): number {
  return Math.sqrt(squaredDistance(i, j, width));
}

/** Squared distance in pixels between two pixel indices of a raster of that width. */
export function squaredDistance(i: number, j: number, width: number): number {
  const dx = (i % width) - (j % width);
  const dy = Math.floor(i / width) - Math.floor(j / width);
  return dx * dx + dy * dy;
}

/** For every pixel the row of the nearest wanted pixel in its column, -1 if there is none. */
function nearestInColumns({ data: mask, width, height }: Plane, wanted: number): Int32Array {
  const rows = new Int32Array(width * height);
  for (let x = 0; x < width; x++) {
    let row = -1;
    for (let y = 0; y < height; y++) {
      if (mask[y * width + x] === wanted) row = y;
      rows[y * width + x] = row;
    }
    row = -1;
    for (let y = height - 1; y >= 0; y--) {
      const i = y * width + x;
      if (mask[i] === wanted) row = y;
      const above = rows[i]!;
      if (row >= 0 && (above < 0 || row - y < y - above)) rows[i] = row;
    }
  }
  return rows;
}
