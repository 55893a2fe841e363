import { KenosisError } from '../core/errors';
import type { Raster } from '../core/raster/raster';
import { bytesOf } from './decode';
import { sharp } from './picture-library';

/** Writes a raster as PNG, 8-bit RGBA, straight alpha, to `path`. `dpi` is stored in the file where it is given. */
export async function writePng(raster: Raster, dpi: number | null, path: string): Promise<void> {
  const { width, height, data } = raster;
  let picture = sharp(data, { raw: { width, height, channels: 4 }, limitInputPixels: false }).png({
    compressionLevel: 6,
    adaptiveFiltering: true,
    palette: false,
  });
  if (dpi) picture = picture.withMetadata({ density: dpi });
  await picture.toFile(path);
}

/** What a file was found to hold when it was read back. */
export interface ReadBack {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
}

/**
 * Reads a PNG back from the disk and compares it with the raster it was written from, byte by byte. Throws
 * `verification-failed` at the first difference.
 */
export async function verifyPng(path: string, expected: Raster): Promise<ReadBack> {
  const picture = sharp(path, { limitInputPixels: false, failOn: 'warning' });
  const facts = await picture.metadata();
  if (facts.channels !== 4 || facts.depth !== 'uchar') throw failed('it has no 8-bit alpha channel');
  const { data, info } = await picture.raw().toBuffer({ resolveWithObject: true });
  if (info.width !== expected.width || info.height !== expected.height) throw failed('its size differs');
  const found = bytesOf(data);
  if (Buffer.compare(found, expected.data) !== 0) {
    const at = found.findIndex((value, p) => value !== expected.data[p]) >> 2;
    throw failed(`pixel ${at % info.width}, ${Math.floor(at / info.width)} differs`);
  }
  return { width: info.width, height: info.height, dpi: facts.density ?? null };
}

function failed(what: string): KenosisError {
  return new KenosisError(
    'verification-failed',
    `The file was written, but reading it back showed that ${what}. It was thrown away; the piece is safe. Try again.`,
  );
}
