import { createHash } from 'node:crypto';
import type { Raster } from '../../core/raster/raster';

const hashes = new WeakMap<Raster, string>();

/** SHA-256 of a cutout's bytes, computed once for all its files. */
export function pixelHashOf(raster: Raster): string {
  const known = hashes.get(raster);
  if (known !== undefined) return known;
  const hash = createHash('sha256').update(raster.data).digest('hex');
  hashes.set(raster, hash);
  return hash;
}
