import webp from '@cwasm/webp';
import { decode as decodePng } from 'fast-png';
import jpeg from 'jpeg-js';
import { decode as decodeTiff } from 'tiff';

/** Samples as another decoder reads them: 8 bits, red, green and blue (and alpha) or gray. */
export interface SecondOpinion {
  /** By how much samples may differ in the mean: compressed formats may round otherwise. */
  readonly close: number;
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  readonly data: Uint8Array | Uint8ClampedArray;
}

/** What a second decoder makes of a file: its pixels, `damaged`, or null where it does not know such files. */
export function secondOpinion(bytes: Uint8Array): SecondOpinion | 'damaged' | null {
  const start = Buffer.from(bytes.subarray(0, 12)).toString('latin1');
  try {
    if (start.startsWith('\x89PNG')) return ofPng(bytes);
    if (start.startsWith('\xff\xd8')) return ofJpeg(bytes);
    if (start.slice(8, 12) === 'WEBP') return ofWebp(bytes);
    if (start.startsWith('II*\0') || start.startsWith('MM\0*')) return ofTiff(bytes);
    return null;
  } catch (error) {
    // What it does not know is no damage.
    return /unsupported|not supported|unimplemented|unknown (filter|compression|interlace)/i.test(
      (error as Error).message,
    )
      ? null
      : 'damaged';
  }
}

function ofPng(bytes: Uint8Array): SecondOpinion | null {
  const { width, height, channels, depth, data, palette } = decodePng(bytes, { checkCrc: true });
  if (depth !== 8 || palette) return null;
  return { close: 0, width, height, channels, data: data as Uint8Array };
}

function ofTiff(bytes: Uint8Array): SecondOpinion | null {
  const [page] = decodeTiff(bytes);
  if (!page || page.tiled || page.bitsPerSample !== 8 || page.samplesPerPixel !== 3) return null;
  return { close: 0, width: page.width, height: page.height, channels: 3, data: page.data as Uint8Array };
}

function ofJpeg(bytes: Uint8Array): SecondOpinion {
  const { width, height, data } = jpeg.decode(bytes, {
    useTArray: true,
    formatAsRGBA: true,
    tolerantDecoding: false,
    maxMemoryUsageInMB: 256,
  });
  return { close: 6, width, height, channels: 4, data };
}

function ofWebp(bytes: Uint8Array): SecondOpinion {
  const { width, height, data } = webp.decode(bytes);
  return { close: 3, width, height, channels: 4, data };
}
