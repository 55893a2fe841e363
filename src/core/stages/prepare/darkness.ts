import { lumaOf } from '../../color/luma';
import type { Raster } from '../../raster/raster';
import type { Light } from './light';

/** A plane of how dark places are, 0 to 1. */
export interface Darkness {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** How much darker each place of a raster of that reduction is than the bare paper, 0 to 1. */
export function darknessOf({ width, height, data }: Raster, light: Light, reduction: number): Darkness {
  const out = new Float32Array(width * height);
  const [reds, greens, blues] = light.channels;
  const shift = Math.max(0, light.reduction - reduction);
  for (let y = 0, i = 0, p = 0; y < height; y++) {
    const row = (y >> shift) * light.width;
    for (let x = 0; x < width; x++, i++, p += 4) {
      if (data[p + 3] === 0) continue;
      const k = row + (x >> shift);
      const paper = lumaOf(reds[k]!, greens[k]!, blues[k]!);
      const darker = 1 - lumaOf(data[p]!, data[p + 1]!, data[p + 2]!) / Math.max(1, paper);
      if (darker > 0) out[i] = darker;
    }
  }
  return { width, height, data: out };
}

/** A rule is darker than its surroundings by this share at least, and counts up to that much: ink must not outweigh it. */
export const FAINTEST_SHARE = 0.025;
export const CAP_SHARE = 0.3;

/** Half of the widest rule, in pixels of the plane it is looked for in. */
export const HALF_PX = 3;

/** How much darker places are than those some pixels above and below, up to CAP_SHARE. */
export function thinLines({ width, height, data }: Darkness): Darkness {
  const out = new Float32Array(data.length);
  const apart = HALF_PX + 1;
  for (let y = 0; y < height; y++) {
    const above = y >= apart ? -apart * width : apart * width;
    const below = y < height - apart ? apart * width : -apart * width;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const beside = Math.max(data[i + above] ?? 0, data[i + below] ?? 0);
      const more = data[i]! - beside;
      out[i] = more < FAINTEST_SHARE ? 0 : Math.min(CAP_SHARE, more);
    }
  }
  return { width, height, data: out };
}
