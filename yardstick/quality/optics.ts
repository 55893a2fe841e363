import type { Backdrop } from '../../demo/picture';
import { nearestPixel, pixelDistance } from '../../src/core/numeric/distance-transform';
import { createRaster, type Raster } from '../../src/core/raster/raster';

/** A subject out of focus: color and alpha blurred together, premultiplied, by a Gaussian of that deviation in pixels. */
export function outOfFocus(subject: Raster, deviation: number): Raster {
  const { width, height, data } = subject;
  const planes = [0, 1, 2, 3].map((c) => {
    const plane = new Float64Array(width * height);
    for (let i = 0; i < plane.length; i++) {
      const alpha = data[i * 4 + 3]! / 255;
      plane[i] = c === 3 ? alpha : data[i * 4 + c]! * alpha;
    }
    return blurred(blurred(plane, width, 1, deviation), width, width, deviation);
  });
  const out = createRaster(width, height);
  for (let i = 0; i < width * height; i++) {
    const alpha = planes[3]![i]!;
    if (alpha < 0.5 / 255) continue;
    for (let c = 0; c < 3; c++) out.data[i * 4 + c] = Math.round(planes[c]![i]! / alpha);
    out.data[i * 4 + 3] = Math.round(alpha * 255);
  }
  return out;
}

/** Along rows (step 1) or columns (step width); what lies outside counts as empty. */
function blurred(plane: Float64Array, width: number, step: number, deviation: number): Float64Array {
  const reach = Math.ceil(3 * deviation);
  const weights = Array.from({ length: 2 * reach + 1 }, (_, k) =>
    Math.exp(-((k - reach) ** 2) / (2 * deviation ** 2)),
  );
  const sum = weights.reduce((total, weight) => total + weight, 0);
  return plane.map((_, i) => {
    let value = 0;
    for (let k = -reach; k <= reach; k++) {
      const j = i + k * step;
      const inside =
        step === 1 ? Math.floor(j / width) === Math.floor(i / width) : j >= 0 && j < plane.length;
      if (inside) value += plane[j]! * weights[k + reach]!;
    }
    return value / sum;
  });
}

/** How fast a reflection fades from the rim inward, in pixels. */
const FADES_PX = 3.5;

/** A subject whose rim reflects the backdrop: up to `share` of its color there is the backdrop's, less and less inward. */
export function reflecting(subject: Raster, backdrop: Backdrop, share: number): Raster {
  const { width, height, data } = subject;
  const clear = Uint8Array.from({ length: width * height }, (_, i) => (data[i * 4 + 3]! < 128 ? 1 : 0));
  const nearest = nearestPixel({ data: clear, width, height }, 1);
  const out = createRaster(width, height, data.slice());
  for (let i = 0; i < width * height; i++) {
    const far = nearest[i]! < 0 ? Infinity : pixelDistance(i, nearest[i]!, width);
    const mixed = share * Math.exp(-far / FADES_PX);
    const color = backdrop(i % width, Math.floor(i / width));
    for (let c = 0; c < 3; c++)
      out.data[i * 4 + c] = Math.round(data[i * 4 + c]! * (1 - mixed) + color[c]! * mixed);
  }
  return out;
}
