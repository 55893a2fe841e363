import { readFile } from 'node:fs/promises';
import { gzipSync } from 'node:zlib';
import { PDFDocument } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { pngOf, tiffOf } from '../../tests/make/deep-files';
import { bitmapOf } from '../../tests/make/bitmaps';
import type { InputFormat } from '../../src/core/formats';
import { seededRandom } from '../../src/core/numeric/random';
import { createRaster } from '../../src/core/raster/raster';

/** A whole picture to be damaged. */
export interface BasePicture {
  readonly name: string;
  readonly format: InputFormat;
  readonly bytes: Buffer;
}

const WIDTH = 72;
const HEIGHT = 56;

/** Small pictures of each readable format, in the ways it can be written. */
export async function basePictures(seed: number): Promise<BasePicture[]> {
  const random = seededRandom(seed);
  const rgb = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const inside = Math.hypot(x - WIDTH / 2, y - HEIGHT / 2) < 18 + 4 * Math.sin(x / 3);
      for (let c = 0; c < 3; c++)
        rgb[(y * WIDTH + x) * 3 + c] = (inside ? 40 + 60 * c : 236) + Math.floor(random() * 16);
    }
  const picture = () => sharp(rgb, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });
  const deep = {
    width: WIDTH,
    height: HEIGHT,
    channels: 3,
    depth: 16,
    values: [...rgb].map((value) => value * 257),
  } as const;
  const made: [name: string, format: BasePicture['format'], bytes: Buffer | Promise<Buffer>][] = [
    ['plain.png', 'png', picture().png().toBuffer()],
    ['palette.png', 'png', picture().png({ palette: true }).toBuffer()],
    ['interlaced.png', 'png', picture().png({ progressive: true }).toBuffer()],
    ['profile.png', 'png', picture().withMetadata({ density: 300 }).withIccProfile('p3').png().toBuffer()],
    ['deep.png', 'png', pngOf(deep, null)],
    ['plain.jpg', 'jpeg', picture().jpeg().toBuffer()],
    ['progressive.jpg', 'jpeg', picture().jpeg({ progressive: true }).toBuffer()],
    [
      'full.jpg',
      'jpeg',
      picture().jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).withMetadata().toBuffer(),
    ],
    ['gray.jpg', 'jpeg', picture().grayscale().jpeg().toBuffer()],
    ['lossy.webp', 'webp', picture().webp().toBuffer()],
    ['lossless.webp', 'webp', picture().webp({ lossless: true }).toBuffer()],
    ['alpha.webp', 'webp', picture().ensureAlpha(0.5).webp().toBuffer()],
    ['plain.tif', 'tiff', picture().tiff({ compression: 'none' }).toBuffer()],
    ['lzw.tif', 'tiff', picture().tiff({ compression: 'lzw' }).toBuffer()],
    ['deflate.tif', 'tiff', picture().tiff({ compression: 'deflate' }).toBuffer()],
    ['tiles.tif', 'tiff', picture().tiff({ compression: 'deflate', tile: true }).toBuffer()],
    ['jpeg.tif', 'tiff', picture().tiff({ compression: 'jpeg' }).toBuffer()],
    ['deep.tif', 'tiff', tiffOf(deep, 2, null)],
  ];
  return Promise.all(made.map(async ([name, format, bytes]) => ({ name, format, bytes: await bytes })));
}

/** Small pictures of the formats that readers of their own read, and of animated ones. */
export async function otherPictures(): Promise<BasePicture[]> {
  const data = new Uint8Array(48 * 40 * 4);
  for (let i = 0; i < 48 * 40; i++) {
    const isIn = Math.hypot((i % 48) - 24, Math.floor(i / 48) - 20) < 12;
    data.set(isIn ? [60, 90, 150, 255] : [240, 238, 230, 255], 4 * i);
  }
  const raster = createRaster(48, 40, data);
  const picture = () => sharp(data, { raw: { width: 48, height: 40, channels: 4 } });
  const twice = sharp(Buffer.concat([data, data.map((value, p) => (p % 4 === 3 ? 255 : 255 - value))]), {
    raw: { width: 48, height: 80, channels: 4, pageHeight: 40 },
  });
  const drawing =
    '<svg xmlns="http://www.w3.org/2000/svg" width="48" height="40"><defs><linearGradient id="g"><stop offset="0" stop-color="#1d3557"/><stop offset="1" stop-color="#2a7f86"/></linearGradient></defs><path d="M24 4 L40 20 L24 36 L8 20 Z" fill="url(#g)"/><circle cx="24" cy="20" r="5" fill="#fff" transform="rotate(30)"/></svg>';
  const document = await PDFDocument.create();
  const embedded = await document.embedPng(await picture().removeAlpha().png().toBuffer());
  document.addPage([48, 40]).drawImage(embedded, { x: 0, y: 0, width: 48, height: 40 });
  document.addPage([96, 80]).drawText('Ostrel', { x: 10, y: 30, size: 24 });
  const few = createRaster(
    48,
    40,
    data.map((value) => value & 0xf0),
  );
  const fixture = (name: string) => readFile(`tests/fixtures/${name}`);
  const made: [name: string, format: InputFormat, bytes: Buffer | Promise<Buffer>][] = [
    ['still.gif', 'gif', picture().gif().toBuffer()],
    ['moving.gif', 'gif', twice.gif().toBuffer()],
    ['plain.avif', 'avif', picture().removeAlpha().avif().toBuffer()],
    ['alpha.avif', 'avif', picture().ensureAlpha(0.5).avif({ lossless: true }).toBuffer()],
    ['phone.heic', 'heic', fixture('emblem.heic')],
    ['colors.bmp', 'bmp', bitmapOf(raster, { bits: 24 })],
    ['palette.bmp', 'bmp', bitmapOf(few, { bits: 4 })],
    ['runs.bmp', 'bmp', bitmapOf(few, { bits: 8, runs: true })],
    [
      'masks.bmp',
      'bmp',
      bitmapOf(raster, { bits: 32, header: 124, masks: [0xff0000, 0xff00, 0xff, 0xff000000] }),
    ],
    ['kite.svg', 'svg', Buffer.from(drawing)],
    ['packed.svgz', 'svg', gzipSync(drawing)],
    ['pages.pdf', 'pdf', Buffer.from(await document.save())],
    ['plain.pdf', 'pdf', Buffer.from(await document.save({ useObjectStreams: false }))],
    ['plain.jp2', 'jp2', fixture('emblem.jp2')],
    ['bare.j2k', 'jp2', fixture('emblem.j2k')],
  ];
  return Promise.all(made.map(async ([name, format, bytes]) => ({ name, format, bytes: await bytes })));
}
