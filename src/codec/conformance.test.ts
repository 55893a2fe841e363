import path from 'node:path';
import { decode as decodePng } from 'fast-png';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { asSharp, put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { blotches, paint } from '../../tests/make/pictures';
import { PNG_KINDS, pngOfKind, type PngKind } from '../../tests/make/png-kinds';
import type { Raster } from '../core/raster/raster';
import { turnRaster } from '../core/raster/turn';
import { decodePicture } from './decode';

/** Files of every kind, read to the pixels that another decoder, or their description, says. */

let folder: string;
beforeAll(async () => {
  folder = await freshFolder();
});

const told = ({ type, depth, interlaced, clear }: PngKind) =>
  `color type ${type}, ${depth} bits${interlaced ? ', interlaced' : ''}${clear ? ', with transparency' : ''}`;

/** RGBA of 8 bits, as the file's description says: samples are spread over the range and rounded once. */
function describedPixels(
  width: number,
  height: number,
  { type, depth, clear = false }: PngKind,
  value: (x: number, y: number, c: number) => number,
): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  const most = 2 ** depth - 1;
  const sample = (x: number, y: number, c: number) => value(x, y, c) % (most + 1);
  const level = (x: number, y: number, c: number) => Math.round((255 * sample(x, y, c)) / most);
  const colors = type === 2 || type === 6 ? 3 : 1;
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 4) {
      if (type === 3) {
        const k = sample(x, y, 0);
        const alpha = clear ? ([0, 128][k] ?? 255) : 255;
        out.set([(k * 37) % 256, (k * 91) % 256, (k * 13) % 256, alpha], p);
        continue;
      }
      for (let c = 0; c < 3; c++) out[p + c] = level(x, y, colors === 1 ? 0 : c);
      const isClear =
        clear && Array.from({ length: colors }, (_, c) => sample(x, y, c) === sample(1, 1, c)).every(Boolean);
      out[p + 3] = type >= 4 ? level(x, y, colors) : isClear ? 0 : 255;
    }
  return out;
}

/** The same from another decoder; null where that one is known to have a form of its own. */
function otherPixels(bytes: Uint8Array, { type, depth, interlaced, clear }: PngKind): Uint8Array | null {
  if (depth < 8 || type === 3 || (interlaced && depth === 16) || clear) return null;
  const { width, height, data, channels } = decodePng(bytes);
  const out = new Uint8Array(width * height * 4);
  const level = (value: number) => (depth === 16 ? Math.round(value / 257) : value);
  for (let p = 0, s = 0; p < out.length; p += 4, s += channels) {
    const colors = channels < 3 ? 1 : 3;
    for (let c = 0; c < 3; c++) out[p + c] = level(data[s + (colors === 1 ? 0 : c)]!);
    out[p + 3] = channels === colors ? 255 : level(data[s + colors]!);
  }
  return out;
}

describe('PNG of every kind', () => {
  it.each(PNG_KINDS.map((kind) => [told(kind), kind] as const))('%s', async (name, kind) => {
    for (const [width, height] of [
      [13, 11],
      [1, 1],
      [3, 9],
    ] as const) {
      const value = (x: number, y: number, c: number) => x * 37 + y * 101 + c * 59 + x * y * 7;
      const bytes = pngOfKind(width, height, kind, value);
      const file = await put(folder, 'kind.png', bytes);
      const { raster } = await decodePicture(file, 'kind.png');
      expect([raster.width, raster.height]).toEqual([width, height]);
      const other = otherPixels(bytes, kind);
      for (const expected of [describedPixels(width, height, kind, value), ...(other ? [other] : [])]) {
        const apart = raster.data.findIndex((level, p) => level !== expected[p]);
        expect(apart, `${name}, ${width} x ${height}: byte ${apart}`).toBe(-1);
      }
    }
  });
});

