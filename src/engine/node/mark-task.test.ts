import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import exifr from 'exifr';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { embeddedInJpeg } from '../../codec/photo/embed';
import { groupOf, lineMark, newText, newWatermark } from '../../core/watermark/first-watermarks';
import { AS_BROUGHT, type MarkWish } from '../../core/watermark/settings';
import { markFile, type MarkInput } from './mark-task';
import { shapeTexts } from './shape-texts';

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(path.join(tmpdir(), 'mark-'))));
afterAll(() => rm(folder, { recursive: true }));

const place = (name: string) => path.join(folder, name);

const EXIF = {
  IFD0: {
    Make: 'Ostrel',
    Model: 'Shore 1',
    Artist: 'Maren Ostrel',
    Copyright: 'old',
    Software: 'Camera 2.1',
  },
  IFD2: { DateTimeOriginal: '2024:07:09 10:11:12', ExposureTime: '1/250', LensModel: 'Coast 35' },
  IFD3: {
    GPSLatitudeRef: 'N',
    GPSLatitude: '54/1 30/1 0/1',
    GPSLongitudeRef: 'E',
    GPSLongitude: '13/1 24/1 0/1',
  },
};

/** A photo of noise on a gradient, 480 x 320, with all that cameras write. */
function camera() {
  const pixels = Buffer.alloc(480 * 320 * 3);
  for (let i = 0; i < 480 * 320; i++) {
    const [x, y] = [i % 480, Math.floor(i / 480)];
    pixels[i * 3] = (x / 2) & 255;
    pixels[i * 3 + 1] = (y / 2 + ((x * 7 + y * 13) % 23)) & 255;
    pixels[i * 3 + 2] = 140;
  }
  return sharp(pixels, { raw: { width: 480, height: 320, channels: 3 } }).withExif(EXIF);
}

const wish = (change: Partial<MarkWish> = {}): MarkWish => ({
  ...AS_BROUGHT,
  watermark: lineMark('© {year} Ostrel'),
  ...change,
});

async function mark(name: string, change: Partial<MarkWish> = {}, input: Partial<MarkInput> = {}) {
  const outPath = place(`out-${Math.random().toString(36).slice(2)}`);
  const result = await markFile({
    path: place(name),
    name,
    wish: wish(change),
    materials: {},
    date: '2026-11-30',
    outPath,
    ...input,
  });
  return { result, outPath };
}

const tagsOf = (file: string) =>
  exifr.parse(file, { tiff: true, ifd0: {}, exif: true, gps: true, xmp: true }) as Promise<
    Record<string, unknown>
  >;

const pixelsOf = async (file: string | Buffer) =>
  sharp(file, { ignoreIcc: true }).raw().toBuffer({ resolveWithObject: true });

