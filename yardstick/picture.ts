import { seededRandom } from '../src/core/numeric/random';
import { createRaster, type Raster } from '../src/core/raster/raster';

/** A product-like picture of about `megapixels`: a shaded round subject on an off-white backdrop with grain. */
export function benchPicture(megapixels: number): Raster {
  const width = Math.round(Math.sqrt(megapixels * 1e6 * 1.5));
  const height = Math.round((megapixels * 1e6) / width);
  const raster = createRaster(width, height);
  const random = seededRandom(megapixels);
  const grain = Int8Array.from({ length: 65_536 }, () =>
    Math.round((random() + random() + random() - 1.5) * 5),
  );
  const radius = height * 0.36;
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const far = Math.hypot(x - width / 2, y - height / 2) / radius;
      const inside = Math.min(1, Math.max(0, (1 - far) * radius * 0.5 + 0.5));
      const noise = grain[(x * 7919 + y * 104729) & 65_535]!;
      const shade = 40 * (1 - Math.min(1, far));
      raster.data[p] = 240 + (20 + shade - 240) * inside + noise;
      raster.data[p + 1] = 238 + (90 + shade - 238) * inside + noise;
      raster.data[p + 2] = 230 + (120 + shade - 230) * inside + noise;
      raster.data[p + 3] = 255;
    }
  }
  return raster;
}
