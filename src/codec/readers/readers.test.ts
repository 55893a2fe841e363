import { gzipSync } from 'node:zlib';
import path from 'node:path';
import { PDFDocument, degrees } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { bitmapOf, type BitmapKind } from '../../../tests/make/bitmaps';
import { animated, asSharp, put } from '../../../tests/make/files';
import { freshFolder } from '../../../tests/make/folder';
import { blotches, paint } from '../../../tests/make/pictures';
import type { Page } from '../../core/cut/page';
import type { Raster } from '../../core/raster/raster';
import { decodeMaster, decodePicture, transparencyNotes } from '../decode';
import { inspectPages, inspectPicture } from '../inspect';

let folder: string;
beforeAll(async () => {
  folder = await freshFolder();
});

const inspect = (file: string, page?: Page) => inspectPicture(file, path.basename(file), page);
const decode = (file: string, page?: Page) => decodeMaster(file, path.basename(file), page);
const page = (number: number, widthPx: number | null = null): Page => ({ number, widthPx });
/** Colors only: opaque. */
const opaque = (raster: Raster) =>
  paint(raster.width, raster.height, (x, y) => {
    const p = (y * raster.width + x) * 4;
    return [raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!];
  });
/** Few colors, for palettes. */
const flag = (count: number) =>
  paint(37, 23, (x, y) => {
    const k = (Math.floor(x / 3) + Math.floor(y / 4)) % count;
    return [(k * 53) % 256, (k * 101) % 256, (k * 7) % 256];
  });

describe('BMP', () => {
  const photo = opaque(blotches(37, 23, 5));
  it.each<[string, Raster, BitmapKind]>([
    ['1 bit', flag(2), { bits: 1 }],
    ['2 bits', flag(4), { bits: 2 }],
    ['4 bits', flag(16), { bits: 4 }],
    ['8 bits', flag(97), { bits: 8 }],
    ['8 bits in runs', flag(97), { bits: 8, runs: true }],
    ['4 bits in runs', flag(16), { bits: 4, runs: true }],
    ['24 bits', photo, { bits: 24 }],
    ['24 bits from the top', photo, { bits: 24, topDown: true }],
    ['32 bits without alpha', photo, { bits: 32 }],
    ['32 bits by masks', photo, { bits: 32, masks: [0xff, 0xff00, 0xff0000, 0] }],
    ['an old header', flag(16), { bits: 4, header: 12 }],
    ['24 bits, old header', photo, { bits: 24, header: 12 }],
  ])('of %s gives the right pixels', async (name, raster, kind) => {
    const file = await put(folder, `${name}.bmp`, bitmapOf(raster, kind));
    expect(await inspect(file)).toMatchObject({ format: 'bmp', width: 37, height: 23 });
    expect((await decode(file)).data).toEqual(raster.data);
  });

  it('takes alpha where a mask names it, and not where it is 0 everywhere', async () => {
    const masks = [0xff0000, 0xff00, 0xff, 0xff000000] as const;
    const raster = paint(9, 9, (x, y) => [x * 20, y * 20, 9, x === 0 ? 0 : 30 * y]);
    const file = await put(folder, 'alpha.bmp', bitmapOf(raster, { bits: 32, header: 124, masks }));
    expect((await decode(file)).data).toEqual(raster.data);
    const none = paint(9, 9, (x, y) => [x * 20, y * 20, 9, 0]);
    const other = await put(folder, 'none.bmp', bitmapOf(none, { bits: 32, header: 124, masks }));
    expect((await decode(other)).data).toEqual(opaque(none).data);
  });

  it('spreads 5 and 6 bits over the whole range', async () => {
    const raster = paint(32, 2, (x) => [Math.round((x * 255) / 31), Math.round((x * 2 * 255) / 63), 0]);
    const file = await put(
      folder,
      '565.bmp',
      bitmapOf(raster, { bits: 16, masks: [0xf800, 0x7e0, 0x1f, 0] }),
    );
    expect((await decode(file)).data).toEqual(raster.data);
  });

  it('says its resolution unless that is of a screen, and is refused where it breaks off', async () => {
    const fine = bitmapOf(photo, { bits: 24, perMeter: 23_622 });
    expect((await inspect(await put(folder, 'fine.bmp', fine))).dpi).toBe(600);
    const screen = bitmapOf(photo, { bits: 24, perMeter: 2835 });
    expect((await inspect(await put(folder, 'screen.bmp', screen))).dpi).toBeNull();
    const half = await put(folder, 'half.bmp', fine.subarray(0, 900));
    await expect(decodePicture(half, 'half.bmp')).rejects.toMatchObject({ code: 'damaged-picture' });
  });
});