describe('what a photo says', () => {
  beforeAll(async () => {
    await camera().jpeg({ quality: 90 }).toFile(place('camera.jpg'));
  });

  it.each(['jpeg', 'png', 'webp', 'tiff'] as const)(
    'stays in a %s, read by another library',
    async (format) => {
      const { result, outPath } = await mark('camera.jpg', { format });
      expect(result).toMatchObject({ kind: 'marked', format });
      expect((await sharp(outPath).metadata()).format).toBe(format);
      const exif = (await sharp(outPath).metadata()).exif;
      const tags =
        format === 'webp'
          ? ((await exifr.parse(exif!.subarray(exif!.toString('latin1', 0, 4) === 'Exif' ? 6 : 0), {
              gps: true,
            })) as Record<string, unknown>)
          : await tagsOf(outPath);
      expect(tags).toMatchObject({
        Make: 'Ostrel',
        Model: 'Shore 1',
        Artist: 'Maren Ostrel',
        Software: 'Camera 2.1',
        LensModel: 'Coast 35',
      });
      expect(tags.ExposureTime).toBeCloseTo(1 / 250, 9);
      expect(tags.latitude).toBeCloseTo(54.5, 6);
      expect(tags.longitude).toBeCloseTo(13.4, 6);
    },
  );

  it('stays on the way from a TIFF to a JPEG', async () => {
    const tiff = await mark('camera.jpg', { format: 'tiff' });
    // Without the mark's own tag it would be left alone.
    const bytes = await readFile(tiff.outPath);
    const at = bytes.indexOf('Kenosis mark');
    bytes.write('Another mark', at, 'latin1');
    await writeFile(place('said.tif'), bytes);
    const { outPath } = await mark('said.tif', { format: 'jpeg' });
    const tags = await tagsOf(outPath);
    expect(tags).toMatchObject({ Make: 'Ostrel', LensModel: 'Coast 35' });
    expect(tags.latitude).toBeCloseTo(54.5, 6);
  });

  it('gives the year it was taken to the text', async () => {
    const { result } = await mark('camera.jpg', { watermark: lineMark('{date}') });
    const today = await mark('camera.jpg', { watermark: lineMark('2024-07-09') });
    expect(result.kind === 'marked' && today.result.kind === 'marked').toBe(true);
    const [one, other] = [
      await pixelsOf((await mark('camera.jpg', { watermark: lineMark('{date}') })).outPath),
      await pixelsOf(today.outPath),
    ];
    expect(Buffer.compare(one.data, other.data)).toBe(0);
  });

  it('gets an author and a right, and loses where it was taken, so that nothing of it can be read', async () => {
    const { outPath } = await mark('camera.jpg', {
      author: 'Ostrel Kiteworks',
      copyright: '© Ostrel',
      location: 'dropped',
    });
    const tags = await tagsOf(outPath);
    expect(tags.latitude).toBeUndefined();
    expect(tags).toMatchObject({ Make: 'Ostrel', Artist: 'Ostrel Kiteworks' });
    const { exif, xmp } = await sharp(outPath).metadata();
    // The degrees as fractions, in both orders of bytes.
    for (const bytes of ['36000000010000001e000000', '00000036000000010000001e'])
      expect(exif!.toString('hex')).not.toContain(bytes);
    expect(xmp!.toString()).toContain('© Ostrel');
  });

  it('loses places in its XMP too', async () => {
    const packet = `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:exif="http://ns.adobe.com/exif/1.0/" xmlns:place="http://ostrel.example/place/" xmlns:dc="http://purl.org/dc/elements/1.1/" exif:GPSLatitude="54,30N" place:City="Ostrel Bay"><dc:subject><rdf:Bag><rdf:li>kites</rdf:li></rdf:Bag></dc:subject><exif:GPSLongitude>13,24E</exif:GPSLongitude></rdf:Description></rdf:RDF>`;
    await camera().withXmp(packet).jpeg().toFile(place('xmp.jpg'));
    const kept = (await sharp((await mark('xmp.jpg')).outPath).metadata()).xmp!.toString();
    expect(kept).toContain('54,30N');
    const gone = (
      await sharp((await mark('xmp.jpg', { location: 'dropped' })).outPath).metadata()
    ).xmp!.toString();
    expect(gone).not.toMatch(/54,30N|13,24E|Ostrel Bay/);
    expect(gone).toContain('kites');
  });

  it('keeps its IPTC data in a JPEG, and leaves them out where places are dropped or the format has none', async () => {
    const record = Buffer.concat([Buffer.from([0x1c, 2, 0x19, 0, 5]), Buffer.from('kites')]);
    const plain = await sharp(place('camera.jpg')).jpeg().toBuffer();
    const { file } = embeddedInJpeg(plain, {
      exif: null,
      xmp: null,
      icc: null,
      iptc: record,
      extendedXmp: null,
      dpi: null,
    });
    await writeFile(place('iptc.jpg'), file);
    const iptcOf = async (change: Partial<MarkWish>) => {
      const { result, outPath } = await mark('iptc.jpg', change);
      const { iptc } = await sharp(outPath).metadata();
      return [
        iptc?.includes('kites') ?? false,
        result.kind === 'marked' && result.notes.join().includes('IPTC'),
      ];
    };
    expect(await iptcOf({})).toEqual([true, false]);
    expect(await iptcOf({ location: 'dropped' })).toEqual([false, true]);
    expect(await iptcOf({ format: 'png' })).toEqual([false, true]);
  });

  it('has no small picture of the photo without its mark', async () => {
    // An Exif block with a second folder that names a small picture behind it.
    const { exif } = await sharp(place('camera.jpg')).metadata();
    const block = Buffer.from(exif!);
    const tiff = block.subarray(6);
    const little = tiff.toString('latin1', 0, 2) === 'II';
    const read16 = (at: number) => (little ? tiff.readUInt16LE(at) : tiff.readUInt16BE(at));
    const first = little ? tiff.readUInt32LE(4) : tiff.readUInt32BE(4);
    const link = first + 2 + 12 * read16(first);
    const thumbnail = await sharp(place('camera.jpg')).resize(64).jpeg().toBuffer();
    const at = tiff.length + (tiff.length % 2);
    const folderBytes = Buffer.alloc(2 + 24 + 4);
    const put = (value: number, offset: number, bytes: 2 | 4) =>
      void (bytes === 2
        ? little
          ? folderBytes.writeUInt16LE(value, offset)
          : folderBytes.writeUInt16BE(value, offset)
        : little
          ? folderBytes.writeUInt32LE(value, offset)
          : folderBytes.writeUInt32BE(value, offset));
    put(2, 0, 2);
    for (const [k, [tag, value]] of [
      [0x0201, at + 30],
      [0x0202, thumbnail.length],
    ].entries()) {
      put(tag!, 2 + 12 * k, 2);
      put(4, 4 + 12 * k, 2);
      put(1, 6 + 12 * k, 4);
      put(value!, 10 + 12 * k, 4);
    }
    const whole = Buffer.concat([tiff, Buffer.alloc(at - tiff.length), folderBytes, thumbnail]);
    if (little) whole.writeUInt32LE(at, link);
    else whole.writeUInt32BE(at, link);
    const plain = await sharp(place('camera.jpg')).jpeg().toBuffer();
    const part = Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), whole]);
    const head = Buffer.from([0xff, 0xe1, 0, 0]);
    head.writeUInt16BE(part.length + 2, 2);
    await writeFile(place('thumb.jpg'), Buffer.concat([plain.subarray(0, 2), head, part, plain.subarray(2)]));
    expect((await exifr.thumbnail(place('thumb.jpg')))?.length).toBe(thumbnail.length);
    const { outPath } = await mark('thumb.jpg');
    expect(await exifr.thumbnail(outPath).catch(() => undefined)).toBeUndefined();
    expect((await readFile(outPath)).includes(thumbnail.subarray(20, 200))).toBe(false);
    expect(await tagsOf(outPath)).toMatchObject({ Make: 'Ostrel', LensModel: 'Coast 35' });
  });

  it('keeps its orientation, and the mark stands where it is seen', async () => {
    for (const orientation of [1, 3, 6, 8]) {
      await camera()
        .withMetadata({ orientation })
        .jpeg({ quality: 95 })
        .toFile(place(`turned-${orientation}.jpg`));
      const { outPath } = await mark(`turned-${orientation}.jpg`, { quality: 95 });
      expect((await sharp(outPath).metadata()).orientation).toBe(orientation);
      const before = await sharp(place(`turned-${orientation}.jpg`))
        .autoOrient()
        .raw()
        .toBuffer({ resolveWithObject: true });
      const after = await sharp(outPath).autoOrient().raw().toBuffer();
      const { width, height } = before.info;
      let low = 0;
      let elsewhere = 0;
      for (let p = 0; p < after.length; p++) {
        if (Math.abs(after[p]! - before.data[p]!) < 60) continue;
        const [x, y] = [Math.floor(p / 3) % width, Math.floor(p / 3 / width)];
        if (x > width / 2 && y > height * 0.8) low++;
        else elsewhere++;
      }
      expect(low, `orientation ${orientation}`).toBeGreaterThan(50);
      expect(elsewhere).toBe(0);
    }
    const png = await mark('turned-6.jpg', { format: 'png' });
    const { width, height, orientation } = await sharp(png.outPath).metadata();
    expect([width, height, orientation ?? 1]).toEqual([320, 480, 1]);
  });
});

