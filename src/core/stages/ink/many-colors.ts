import { labOf } from '../../color/oklab';
import { deviation } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Pixels that are looked at. */
const LOOKED_AT_PIXELS = 20_000;

/** One ink's colors lie within these deviations (OKLab): of its two chroma axes, and of its lightness. */
const ONE_HUE_OKLAB = 0.03;
const ONE_LIGHTNESS_OKLAB = 0.09;

/** Whether the opaque part of a cutout has more than one color, so that one color for all would lose something. */
export function hasManyColors({ data }: Raster): boolean {
  const opaque: number[] = [];
  for (let p = 0; p < data.length; p += 4) if (data[p + 3] === 255) opaque.push(p);
  const step = Math.max(1, Math.floor(opaque.length / LOOKED_AT_PIXELS));
  const labs = [];
  for (let k = 0; k < opaque.length; k += step) {
    const p = opaque[k]!;
    labs.push(labOf(data[p]!, data[p + 1]!, data[p + 2]!));
  }
  return (
    deviation(labs.map(({ a }) => a)) > ONE_HUE_OKLAB ||
    deviation(labs.map(({ b }) => b)) > ONE_HUE_OKLAB ||
    deviation(labs.map(({ lightness }) => lightness)) > ONE_LIGHTNESS_OKLAB
  );
}
