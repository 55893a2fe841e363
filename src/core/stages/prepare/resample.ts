import type { Matrix3 } from '../../numeric/matrix3';
import type { Raster, Rect } from '../../raster/raster';

/**
 * Copies rows of a picture that was turned or flipped, pixel for pixel: row `row` of `out` is row `rect.y + row` of the
 * frame, from its column `rect.x`.
 */
export function copyRows(
  source: Raster,
  toOriginal: Matrix3,
  rect: Rect,
  from: number,
  to: number,
  out: Raster,
): void {
  const words = new Uint32Array(source.data.buffer, source.data.byteOffset, source.data.length >> 2);
  const target = new Uint32Array(out.data.buffer, out.data.byteOffset, out.data.length >> 2);
  const [a, b, c, d, e, f] = toOriginal;
  const step = a + d * source.width;
  for (let row = from; row < to; row++) {
    const x = rect.x + 0.5;
    const y = rect.y + row + 0.5;
    let i = Math.floor(a * x + b * y + c) + Math.floor(d * x + e * y + f) * source.width;
    for (let q = row * rect.width, end = q + rect.width; q < end; q++, i += step) target[q] = words[i]!;
  }
}

/**
 * Resamples rows by bicubic interpolation (Keys, 1981, a = -1/2), color weighted by alpha: what lies outside of the source
 * is transparent.
 */
export function resampleRows(
  source: Raster,
  toOriginal: Matrix3,
  rect: Rect,
  from: number,
  to: number,
  out: Raster,
): void {
  const { width, height, data } = source;
  const [a, b, c, d, e, f, g, h, i] = toOriginal;
  const across = new Float64Array(4);
  const down = new Float64Array(4);
  for (let row = from; row < to; row++) {
    const py = rect.y + row + 0.5;
    for (let column = 0, q = row * rect.width * 4; column < rect.width; column++, q += 4) {
      const px = rect.x + column + 0.5;
      const w = g * px + h * py + i;
      const sx = (a * px + b * py + c) / w - 0.5;
      const sy = (d * px + e * py + f) / w - 0.5;
      if (!(sx > -1 && sy > -1 && sx < width && sy < height)) continue;
      const x = Math.floor(sx);
      const y = Math.floor(sy);
      weigh(sx - x, across);
      weigh(sy - y, down);
      let red = 0;
      let green = 0;
      let blue = 0;
      let alpha = 0;
      for (let v = 0; v < 4; v++) {
        const yy = y + v - 1;
        if (yy < 0 || yy >= height) continue;
        for (let u = 0; u < 4; u++) {
          const xx = x + u - 1;
          if (xx < 0 || xx >= width) continue;
          const p = (yy * width + xx) * 4;
          const weight = across[u]! * down[v]! * data[p + 3]!;
          red += weight * data[p]!;
          green += weight * data[p + 1]!;
          blue += weight * data[p + 2]!;
          alpha += weight;
        }
      }
      if (alpha < 0.5) continue;
      out.data[q] = byteOf(red / alpha);
      out.data[q + 1] = byteOf(green / alpha);
      out.data[q + 2] = byteOf(blue / alpha);
      out.data[q + 3] = byteOf(alpha);
    }
  }
}

function weigh(t: number, out: Float64Array): void {
  const tt = t * t;
  const ttt = tt * t;
  out[0] = -0.5 * t + tt - 0.5 * ttt;
  out[1] = 1 - 2.5 * tt + 1.5 * ttt;
  out[2] = 0.5 * t + 2 * tt - 1.5 * ttt;
  out[3] = -0.5 * tt + 0.5 * ttt;
}

function byteOf(value: number): number {
  return Math.min(255, Math.max(0, Math.round(value)));
}
