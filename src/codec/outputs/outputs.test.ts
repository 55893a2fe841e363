import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { fileContent, NO_CREDIT } from '../../../tests/make/file-content';
import { asSharp } from '../../../tests/make/files';
import { freshFolder } from '../../../tests/make/folder';
import { blotches, paint } from '../../../tests/make/pictures';
import { seededRandom } from '../../core/numeric/random';
import type { Raster } from '../../core/raster/raster';
import { outputIn } from '../../core/stages/deliver/new-output';
import { AS_IT_IS } from '../../core/stages/deliver/output-settings';
import { untouchedCut } from '../../core/cut/parse';
import { decodeMaster } from '../decode';
import { inspectPicture } from '../inspect';
import { OUTPUTS } from './outputs';
import { PNG } from './png';
import { writeOutput } from './write-output';

let folder: string;
beforeAll(async () => {
  folder = await freshFolder();
});
const file = (name: string) => path.join(folder, name);

/** Random bytes; color under alpha 0 is black, as in every cutout. */
function noisy(width: number, height: number, seed: number): Raster {
  const random = seededRandom(seed);
  const byte = () => Math.floor(random() * 256);
  return paint(width, height, () => {
    const alpha = random() < 0.3 ? 0 : byte();
    return alpha === 0 ? [0, 0, 0, 0] : [byte(), byte(), byte(), alpha];
  });
}

/** A soft disc of one color on nothing. */
function softDisc(size: number): Raster {
  return paint(size, size, (x, y) => {
    const out = Math.hypot(x + 0.5 - size / 2, y + 0.5 - size / 2) - size / 3;
    const alpha = Math.round(255 * Math.min(1, Math.max(0, 0.5 - out)));
    return alpha === 0 ? [0, 0, 0, 0] : [200, 60, 40, alpha];
  });
}

const spoil = (raster: Raster, at: number): Raster => {
  const other = { ...raster, data: raster.data.slice() };
  other.data[at]! ^= 64;
  return other;
};

describe('formats that hold every pixel', () => {
  it.each(['png', 'webp', 'tiff', 'pdf'] as const)(
    '%s does, and a file that holds others is found',
    async (format) => {
      const raster = noisy(61, 47, 3);
      const name = file(`all.${format}`);
      const content = fileContent(raster, format, 300);
      await OUTPUTS[format].write(content, name);
      expect(await OUTPUTS[format].verify(name, content)).toMatchObject({
        width: 61,
        height: 47,
        independent: true,
        color: { largest: 0, mean: 0 },
        alpha: { largest: 0, mean: 0 },
      });
      const opaque = raster.data.findIndex((value, p) => p % 4 === 3 && value === 255) - 1;
      const seen = opaque > 0 ? opaque : raster.data.findIndex((value, p) => p % 4 === 3 && value > 200) - 1;
      await expect(
        OUTPUTS[format].verify(name, fileContent(spoil(raster, seen), format, 300)),
      ).rejects.toMatchObject({
        code: 'verification-failed',
      });
    },
  );

  it.each(['png', 'tiff', 'jpeg', 'pdf'] as const)('%s says its resolution', async (format) => {
    const name = file(`dpi.${format}`);
    const content = fileContent(softDisc(40), format, 236);
    await OUTPUTS[format].write(content, name);
    expect((await OUTPUTS[format].verify(name, content)).dpi).toBeCloseTo(236, 0);
    await expect(OUTPUTS[format].verify(name, { ...content, dpi: 300 })).rejects.toMatchObject({
      code: 'verification-failed',
    });
  });

  it('avif does without a quality', async () => {
    const raster = noisy(40, 30, 5);
    const name = file('all.avif');
    const content = fileContent(raster, { ...outputIn('avif'), quality: null } as never);
    await OUTPUTS.avif.write(content, name);
    expect(await OUTPUTS.avif.verify(name, content)).toMatchObject({
      independent: false,
      alpha: { largest: 0 },
      color: { largest: 0 },
    });
  });

  it('tiff marks its alpha as unassociated', async () => {
    const name = file('marked.tif');
    const content = fileContent(softDisc(20), 'tiff');
    await OUTPUTS.tiff.write(content, name);
    const bytes = await readFile(name);
    // ExtraSamples (338), one short: 2 for unassociated alpha.
    const at = bytes.indexOf(Buffer.from([0x52, 0x01, 0x03, 0x00, 0x01, 0x00, 0x00, 0x00]));
    expect(bytes.readUInt16LE(at + 8)).toBe(2);
  });
});

