import sharp from 'sharp';
import type { Bytes } from '../core/raster/raster';

// Its cache knows files by their names alone: one that was replaced under its name would be read as it was before.
sharp.cache(false);

export { sharp };

/** A view of a Node.js buffer as the bytes that rasters hold; no copy. */
export function bytesOf(buffer: Buffer): Bytes {
  return new Uint8Array(buffer.buffer as ArrayBuffer, buffer.byteOffset, buffer.byteLength);
}
