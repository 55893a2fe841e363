import { truncate } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type TiffOptions } from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { pngOf } from '../../tests/make/deep-files';
import { asSharp, hugePng, pngChunk, put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { blotches, paint } from '../../tests/make/pictures';
import { seededRandom } from '../core/numeric/random';
import { decodeMaster, decodePicture } from './decode';
import { inspectPicture } from './inspect';
import { crc32 } from './png-chunks';
import { checkTiff } from './tiff-check';

let folder: string;
beforeAll(async () => {
  folder = await freshFolder();
});

const raster = blotches(40, 30, 1);
const inspect = (file: string) => inspectPicture(file, path.basename(file));
const decode = (file: string) => decodeMaster(file, path.basename(file));

describe('inspectPicture', () => {
  it('reads size, format and dpi', async () => {
    const file = await put(
      folder,
      'fine.png',
      await asSharp(raster).withMetadata({ density: 600 }).png().toBuffer(),
    );
    expect(await inspect(file)).toMatchObject({ format: 'png', width: 40, height: 30, dpi: 600 });
    const jpeg = await put(folder, 'fine.jpg', await asSharp(raster).jpeg().toBuffer());
    expect(await inspect(jpeg)).toMatchObject({ format: 'jpeg', width: 40, height: 30 });
  });

  it('gives the size after the orientation tag', async () => {
    const file = await put(
      folder,
      'turned.jpg',
      await asSharp(raster).jpeg().withMetadata({ orientation: 6 }).toBuffer(),
    );
    expect(await inspect(file)).toMatchObject({ width: 30, height: 40 });
    expect(await decode(file)).toMatchObject({ width: 30, height: 40 });
  });

  it('refuses what it does not take, each with its own code and the file’s name', async () => {
    const png = await asSharp(raster).png().toBuffer();
    const cases: [string, Uint8Array | string, string][] = [
      ['empty.png', '', 'empty-file'],
      ['letter.png', 'Dear Maren, the wind is good today.', 'not-a-picture'],
      ['broken.png', png.subarray(0, 20), 'damaged-picture'],
      ['layers.psd', Buffer.from('8BPS\0\x01......'), 'unsupported-format'],
      ['print.eps', '%!PS-Adobe-3.0 EPSF-3.0', 'unsupported-format'],
      ['film.mp4', Buffer.from('\0\0\0\x20ftypisom....'), 'unsupported-format'],
      ['pictures.zip', Buffer.from('PK\x03\x04....'), 'unsupported-format'],
      ['vast.png', hugePng(20_000, 5_001), 'too-many-pixels'],
    ];
    for (const [name, bytes, code] of cases) {
      const file = await put(folder, name, bytes);
      await expect(inspect(file), name).rejects.toMatchObject({
        code,
        message: expect.stringContaining(name) as string,
      });
    }
  });

  it('refuses a file of too many bytes without reading it', async () => {
    const file = await put(folder, 'heavy.png', '');
    await truncate(file, 200_000_001);
    await expect(inspect(file)).rejects.toMatchObject({ code: 'too-many-bytes' });
  });
});

describe('decodeMaster', () => {
  it('gives exactly the pixels of a PNG, hidden color included', async () => {
    const random = seededRandom(7);
    const byte = () => Math.floor(random() * 256);
    const master = paint(33, 21, () => [byte(), byte(), byte(), byte()]);
    const file = await put(folder, 'exact.png', await asSharp(master).png().toBuffer());
    expect((await decode(file)).data).toEqual(master.data);
  });

  it('turns gray, 16-bit, palette and CMYK pictures into 8-bit RGBA', async () => {
    const gray = paint(8, 8, (x, y) => [x * 30, x * 30, x * 30 + 0 * y]);
    const grayFile = await put(
      folder,
      'gray.png',
      await asSharp(gray).removeAlpha().grayscale().png().toBuffer(),
    );
    expect((await decode(grayFile)).data).toEqual(gray.data);
    const values = [...gray.data].filter((_v, p) => p % 4 !== 3).map((value) => value * 257);
    const samples = { width: 8, height: 8, channels: 3, depth: 16, values } as const;
    const deep = await put(folder, 'deep.png', pngOf(samples, null));
    expect((await sharp(deep).metadata()).depth).toBe('ushort');
    expect((await decode(deep)).data).toEqual(gray.data);
    const cmyk = await put(
      folder,
      'cmyk.jpg',
      await asSharp(raster).removeAlpha().toColourspace('cmyk').jpeg().toBuffer(),
    );
    expect((await sharp(cmyk).metadata()).channels).toBe(4);
    expect((await decode(cmyk)).data.filter((_v, p) => p % 4 === 3).every((alpha) => alpha === 255)).toBe(
      true,
    );
  });

  it('converts an embedded profile to sRGB', async () => {
    const green = paint(8, 8, () => [60, 200, 80]);
    const file = await put(folder, 'wide.png', await asSharp(green).withIccProfile('p3').png().toBuffer());
    const stored = await sharp(file).raw().toBuffer();
    const { data } = await decode(file);
    expect(Math.abs(data[0]! - 60)).toBeLessThanOrEqual(2);
    expect(Math.abs(data[1]! - 200)).toBeLessThanOrEqual(2);
    expect(stored.length).toBeGreaterThan(0);
  });

  it('refuses to give what cannot be read at all', async () => {
    const file = await put(folder, 'nothing.png', 'nothing');
    await expect(decode(file)).rejects.toMatchObject({ code: 'damaged-picture' });
  });
});

describe('decodePicture', () => {
  const decodeStrictly = (file: string) => decodePicture(file, path.basename(file));

  it('refuses a picture whose data break off', async () => {
    for (const [name, bytes] of [
      [
        'half.jpg',
        await asSharp(blotches(400, 300, 2))
          .jpeg()
          .toBuffer(),
      ],
      [
        'half.png',
        await asSharp(blotches(400, 300, 2))
          .png()
          .toBuffer(),
      ],
      [
        'half.webp',
        await asSharp(blotches(400, 300, 2))
          .webp()
          .toBuffer(),
      ],
    ] as const) {
      const file = await put(folder, name, bytes.subarray(0, Math.floor(bytes.length / 2)));
      await expect(
        inspect(file).then(() => decodeStrictly(file)),
        name,
      ).rejects.toMatchObject({ code: 'damaged-picture' });
    }
  });
});

it('reads a file as it is now, though another one had its name before', async () => {
  const first = await put(
    folder,
    'same.png',
    await asSharp(blotches(30, 20, 1))
      .png()
      .toBuffer(),
  );
  expect((await decode(first)).width).toBe(30);
  const second = await put(
    folder,
    'same.png',
    await asSharp(blotches(50, 40, 1))
      .png()
      .toBuffer(),
  );
  expect((await decode(second)).width).toBe(50);
});

describe('checkTiff', () => {
  const ways: TiffOptions[] = [
    { compression: 'none' },
    { compression: 'lzw' },
    { compression: 'deflate' },
    { compression: 'deflate', tile: true },
    { compression: 'jpeg' },
    { compression: 'deflate', predictor: 'horizontal' },
  ];

  it.each(ways)('finds nothing in a whole picture: %o', async (way) => {
    const file = await put(
      folder,
      'whole.tif',
      await asSharp(blotches(300, 200, 2))
        .tiff(way)
        .toBuffer(),
    );
    expect(await checkTiff(file)).toBeNull();
    expect((await decodePicture(file, 'whole.tif')).notes).toEqual([]);
  });

  it('finds a part whose checksum is wrong, though all its rows can be read', async () => {
    const bytes = await asSharp(blotches(64, 48, 2))
      .tiff({ compression: 'deflate' })
      .toBuffer();
    const start = bytes.readUInt32LE(4);
    const entries = Array.from({ length: bytes.readUInt16LE(start) }, (_, k) => start + 2 + 12 * k);
    const valueOf = (tag: number) =>
      bytes.readUInt32LE(entries.find((at) => bytes.readUInt16LE(at) === tag)! + 8);
    bytes[valueOf(273) + valueOf(279) - 1]! ^= 0x40;
    const file = await put(folder, 'checksum.tif', bytes);
    expect(await checkTiff(file)).toBe('a compressed part is not whole');
    await expect(decodePicture(file, 'x')).rejects.toMatchObject({ code: 'damaged-picture' });
  });
});

describe('decodePicture under damage', () => {
  const whole = () => asSharp(blotches(400, 300, 2));
  const half = (bytes: Buffer) => bytes.subarray(0, bytes.length >> 1);
  const flipped = (bytes: Buffer) => {
    const copy = Buffer.from(bytes);
    for (const k of [0, 5, 9]) copy[Math.floor(copy.length * 0.6) + k]! ^= 0x5a;
    return copy;
  };

  it.each([
    ['half a JPEG', async () => half(await whole().jpeg().toBuffer())],
    [
      'half a JPEG that was closed with an end marker',
      async () => Buffer.concat([half(await whole().jpeg().toBuffer()), Buffer.from([0xff, 0xd9])]),
    ],
    [
      'half a progressive JPEG that was closed so',
      async () =>
        Buffer.concat([
          half(await whole().jpeg({ progressive: true }).toBuffer()),
          Buffer.from([0xff, 0xd9]),
        ]),
    ],
    ['half a PNG', async () => half(await whole().png().toBuffer())],
    ['a PNG with wrong bytes', async () => flipped(await whole().png().toBuffer())],
    [
      'a TIFF in Deflate strips with wrong bytes',
      async () => flipped(await whole().tiff({ compression: 'deflate' }).toBuffer()),
    ],
    [
      'a TIFF in Deflate tiles with wrong bytes',
      async () => flipped(await whole().tiff({ compression: 'deflate', tile: true }).toBuffer()),
    ],
  ])('%s is refused, and taken as far as it can be read when that is asked for', async (what, make) => {
    const file = await put(folder, `${what}.bin`, await make());
    await expect(decodePicture(file, 'x')).rejects.toMatchObject({
      code: 'damaged-picture',
      wayOut: 'accept-damaged',
      message: expect.not.stringMatching(/vips|libpng/i) as string,
    });
    const { raster, notes } = await decodePicture(file, 'x', 'accept');
    expect([raster.width, raster.height]).toEqual([400, 300]);
    expect(notes).toEqual([expect.stringMatching(/^Damaged: only what could be read was taken/)]);
    // What was let in once is read the same way ever after.
    expect((await decode(file)).data).toEqual(raster.data);
  });

  it('has nothing to offer where nothing can be read', async () => {
    const file = await put(folder, 'half.tif', half(await whole().tiff().toBuffer()));
    await expect(decodePicture(file, 'half.tif', 'accept')).rejects.toMatchObject({
      code: 'damaged-picture',
      wayOut: null,
    });
  });

  it('takes a whole picture without a note, bytes behind its end or not', async () => {
    for (const bytes of [await whole().jpeg().toBuffer(), await whole().png().toBuffer()]) {
      const file = await put(folder, 'trailing.bin', Buffer.concat([bytes, Buffer.from('behind the end')]));
      expect((await decodePicture(file, 'x')).notes).toEqual([]);
    }
  });
});

describe('what a picture says of its resolution', () => {
  const flat = () => asSharp(raster).removeAlpha();
  const dpiOf = async (name: string, bytes: Buffer) => (await inspect(await put(folder, name, bytes))).dpi;

  it('is what somebody measured, never what a decoder makes up', async () => {
    expect(await dpiOf('none.png', await flat().png().toBuffer())).toBeNull();
    expect(await dpiOf('none.jpg', await flat().jpeg().toBuffer())).toBeNull();
    expect(await dpiOf('none.tif', await flat().tiff().toBuffer())).toBeNull();
    expect(await dpiOf('phone.jpg', await flat().withMetadata({ density: 72 }).jpeg().toBuffer())).toBeNull();
    expect(await dpiOf('scan.jpg', await flat().withMetadata({ density: 300 }).jpeg().toBuffer())).toBe(300);
    expect(await dpiOf('said.png', await flat().withMetadata({ density: 72 }).png().toBuffer())).toBeCloseTo(
      72,
      0,
    );
  });

  it('is not known from a JPEG whose units are only a ratio', async () => {
    const jpeg = await flat().jpeg().toBuffer();
    const app0 = Buffer.from('ffe000104a46494600010100012c012c0000', 'hex');
    expect(
      await dpiOf('inch.jpg', Buffer.concat([jpeg.subarray(0, 2), withUnits(app0, 1), jpeg.subarray(2)])),
    ).toBe(300);
    expect(
      await dpiOf('ratio.jpg', Buffer.concat([jpeg.subarray(0, 2), withUnits(app0, 0), jpeg.subarray(2)])),
    ).toBeNull();
  });

  const withUnits = (app0: Buffer, units: number) => {
    const copy = Buffer.from(app0);
    copy[11] = units;
    return copy;
  };
});

describe('a PNG of a million empty chunks', () => {
  it('is refused before it is read', async () => {
    const png = await asSharp(raster).png().toBuffer();
    const empty = pngChunk('teXt', new Uint8Array(0));
    const crowd = Buffer.concat(Array.from({ length: 20_000 }, () => empty));
    const at = 8 + 25;
    const file = await put(
      folder,
      'crowd.png',
      Buffer.concat([png.subarray(0, at), crowd, png.subarray(at)]),
    );
    await expect(inspect(file)).rejects.toMatchObject({ code: 'damaged-picture' });
  });
});

describe('a PNG that is damaged beside its picture', () => {
  const IEND = 12;

  it.each([
    ['its end is cut off', (png: Buffer) => png.subarray(0, png.length - IEND), /^Its end is missing/],
    ['its end is wrong', (png: Buffer) => withFlip(png, png.length - 1), /^Its end is damaged/],
    [
      'its resolution is wrong',
      (png: Buffer) => withFlip(png, png.indexOf('pHYs') + 5),
      /beside its picture: chunk pHYs/,
    ],
  ])('comes in with a note: %s', async (what, spoil, note) => {
    const png = await asSharp(raster).withMetadata({ density: 300 }).png().toBuffer();
    const file = await put(folder, `${what}.png`, spoil(png));
    expect((await inspect(file)).notes).toEqual([expect.stringMatching(note)]);
  });

  it('and one that is whole, with bytes behind its end, without', async () => {
    const png = await asSharp(raster).withMetadata({ density: 300 }).withIccProfile('p3').png().toBuffer();
    const file = await put(folder, 'whole.png', Buffer.concat([png, Buffer.alloc(100_000, 7)]));
    expect((await inspect(file)).notes).toEqual([]);
  });

  it('is told by the published check value of its checksum', () => {
    expect(crc32(Buffer.from('123456789'))).toBe(0xcbf43926);
  });

  const withFlip = (bytes: Buffer, at: number) => {
    const copy = Buffer.from(bytes);
    copy[at]! ^= 0x11;
    return copy;
  };
});