describe('what a photo shows', () => {
  it('is that of decoding and encoding alone beyond the mark', async () => {
    await camera().jpeg({ quality: 90 }).toFile(place('plain.jpg'));
    const { outPath } = await mark('plain.jpg', { quality: 90 });
    const alone = await sharp(place('plain.jpg'))
      .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
      .toBuffer();
    const [own, bare] = [await pixelsOf(outPath), await pixelsOf(alone)];
    let beyond = 0;
    for (let p = 0; p < own.data.length; p++) {
      if (own.data[p] === bare.data[p]) continue;
      const [x, y] = [Math.floor(p / 3) % 480, Math.floor(p / 3 / 480)];
      // The mark's box and the blocks of 8 pixels that it lies in.
      if (x < 280 || y < 260) beyond++;
    }
    expect(beyond).toBe(0);
    const metadata = await sharp(outPath).metadata();
    expect(metadata.chromaSubsampling).toBe('4:4:4');
  });

  it('is read back whatever its size, noise of all levels too', async () => {
    for (const [width, quality] of [
      [333, 92],
      [690, 92],
      [1000, 40],
      [1601, 92],
      [2300, 60],
    ] as const) {
      const height = Math.round(width / 2);
      const noise = Buffer.alloc(width * height * 3);
      for (let p = 0, value = 7; p < noise.length; p++) {
        value = (value * 1_103_515_245 + 12_345) >>> 0;
        noise[p] = value >>> 24;
      }
      const name = `noise-${width}.png`;
      await sharp(noise, { raw: { width, height, channels: 3 } })
        .png()
        .toFile(place(name));
      for (const format of ['jpeg', 'webp'] as const)
        expect((await mark(name, { format, quality })).result.kind, `${format}, ${width}`).toBe('marked');
    }
  });

  it('has equal bytes each time', async () => {
    const bytes = await Promise.all([1, 2].map(async () => readFile((await mark('plain.jpg')).outPath)));
    expect(Buffer.compare(bytes[0]!, bytes[1]!)).toBe(0);
  });

  it('keeps its color space, in which the mark has the color that was chosen', async () => {
    await sharp({ create: { width: 400, height: 300, channels: 3, background: '#102030' } })
      .withIccProfile('p3')
      .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
      .toFile(place('p3.jpg'));
    const red = lineMark('MMMM');
    const look = {
      ...red.look,
      light: '#e04030',
      version: 'light' as const,
      opacity: 100,
      contrast: { least: 1, most: 0 },
    };
    const { outPath } = await mark('p3.jpg', { quality: 100, watermark: { ...red, look } });
    const before = await sharp(place('p3.jpg')).metadata();
    const after = await sharp(outPath).metadata();
    expect(Buffer.compare(after.icc!, before.icc!)).toBe(0);
    const seen = await sharp(outPath).raw().toBuffer();
    let nearest = Infinity;
    for (let p = 0; p < seen.length; p += 3)
      nearest = Math.min(
        nearest,
        Math.abs(seen[p]! - 0xe0) + Math.abs(seen[p + 1]! - 0x40) + Math.abs(seen[p + 2]! - 0x30),
      );
    expect(nearest).toBeLessThan(9);
  });

  it('of inks becomes sRGB, of 16 bits has 8, and of gray has colors, each with a sentence where it matters', async () => {
    await camera().toColourspace('cmyk').withIccProfile('cmyk').jpeg().toFile(place('inks.jpg'));
    const inks = await mark('inks.jpg');
    expect(inks.result).toMatchObject({ notes: [expect.stringMatching(/CMYK/)] });
    expect((await sharp(inks.outPath).metadata()).space).toBe('srgb');
    await camera().toColourspace('rgb16').png().toFile(place('deep.png'));
    expect((await mark('deep.png')).result).toMatchObject({
      format: 'png',
      notes: [expect.stringMatching(/8 now/)],
    });
    await camera().grayscale().jpeg().toFile(place('gray.jpg'));
    expect((await mark('gray.jpg')).result).toMatchObject({ kind: 'marked', notes: [] });
  });

  it('is made smaller first, never larger', async () => {
    const sizeOf = async (resize: MarkWish['resize']) => {
      const { width, height } = await sharp((await mark('plain.jpg', { resize })).outPath).metadata();
      return [width, height];
    };
    expect(await sizeOf({ kind: 'long', px: 240 })).toEqual([240, 160]);
    expect(await sizeOf({ kind: 'long', px: 2000 })).toEqual([480, 320]);
    const [width, height] = await sizeOf({ kind: 'megapixels', megapixels: 0.05 });
    expect(Math.abs(width! * height! - 50_000)).toBeLessThan(400);
  });

  it('keeps its alpha in a PNG and lies on white in a JPEG', async () => {
    await sharp({
      create: { width: 300, height: 200, channels: 4, background: { r: 200, g: 40, b: 40, alpha: 0.5 } },
    })
      .png()
      .toFile(place('clear.png'));
    const png = await mark('clear.png');
    const alphas = (await pixelsOf(png.outPath)).data.filter((_, p) => p % 4 === 3);
    expect(alphas[0]).toBe(128);
    expect(png.result).toMatchObject({ alpha: { transparent: 0 } });
    expect((await mark('clear.png', { format: 'jpeg' })).result).toMatchObject({
      notes: [expect.stringMatching(/lies on white/)],
    });
  });
});