describe('orientation', () => {
  const upright = paint(16, 12, (x, y) => [x * 16, y * 20, 128]);
  /** What undoes each tag (EXIF 2.32, 4.6.4): mirrored first, then turned. */
  const TAGS = [
    [1, false, 0],
    [2, true, 0],
    [3, false, 180],
    [4, true, 180],
    [5, true, 270],
    [6, false, 90],
    [7, true, 90],
    [8, false, 270],
  ] as const;

  it.each(TAGS)('tag %i is obeyed in JPEG, WebP, TIFF and PNG', async (tag, flip, turn) => {
    const expected = turnRaster(upright, flip, turn);
    const tagged = () => asSharp(upright).removeAlpha().withMetadata({ orientation: tag });
    const files: [string, Buffer, number][] = [
      ['turned.jpg', await tagged().jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer(), 4],
      ['turned.webp', await tagged().webp({ lossless: true }).toBuffer(), 0],
      ['turned.tif', await tagged().tiff({ compression: 'lzw' }).toBuffer(), 0],
      ['turned.png', await tagged().png().toBuffer(), 0],
    ];
    for (const [name, bytes, most] of files) {
      const { raster } = await decodePicture(await put(folder, name, bytes), name);
      expect([raster.width, raster.height], name).toEqual([expected.width, expected.height]);
      const apart = Math.max(...raster.data.map((value, p) => Math.abs(value - expected.data[p]!)));
      expect(apart, name).toBeLessThanOrEqual(most);
    }
  });
});

describe('every way to pack a picture', () => {
  const photo = blotches(33, 21, 6);
  const opaque = (raster: Raster) => asSharp(raster).removeAlpha();

  it.each(['none', 'lzw', 'deflate', 'packbits'] as const)(
    'TIFF, %s, in strips and tiles',
    async (compression) => {
      for (const tile of [false, true]) {
        const bytes = await asSharp(photo)
          .tiff({ compression, tile, ...(tile ? { tileWidth: 16, tileHeight: 16 } : {}) })
          .toBuffer();
        const { raster } = await decodePicture(await put(folder, 'packed.tif', bytes), 'packed.tif');
        expect(Buffer.compare(raster.data, photo.data)).toBe(0);
      }
    },
  );

  it('TIFF in bits, one byte a pixel and two', async () => {
    const black = paint(19, 8, (x, y) => ((x + y) % 3 ? [255, 255, 255] : [0, 0, 0]));
    const bytes = await opaque(black).toColourspace('b-w').tiff({ bitdepth: 1 }).toBuffer();
    const { raster } = await decodePicture(await put(folder, 'bits.tif', bytes), 'bits.tif');
    expect(Buffer.compare(raster.data, black.data)).toBe(0);
  });

  it.each([
    ['4:4:4', false],
    ['4:2:0', false],
    ['4:2:0', true],
  ] as const)(
    'JPEG %s, progressive %s, as another decoder reads it',
    async (chromaSubsampling, progressive) => {
      const bytes = await opaque(photo).jpeg({ quality: 92, chromaSubsampling, progressive }).toBuffer();
      const name = `packed-${progressive}.jpg`;
      const { raster } = await decodePicture(await put(folder, path.basename(name), bytes), name);
      const other = await sharp(bytes).ensureAlpha().raw().toBuffer();
      expect(Buffer.compare(raster.data, other)).toBe(0);
    },
  );

  it('gray of 16 bits with alpha is rounded once, to the nearest', async () => {
    const kind: PngKind = { type: 4, depth: 16, interlaced: false };
    const bytes = pngOfKind(64, 4, kind, (x, y, c) => (x * 1021 + y * 4001 + c * 7919) % 65_536);
    const { raster } = await decodePicture(await put(folder, 'deep.png', bytes), 'deep.png');
    for (let y = 0, p = 0; y < 4; y++)
      for (let x = 0; x < 64; x++, p += 4) {
        const gray = Math.round(((x * 1021 + y * 4001) % 65_536) / 257);
        const alpha = Math.round(((x * 1021 + y * 4001 + 7919) % 65_536) / 257);
        expect([raster.data[p], raster.data[p + 3]]).toEqual([gray, alpha]);
      }
  });
});
