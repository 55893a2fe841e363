import sharp from 'sharp';
import { KenosisError } from '../core/errors';
import { createRaster, type Bytes, type Raster } from '../core/raster/raster';
import { MAX_PIXELS } from './limits';

/**
 * Decodes a picture file to the one master all work is done on: orientation obeyed, color profile converted to sRGB,
 * 16 bits rounded to 8, gray and CMYK turned to RGB, alpha straight. Throws `damaged-picture` if its data break off
 * or contradict themselves.
 */
export async function decodeMaster(path: string, name: string): Promise<Raster> {
  try {
    const { data, info } = await sharp(path, { limitInputPixels: MAX_PIXELS, failOn: 'error' })
      .autoOrient()
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    return createRaster(info.width, info.height, bytesOf(data));
  } catch (cause) {
    throw new KenosisError(
      'damaged-picture',
      `"${name}" is damaged: its picture data break off or contradict themselves. Save it anew and bring it again.`,
      { cause },
    );
  }
}

/** A view of a Node.js buffer as the bytes that rasters hold; no copy. */
export function bytesOf(buffer: Buffer): Bytes {
  return new Uint8Array(buffer.buffer as ArrayBuffer, buffer.byteOffset, buffer.byteLength);
}