describe('PNG', () => {
  const kindOf = async (raster: Raster, dpi: number | null = null) => {
    const name = file('kind.png');
    const content = fileContent(raster, 'png', dpi);
    await PNG.write(content, name);
    const { kind } = await PNG.verify(name, content);
    // A second, independent reader sees the same pixels.
    expect((await decodeMaster(name, 'kind.png')).data).toEqual(raster.data);
    return kind;
  };

  it.each([
    ['two colors', paint(33, 9, (x) => [x % 2 ? 255 : 0, 0, 0, x % 2 ? 255 : 128]), 'palette of 2 colors'],
    ['four', paint(33, 9, (x) => [(x % 4) * 60, 9, 9, 255 - (x % 4)]), 'palette of 4 colors'],
    ['sixteen', paint(33, 9, (x) => [(x % 16) * 15, 9, 9, 255]), 'palette of 16 colors'],
    ['a photo', noisy(60, 60, 8), 'RGBA'],
  ])('writes %s as a %s', async (_what, raster, kind) => {
    expect(await kindOf(raster)).toBe(kind);
  });

  it('writes many grays with alpha, opaque grays and opaque colors in fewer channels', async () => {
    const random = seededRandom(2);
    const byte = () => Math.floor(random() * 256);
    const gray = (alpha: () => number) =>
      paint(60, 60, () => {
        const level = byte();
        const a = alpha();
        return a === 0 ? [0, 0, 0, 0] : [level, level, level, a];
      });
    expect(await kindOf(gray(byte))).toBe('gray with alpha');
    expect(await kindOf(paint(60, 60, () => [byte(), byte(), byte()]))).toBe('RGB');
    // 256 grays and no alpha: whichever is smaller.
    expect(await kindOf(gray(() => 255))).toMatch(/^(gray|palette of \d+ colors)$/);
  });

  it('is never larger than RGBA, and keeps the resolution in a palette', async () => {
    const raster = softDisc(200);
    const name = file('small.png');
    await PNG.write(fileContent(raster, 'png', 300), name);
    const plain = await asSharp(raster).png({ compressionLevel: 6, adaptiveFiltering: true }).toBuffer();
    expect((await readFile(name)).length).toBeLessThanOrEqual(plain.length);
    expect((await sharp(name).metadata()).density).toBe(300);
  });

  it('says its resolution once, or not at all', async () => {
    const name = file('phys.png');
    for (const [raster, dpi] of [
      [noisy(40, 40, 1), 300],
      [noisy(40, 40, 1), null],
      [softDisc(40), 300],
      [softDisc(40), null],
    ] as const) {
      await PNG.write(fileContent(raster, 'png', dpi), name);
      const bytes = (await readFile(name)).toString('latin1');
      expect(bytes.split('pHYs').length - 1).toBe(dpi === null ? 0 : 1);
    }
  });

  it('finds a single pixel that differs, and a file without alpha', async () => {
    const cutout = blotches(30, 20, 4);
    const name = file('spoiled.png');
    await PNG.write(fileContent(cutout), name);
    const other = spoil(cutout, (5 * 30 + 7) * 4 + 3);
    await expect(PNG.verify(name, fileContent(other))).rejects.toMatchObject({
      code: 'verification-failed',
      message: expect.stringContaining('pixel 7, 5') as string,
    });
    await writeFile(name, await asSharp(cutout).removeAlpha().png().toBuffer());
    await expect(PNG.verify(name, fileContent(noisy(30, 20, 1)))).rejects.toMatchObject({
      code: 'verification-failed',
    });
  });
});