describe('GIF, WebP and TIFF of several pictures', () => {
  const frames = [blotches(40, 30, 1), blotches(40, 30, 2), blotches(40, 30, 3)].map(opaque);
  const tall = () =>
    sharp(Buffer.concat(frames.map(({ data }) => data)), {
      raw: { width: 40, height: 90, channels: 4, pageHeight: 30 },
    });

  it('are read frame by frame', async () => {
    const file = await put(folder, 'moving.webp', await tall().webp({ lossless: true }).toBuffer());
    const facts = await inspectPages(file, 'moving.webp', [page(1), page(3)]);
    expect(facts).toMatchObject([
      { pages: 3, width: 40, height: 30 },
      { pages: 3, width: 40, height: 30 },
    ]);
    for (const [k, frame] of frames.entries())
      expect((await decode(file, page(k + 1))).data).toEqual(frame.data);
    await expect(inspect(file, page(4))).rejects.toMatchObject({ code: 'bad-argument' });
  });

  it('GIF frames hold what was there before them', async () => {
    const file = await put(folder, 'moving.gif', await tall().gif({ effort: 1 }).toBuffer());
    const third = await decode(file, page(3));
    const apart = third.data.reduce((sum, value, p) => sum + Math.abs(value - frames[2]!.data[p]!), 0);
    expect(apart / third.data.length).toBeLessThan(8);
    expect((await decode(file)).data).not.toEqual(third.data);
  });

  it('an animated PNG gives the picture that stands for it, and says so', async () => {
    const png = await asSharp(frames[0]!).png().toBuffer();
    const facts = await inspect(await put(folder, 'moving.png', animated(png)));
    expect(facts).toMatchObject({ pages: 1, notes: [expect.stringMatching(/animated/)] });
  });
});

describe('AVIF', () => {
  it('is read with its alpha, also at 10 and 12 bits', async () => {
    const raster = paint(32, 32, (x, y) => [x * 8, y * 8, 100, x < 16 ? 255 : 128]);
    for (const bitdepth of [8, 10, 12] as const) {
      const bytes = await asSharp(raster)
        .avif({ lossless: true, bitdepth })
        .toBuffer()
        .catch(() => null);
      // Not every build writes more than 8 bits.
      if (!bytes) continue;
      const file = await put(folder, `deep${bitdepth}.avif`, bytes);
      expect((await inspect(file)).format).toBe('avif');
      const { data } = await decode(file);
      expect(Math.max(...data.map((value, p) => Math.abs(value - raster.data[p]!)))).toBeLessThanOrEqual(2);
    }
  });
});