describe('what is left alone or refused', () => {
  it('leaves a photo alone that has a mark', async () => {
    for (const format of ['jpeg', 'png', 'webp', 'tiff'] as const) {
      const { outPath } = await mark('plain.jpg', { format });
      const again = place('again');
      expect((await mark('x', {}, { path: outPath, outPath: again })).result).toEqual({ kind: 'has-mark' });
      await expect(readFile(again)).rejects.toThrow();
    }
  });

  const refusal = async (name: string, change: Partial<MarkWish> = {}) => {
    const outPath = place('refused');
    const made = mark(name, change, { outPath });
    await expect(made).rejects.toThrow();
    await expect(readFile(outPath)).rejects.toThrow();
    const { code, message } = await made.then(
      () => ({ code: '', message: '' }),
      (cause: unknown) => cause as { code: string; message: string },
    );
    return `${code}: ${message}`;
  };

  it('refuses what is damaged, is no photo, or is too small', async () => {
    const whole = await readFile(place('plain.jpg'));
    await writeFile(place('half.jpg'), whole.subarray(0, whole.length / 2));
    await writeFile(place('text.jpg'), 'no picture');
    await writeFile(place('drawn.svg'), '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>');
    await sharp({ create: { width: 6, height: 4, channels: 3, background: '#888' } })
      .png()
      .toFile(place('tiny.png'));
    expect(await refusal('half.jpg')).toMatch(/^damaged-picture: "half.jpg" is damaged/);
    expect(await refusal('text.jpg')).toMatch(/^not-a-picture/);
    expect(await refusal('drawn.svg')).toMatch(/^unsupported-format.*drawing/);
    expect(await refusal('tiny.png')).toMatch(/^photo-too-small: A photo of 6 x 4/);
  });

  it('refuses text that cannot be set, and documents that name what is not in them', async () => {
    expect(await refusal('plain.jpg', { watermark: lineMark('a 😀') })).toMatch(
      /^no-letters: "😀" is not in Jost/,
    );
    expect(await refusal('plain.jpg', { watermark: lineMark('{nothing}') })).toMatch(
      /^bad-argument: text: expected one of \{year\}/,
    );
    const font = { kind: 'brought', name: 'Dune Script', file: 'a'.repeat(64) } as const;
    expect(
      await refusal('plain.jpg', { watermark: newWatermark('x', [groupOf([newText('t1', 'a', { font })])]) }),
    ).toMatch(/^missing-material: The font "Dune Script" is not there any more/);
    const source = { kind: 'embedded', name: 'c', data: 'AAAA' } as const;
    const part = { kind: 'cutout', id: 'c1', source, size: 100, painted: true } as const;
    expect(await refusal('plain.jpg', { watermark: newWatermark('x', [groupOf([part])]) })).toMatch(
      /^bad-watermark.*cannot be read as a picture/,
    );
  });

  it('puts a cutout that is in the document on the photo, in its own colors or in those of the mark', async () => {
    const data = (
      await sharp({ create: { width: 40, height: 40, channels: 4, background: '#30c060' } })
        .png()
        .toBuffer()
    ).toString('base64');
    const at = async (painted: boolean) => {
      const part = {
        kind: 'cutout',
        id: 'c1',
        source: { kind: 'embedded', name: 'c', data },
        size: 100,
        painted,
      } as const;
      const base = newWatermark('x', [groupOf([part])]);
      const look = { ...base.look, opacity: 100, version: 'light' as const };
      const { outPath } = await mark('plain.jpg', { format: 'png', watermark: { ...base, look } });
      const { data: pixels } = await pixelsOf(outPath);
      const p = (250 * 480 + 420) * 3;
      return [...pixels.subarray(p, p + 3)];
    };
    expect(await at(false)).toEqual([0x30, 0xc0, 0x60]);
    expect(await at(true)).toEqual([255, 255, 255]);
  });

  it('says in its place what of several lines cannot be set', async () => {
    const font = { kind: 'shipped', which: 'jost' } as const;
    const one = { font, weight: 400, ligatures: true };
    const [good, bad] = await shapeTexts({
      wishes: [
        { ...one, text: 'a' },
        { ...one, text: '😀' },
      ],
      fonts: {},
    });
    expect(good).toHaveProperty('glyphs');
    expect(bad).toEqual({ trouble: expect.stringMatching(/not in Jost/) as string });
  });
});