describe('formats that lose something', () => {
  it('say how much of color, and keep alpha exactly where they can', async () => {
    const raster = softDisc(80);
    for (const [format, quality] of [
      ['webp', 60],
      ['avif', 60],
      ['jpeg', 60],
    ] as const) {
      const content = fileContent(raster, { ...outputIn(format), quality } as never);
      const name = file(`lossy.${format}`);
      await OUTPUTS[format].write(content, name);
      const found = await OUTPUTS[format].verify(name, content);
      expect(found.color.mean, format).toBeGreaterThan(0);
      expect(found.color.mean, format).toBeLessThan(12);
      if (format !== 'avif') expect(found.alpha.largest, format).toBe(0);
    }
  });

  it('refuse to call another picture delivered', async () => {
    const content = fileContent(softDisc(80), 'jpeg');
    const name = file('other.jpg');
    await OUTPUTS.jpeg.write(content, name);
    const other = fileContent(
      paint(80, 80, (x) => (x < 40 ? [0, 255, 0] : [255, 0, 255])),
      'jpeg',
    );
    await expect(OUTPUTS.jpeg.verify(name, other)).rejects.toMatchObject({ code: 'verification-failed' });
  });

  it('gif: each pixel is there or not, soft ones mixed with the matte', async () => {
    const raster = softDisc(60);
    const name = file('matte.gif');
    const content = fileContent(raster, { ...outputIn('gif'), threshold: 100, matte: '#0000ff' } as never);
    await OUTPUTS.gif.write(content, name);
    expect((await OUTPUTS.gif.verify(name, content)).alpha.largest).toBe(0);
    const { data } = await decodeMaster(name, 'matte.gif');
    for (let p = 0; p < data.length; p += 4)
      if (data[p + 3] !== (raster.data[p + 3]! >= 100 ? 255 : 0)) expect.fail(`pixel ${p / 4}`);
    const soft = raster.data.findIndex((value, p) => p % 4 === 3 && value > 110 && value < 160) - 3;
    // Halfway between the disc's red and the matte's blue.
    expect(data[soft + 2]).toBeGreaterThan(90);
  });

  it('jpeg: the backing shows where nothing is', async () => {
    const name = file('backed.jpg');
    const content = fileContent(softDisc(60), { ...outputIn('jpeg'), backing: '#00ff00' } as never);
    await OUTPUTS.jpeg.write(content, name);
    const { data } = await decodeMaster(name, 'backed.jpg');
    expect(data[0]).toBeLessThan(12);
    expect(data[1]).toBeGreaterThan(243);
  });
});

describe('ICO', () => {
  it('holds each square, which a second reader finds again', async () => {
    const name = file('site.ico');
    const cut = untouchedCut();
    const { verified } = await writeOutput(softDisc(300), cut, outputIn('ico'), null, name);
    expect(verified).toMatchObject({ width: 48, height: 48, kind: '3 squares' });
    const bytes = await readFile(name);
    expect([...bytes.subarray(0, 6)]).toEqual([0, 0, 1, 0, 3, 0]);
    expect([bytes[6], bytes[22], bytes[38]]).toEqual([16, 32, 48]);
    const start = bytes.readUInt32LE(22 + 12);
    const middle = bytes.subarray(start, start + bytes.readUInt32LE(22 + 8));
    expect(await sharp(middle).metadata()).toMatchObject({ format: 'png', width: 32, height: 32 });
  });
});

describe('SVG outline', () => {
  it('drawn again it covers what the cutout covers', async () => {
    const name = file('outline.svg');
    const content = fileContent(softDisc(120), 'svg');
    await OUTPUTS.svg.write(content, name);
    const found = await OUTPUTS.svg.verify(name, content);
    expect(found.alpha.mean).toBeLessThan(0.3);
    const text = await readFile(name, 'utf8');
    expect(text).toContain('fill="#c83c28"');
    // A circle of 40 px radius in few curves.
    expect(text.match(/C/g)!.length).toBeLessThan(24);
  });

  it('is laid out like any file, in millimeters where it is printed', async () => {
    const name = file('printed.svg');
    const size = { ...AS_IT_IS, trim: true, to: { kind: 'print', widthMm: 50, dpi: 300 } } as const;
    const { verified } = await writeOutput(
      softDisc(120),
      untouchedCut(),
      { format: 'svg', errorPx: 0.1, size },
      null,
      name,
    );
    // Enlarged pixels are soft where the outline is sharp.
    expect(verified.alpha.mean).toBeLessThan(4);
    expect(await readFile(name, 'utf8')).toMatch(/width="50(\.\d+)?mm"/);
    const { width, height } = await sharp(name).metadata();
    expect(width / height).toBeCloseTo(1, 1);
  });

  it('has holes as holes', async () => {
    const ring = paint(80, 80, (x, y) => {
      const r = Math.hypot(x - 39.5, y - 39.5);
      return r < 30 && r > 15 ? [0, 0, 0, 255] : [0, 0, 0, 0];
    });
    const name = file('ring.svg');
    await OUTPUTS.svg.write(fileContent(ring, 'svg'), name);
    const { data } = await decodeMaster(name, 'ring.svg', { number: 1, widthPx: 80 });
    const alphaAt = (x: number, y: number) => data[(y * 80 + x) * 4 + 3];
    expect([alphaAt(40, 40), alphaAt(40, 18), alphaAt(2, 2)]).toEqual([0, 255, 0]);
  });
});

