import { nearestPixel, pixelDistance } from '../../src/core/numeric/distance-transform';
import type { Raster } from '../../src/core/raster/raster';

/** What a person sees at once: how much of the subject went, and how much background stayed, in percent of the subject. */
export interface Disaster {
  readonly lost: number;
  readonly left: number;
  readonly isDisaster: boolean;
}

/** From this share on, in percent, a cutout is of no use. */
const MOST = 3;

/** Background nearer to the subject than this is a matter of its edge. */
const NEAR_PX = 3;

/**
 * The share of the opaque subject whose alpha fell under a half, and the background farther than NEAR_PX from the subject
 * whose alpha stayed over a half, as a share of the subject's area. No cutout at all (null) is a disaster as well.
 */
export function disasterOf(truth: Raster, result: Raster | null): Disaster {
  if (!result) return { lost: 0, left: 100, isDisaster: true };
  const { width, height, data } = truth;
  const count = width * height;
  const subject = new Uint8Array(count);
  for (let i = 0; i < count; i++) subject[i] = data[i * 4 + 3]! > 0 ? 1 : 0;
  const toSubject = nearestPixel({ data: subject, width, height }, 1);
  let full = 0;
  let lost = 0;
  let area = 0;
  let left = 0;
  for (let i = 0; i < count; i++) {
    const alpha = data[i * 4 + 3]!;
    const ours = result.data[i * 4 + 3]!;
    area += alpha / 255;
    if (alpha >= 254) {
      full++;
      if (ours < 128) lost++;
    }
    const j = toSubject[i]!;
    if (alpha === 0 && ours > 127 && (j < 0 || pixelDistance(i, j, width) > NEAR_PX)) left++;
  }
  const share = (pixels: number, of: number) => (of === 0 ? 0 : (100 * pixels) / of);
  const found = { lost: share(lost, full), left: share(left, area) };
  return { ...found, isDisaster: found.lost > MOST || found.left > MOST };
}