describe('SVG', () => {
  const kite = '<path d="M10 0 L20 15 L10 40 L0 15 Z" fill="#c83c28"/>';
  const svg = (inside: string, attributes = 'width="20" height="40"') =>
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${inside}</svg>`;

  it('is read at the width that is asked for, on nothing', async () => {
    const file = await put(folder, 'kite.svg', svg(kite));
    expect((await inspect(file)).drawn).toMatchObject({ aspect: 2, scanWidthPx: null });
    expect((await inspect(file)).drawn!.widthIn).toBeCloseTo(20 / 96, 6);
    for (const width of [20, 100, 333]) {
      const raster = await decode(file, page(1, width));
      expect([raster.width, raster.height]).toEqual([width, width * 2]);
      const at = (x: number, y: number) => [...raster.data.subarray((y * width + x) * 4).subarray(0, 4)];
      expect(at(width >> 1, Math.round(width * 0.8))).toEqual([200, 60, 40, 255]);
      expect(at(0, 0)).toEqual([0, 0, 0, 0]);
    }
  });

  it('is read unpacked too, and without a size by its view box', async () => {
    const file = await put(folder, 'packed.svgz', gzipSync(svg(kite, 'viewBox="0 0 20 40"')));
    expect(await inspect(file, page(1, 200))).toMatchObject({ format: 'svg', width: 200, height: 400 });
    expect((await decode(file, page(1, 200))).data.some((value) => value === 200)).toBe(true);
  });

  it.each([
    ['a picture on the web', '<image href="https://example.org/a.png" width="9" height="9"/>'],
    ['a file', '<image xlink:href="file:///etc/hostname" width="9" height="9"/>'],
    ['a file beside it', '<image href="other.png" width="9" height="9"/>'],
    ['another drawing', '<use href="other.svg#a"/>'],
    ['a style from elsewhere', '<style>@import "https://example.org/a.css";</style>'],
    ['a filling from elsewhere', '<rect width="9" height="9" fill="url(https://example.org/a.svg#b)"/>'],
    ['a style that fetches', '<rect width="9" height="9" style="filter: url(\'other.svg#f\')"/>'],
  ])('is refused with %s', async (_what, inside) => {
    const file = await put(folder, 'outside.svg', svg(inside));
    await expect(inspect(file)).rejects.toMatchObject({
      code: 'unsupported-format',
      message: expect.stringContaining('outside of itself') as string,
    });
  });

  it('is refused with entities, which multiply', async () => {
    const text = `<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>${svg('<text>&b;</text>')}`;
    await expect(inspect(await put(folder, 'many.svg', text))).rejects.toMatchObject({
      code: expect.stringMatching(/unsupported-format|damaged-picture/) as string,
    });
  });

  it('may refer to itself, hold pictures and lead readers elsewhere', async () => {
    const dot = (
      await asSharp(paint(2, 2, () => [1, 2, 3]))
        .png()
        .toBuffer()
    ).toString('base64');
    const inside = `<defs><linearGradient id="g"/></defs><a href="https://example.org">${kite}</a><rect width="9" height="9" fill="url(#g)"/><image href="data:image/png;base64,${dot}" width="2" height="2"/>`;
    expect(await inspect(await put(folder, 'inside.svg', svg(inside)))).toMatchObject({ format: 'svg' });
  });

  it('says that its text depends on the machine, and is damaged where it breaks off', async () => {
    const file = await put(folder, 'words.svg', svg('<text y="20">Ostrel</text>'));
    expect((await decodePicture(file, 'words.svg', 'refuse', page(1, 80))).notes[0]).toMatch(/fonts/);
    const half = await put(folder, 'half.svg', svg(kite).slice(0, 120));
    await expect(inspect(half)).rejects.toMatchObject({ code: 'damaged-picture' });
  });
});

describe('PDF', () => {
  const scan = opaque(blotches(124, 176, 7));
  let file: string;
  beforeAll(async () => {
    const document = await PDFDocument.create();
    const picture = await document.embedPng(await asSharp(scan).removeAlpha().png().toBuffer());
    const [width, height] = [(124 * 72) / 200, (176 * 72) / 200];
    document.addPage([width, height]).drawImage(picture, { x: 0, y: 0, width, height });
    document.addPage([144, 72]).drawRectangle({ x: 36, y: 18, width: 72, height: 36 });
    const turned = document.addPage([width, height]);
    turned.drawImage(picture, { x: 0, y: 0, width, height });
    turned.setRotation(degrees(90));
    file = await put(folder, 'pages.pdf', await document.save());
  });

  it('says its pages, and which are scans of which resolution', async () => {
    const facts = await inspectPages(file, 'pages.pdf', [page(1), page(2), page(3)]);
    expect(facts.map(({ pages }) => pages)).toEqual([3, 3, 3]);
    expect(facts[0]).toMatchObject({ width: 124, height: 176, dpi: 200, drawn: { scanWidthPx: 124 } });
    // 2 inches at 300 dpi are fewer than the 1000 px that a drawing has at least.
    expect(facts[1]).toMatchObject({ width: 1000, height: 500, drawn: { scanWidthPx: null } });
    expect(facts[2]).toMatchObject({ width: 176, height: 124 });
  });

  it('gives a scan byte for byte, also where it lies turned', async () => {
    expect(Buffer.compare((await decode(file)).data, scan.data)).toBe(0);
    const turned = await sharp(await asSharp(scan).png().toBuffer())
      .rotate(90)
      .raw()
      .toBuffer();
    expect(Buffer.compare(Buffer.from((await decode(file, page(3))).data), turned)).toBe(0);
  });

  it('draws what has no pixels at any width, on nothing', async () => {
    const raster = await decode(file, page(2, 400));
    expect([raster.width, raster.height]).toEqual([400, 200]);
    const alphaAt = (x: number, y: number) => raster.data[(y * 400 + x) * 4 + 3];
    expect([alphaAt(5, 5), alphaAt(200, 100), alphaAt(395, 195)]).toEqual([0, 255, 0]);
  });

  it('is refused where it is locked, damaged, or has no such page', async () => {
    const half = await put(folder, 'half.pdf', '%PDF-1.7\nnothing of it');
    await expect(inspect(half)).rejects.toMatchObject({ code: 'damaged-picture' });
    await expect(inspect(file, page(4))).rejects.toMatchObject({
      code: 'bad-argument',
      message: expect.stringContaining('3 pages') as string,
    });
  });

  it('is too large where its page would be', async () => {
    await expect(inspect(file, page(1, 30_000))).rejects.toMatchObject({
      code: 'too-many-pixels',
      message: expect.stringContaining('Read it smaller') as string,
    });
  });
});

describe('HEIC and JPEG 2000', () => {
  // Made once from the demo emblem with programs of their own; no encoder of theirs ships with this.
  it.each([
    ['emblem.heic', 'heic', 6],
    ['emblem.jp2', 'jp2', 0],
    ['emblem.j2k', 'jp2', 0],
  ] as const)('%s is read to the pixels it was made of', async (name, format, most) => {
    const file = path.join('tests/fixtures', name);
    const wanted = await sharp('tests/fixtures/emblem.png').ensureAlpha().raw().toBuffer();
    expect(await inspect(file)).toMatchObject({ format, width: 64, height: 48, pages: 1 });
    const { data } = await decode(file);
    const mean = data.reduce((sum, value, p) => sum + Math.abs(value - wanted[p]!), 0) / data.length;
    expect(mean).toBeLessThanOrEqual(most);
  });

  it('are refused where they break off', async () => {
    const { readFile } = await import('node:fs/promises');
    for (const name of ['emblem.heic', 'emblem.jp2']) {
      const bytes = await readFile(path.join('tests/fixtures', name));
      const half = await put(folder, name, bytes.subarray(0, bytes.length >> 1));
      await expect(decodePicture(half, name), name).rejects.toMatchObject({ code: 'damaged-picture' });
    }
  });
});

describe('what is said of a picture that comes in', () => {
  const notesOf = async (name: string, bytes: Buffer) =>
    (await decodePicture(await put(folder, name, bytes), name)).notes;

  it('is how much of it is transparent already', () => {
    const raster = paint(10, 10, (x) => [9, 9, 9, x < 6 ? 0 : 255]);
    expect(transparencyNotes(raster)).toEqual(['Already transparent: 60 %.']);
    expect(transparencyNotes(opaque(raster))).toEqual([]);
  });

  it('is that its colors were converted', async () => {
    const raster = opaque(blotches(20, 20, 3));
    const wide = await asSharp(raster).removeAlpha().withIccProfile('p3').png().toBuffer();
    expect(await notesOf('wide.png', wide)).toEqual([
      expect.stringMatching(/converted from .*P3.* to sRGB/i),
    ]);
    const inks = await asSharp(raster).removeAlpha().toColourspace('cmyk').jpeg().toBuffer();
    expect(await notesOf('inks.jpg', inks)).toEqual([expect.stringMatching(/CMYK/)]);
    const plain = await asSharp(raster).removeAlpha().withIccProfile('srgb').png().toBuffer();
    expect(await notesOf('plain.png', plain)).toEqual([]);
  });
});