describe('what is written about a file', () => {
  const credit = {
    author: 'Maren Ostrel',
    copyright: '© Ostrel "Kiteworks" & Co',
    description: 'Ein Drachen <1>',
  };

  it.each(['png', 'webp', 'avif', 'tiff', 'jpeg', 'svg'] as const)('stands in %s', async (format) => {
    const name = file(`credit.${format}`);
    const raster = format === 'svg' ? softDisc(40) : noisy(40, 40, 4);
    const content = fileContent(raster, format, null, credit);
    await OUTPUTS[format].write(content, name);
    await OUTPUTS[format].verify(name, content);
    const text =
      format === 'svg' ? await readFile(name, 'utf8') : (await sharp(name).metadata()).xmp!.toString();
    expect(text).toContain('Maren Ostrel');
    expect(text).toContain('© Ostrel &quot;Kiteworks&quot; &amp; Co');
    // No resolution was named, so none is told.
    if (format !== 'svg') expect((await inspectPicture(name, name)).dpi).toBeNull();
  });

  it('stands in a palette PNG where readers look for it, and nowhere where nothing was said', async () => {
    const name = file('palette.png');
    const raster = paint(20, 20, (x) => [x < 10 ? 9 : 200, 0, 0, 255]);
    await PNG.write(fileContent(raster, 'png', 300, credit), name);
    expect((await sharp(name).metadata()).xmp?.toString()).toContain('Maren Ostrel');
    await PNG.write(fileContent(raster, 'png', null, NO_CREDIT), name);
    const plain = await sharp(name).metadata();
    expect([plain.xmp, plain.exif, plain.icc]).toEqual([undefined, undefined, undefined]);
  });

  it('stands in a PDF', async () => {
    const name = file('credit.pdf');
    const content = fileContent(softDisc(20), 'pdf', 300, credit);
    await OUTPUTS.pdf.write(content, name);
    const { PDFDocument } = await import('@cantoo/pdf-lib');
    const document = await PDFDocument.load(await readFile(name));
    expect([document.getAuthor(), document.getTitle()]).toEqual([credit.author, credit.description]);
  });
});

describe('writeOutput', () => {
  it('leaves no color under transparency, or that of the edge', async () => {
    const disc = softDisc(60);
    const cut = untouchedCut();
    const name = file('hidden.png');
    await writeOutput(disc, cut, outputIn('png'), null, name);
    const removed = (await decodeMaster(name, 'hidden.png')).data;
    for (let p = 0; p < removed.length; p += 4)
      if (removed[p + 3] === 0 && (removed[p] || removed[p + 1] || removed[p + 2])) expect.fail(`${p}`);
    const bleeding = { ...cut, deliver: { ...cut.deliver, hidden: 'bled' as const } };
    await writeOutput(disc, bleeding, outputIn('png'), null, name);
    const bled = (await decodeMaster(name, 'hidden.png')).data;
    expect([...bled.subarray(0, 4)]).toEqual([200, 60, 40, 0]);
    expect(bled.filter((_v, p) => p % 4 === 3)).toEqual(disc.data.filter((_v, p) => p % 4 === 3));
  });

  it('resizes, pads and says the scale', async () => {
    const name = file('sized.png');
    const size = {
      ...AS_IT_IS,
      trim: true,
      padding: { top: 1, right: 2, bottom: 3, left: 4, unit: 'px' },
      to: { kind: 'width', px: 46 },
    } as const;
    const { verified, scale } = await writeOutput(
      softDisc(60),
      untouchedCut(),
      { format: 'png', size },
      300,
      name,
    );
    // The disc's box is 41 px wide with its soft rim: 40 of the 46 are left for it.
    expect(verified).toMatchObject({ width: 46, dpi: null });
    expect(scale).toBeCloseTo(40 / 41, 1);
    const { data, width, height } = await decodeMaster(name, 'sized.png');
    const row = (y: number) =>
      data.subarray(y * width * 4, (y + 1) * width * 4).filter((_v, p) => p % 4 === 3);
    expect(Math.max(...row(0))).toBe(0);
    expect(Math.max(...row(1))).toBeGreaterThan(0);
    expect([height - 1, height - 2, height - 3].map((y) => Math.max(...row(y)))).toEqual([0, 0, 0]);
  });
});
