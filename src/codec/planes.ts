import type { Raster } from '../core/raster/raster';

/** Colors (three bytes a pixel) and alpha of a raster, apart, as formats with a mask of its own want them. */
export function planesOf({ data }: Raster): { readonly colors: Uint8Array; readonly alphas: Uint8Array } {
  const colors = new Uint8Array((data.length / 4) * 3);
  const alphas = new Uint8Array(data.length / 4);
  for (let p = 0, q = 0, i = 0; p < data.length; p += 4, i++) {
    colors[q++] = data[p]!;
    colors[q++] = data[p + 1]!;
    colors[q++] = data[p + 2]!;
    alphas[i] = data[p + 3]!;
  }
  return { colors, alphas };
}
