import { readFile } from 'node:fs/promises';
import { decode as decodeWebp } from '@cwasm/webp';
import { decode as decodeJpeg } from 'jpeg-js';
import { GifReader } from 'omggif';
import { decode as decodeTiff } from 'tiff';
import type { Raster } from '../../core/raster/raster';
import { flattened, thresholded } from '../../core/stages/deliver/shape-output';
import { bytesOf, sharp } from '../picture-library';
import { assertExact, failed, measured, NO_DIFFERENCE, type ReadPixels } from './compare';
import { described, NOBODYS_DPI } from './credit';
import type { FileContent, OutputCodec, OutputOf, Verified } from './output-codec';
import { assertDpi } from './png';

/** The formats that the picture library writes, each read back by another decoder where there is one. */

function pictureOf({ width, height, data }: Raster, { credit }: FileContent) {
  return described(sharp(data, { raw: { width, height, channels: 4 }, limitInputPixels: false }), credit);
}

/** What a file was found to hold that is exact. */
function exact({ width, height }: ReadPixels, told: Pick<Verified, 'dpi' | 'kind' | 'decoder'>): Verified {
  return { width, height, ...told, independent: true, color: NO_DIFFERENCE, alpha: NO_DIFFERENCE };
}

/** WebP (RFC 9649): lossless, or lossy with exact alpha. */
export const WEBP: OutputCodec = {
  async write(content, path) {
    const { quality } = content.output as OutputOf<'webp'>;
    const how =
      quality === null
        ? { lossless: true, exact: true }
        : { quality, alphaQuality: 100, exact: true, smartSubsample: true };
    await pictureOf(content.rasters[0]!, content).webp(how).toFile(path);
  },
  async verify(path, content) {
    const [expected] = content.rasters as [Raster];
    const found = decodeWebp(await readFile(path));
    const { quality } = content.output as OutputOf<'webp'>;
    if (quality === null) {
      assertExact(found, expected);
      return exact(found, { dpi: null, kind: 'lossless', decoder: 'libwebp in WebAssembly' });
    }
    const { width, height } = found;
    const told = { dpi: null, kind: `quality ${quality}`, decoder: 'libwebp in WebAssembly' };
    return { width, height, ...told, independent: true, ...measured(found, expected, true) };
  },
};

/** AVIF (AV1 Image File Format 1.1): lossless, or lossy in color and alpha. */
export const AVIF: OutputCodec = {
  async write(content, path) {
    const { quality } = content.output as OutputOf<'avif'>;
    const how = quality === null ? { lossless: true } : { quality };
    await pictureOf(content.rasters[0]!, content)
      .avif({ ...how, chromaSubsampling: '4:4:4' })
      .toFile(path);
  },
  async verify(path, content) {
    const [expected] = content.rasters as [Raster];
    const { quality } = content.output as OutputOf<'avif'>;
    const found = await libraryPixels(path);
    const { width, height } = found;
    const told = { dpi: null, decoder: 'libheif, which wrote it too', independent: false };
    const kind = quality === null ? 'lossless' : `quality ${quality}`;
    return { width, height, kind, ...told, ...measured(found, expected, quality === null) };
  },
};

const PER_INCH = 25.4;

/** TIFF (TIFF 6.0): RGBA of 8 bits, its alpha marked as unassociated. */
export const TIFF: OutputCodec = {
  async write(content, path) {
    const { compression } = content.output as OutputOf<'tiff'>;
    const perMm = (content.dpi ?? NOBODYS_DPI) / PER_INCH;
    const resolution = { xres: perMm, yres: perMm, resolutionUnit: 'inch' as const };
    await pictureOf(content.rasters[0]!, content)
      .withIccProfile('srgb')
      .tiff({ compression, predictor: 'horizontal', ...resolution })
      .toFile(path);
  },
  async verify(path, content) {
    const [picture] = decodeTiff(await readFile(path));
    if (picture?.samplesPerPixel !== 4 || picture.bitsPerSample !== 8)
      throw failed('it has no 8-bit alpha channel');
    if (!picture.alpha || picture.associatedAlpha) throw failed('its alpha is not marked as unassociated');
    const { width, height, data, xResolution, resolutionUnit } = picture;
    const found = { width, height, data: data as Uint8Array };
    assertExact(found, content.rasters[0]!);
    const dpi = content.dpi === null ? null : resolutionUnit === 3 ? xResolution * 2.54 : xResolution;
    assertDpi(dpi ?? undefined, content);
    return exact(found, {
      dpi,
      kind: `RGBA, ${picture.compression === 5 ? 'LZW' : 'Deflate'}`,
      decoder: 'tiff',
    });
  },
};

/** GIF (GIF89a): 256 colors, of which one is transparent; soft edges are mixed with a matte. */
export const GIF: OutputCodec = {
  async write(content, path) {
    const { width, height, data } = cutAtThreshold(content);
    await sharp(data, { raw: { width, height, channels: 4 }, limitInputPixels: false })
      .gif({ colours: 256, dither: 0.5, effort: 7 })
      .toFile(path);
  },
  async verify(path, content) {
    const reader = new GifReader(await readFile(path));
    const { width, height } = reader;
    const data = new Uint8Array(width * height * 4);
    reader.decodeAndBlitFrameRGBA(0, data);
    const differences = measured({ width, height, data }, cutAtThreshold(content), true);
    return {
      width,
      height,
      dpi: null,
      kind: '256 colors',
      decoder: 'omggif',
      independent: true,
      ...differences,
    };
  },
};

function cutAtThreshold({ rasters, output }: FileContent): Raster {
  const { threshold, matte } = output as OutputOf<'gif'>;
  return thresholded(rasters[0]!, threshold, matte);
}

/** JPEG (ISO/IEC 10918-1), laid on a backing, with full chroma. */
export const JPEG: OutputCodec = {
  async write(content, path) {
    const { quality } = content.output as OutputOf<'jpeg'>;
    const picture = pictureOf(laidOnBacking(content), content).removeAlpha().withIccProfile('srgb');
    await (content.dpi ? picture.withMetadata({ density: content.dpi }) : picture)
      .jpeg({ quality, chromaSubsampling: '4:4:4', mozjpeg: true })
      .toFile(path);
  },
  async verify(path, content) {
    const bytes = await readFile(path);
    const found = decodeJpeg(bytes, { useTArray: true, maxMemoryUsageInMB: 4096, maxResolutionInMP: 200 });
    const { density } = await sharp(bytes).metadata();
    assertDpi(density, content);
    const { width, height } = found;
    const { quality, backing } = content.output as OutputOf<'jpeg'>;
    const differences = measured(found, laidOnBacking(content), true);
    const dpi = content.dpi === null ? null : (density ?? null);
    return {
      width,
      height,
      dpi,
      kind: `quality ${quality} on ${backing}`,
      decoder: 'jpeg-js',
      independent: true,
      ...differences,
    };
  },
};

function laidOnBacking({ rasters, output }: FileContent): Raster {
  return flattened(rasters[0]!, (output as OutputOf<'jpeg'>).backing);
}

async function libraryPixels(path: string): Promise<ReadPixels> {
  const { data, info } = await sharp(path, { limitInputPixels: false, failOn: 'warning' })
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: bytesOf(data) };
}
