import { INTENT_PERCEPTUAL, instantiate, type Engine } from 'lcms-wasm';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { jpegWith, pngOf, tiffOf, type Samples } from '../../tests/make/deep-files';
import { put } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { DISPLAY_P3, GRAY_22, PLAIN_SRGB, WIDE_RGB } from '../../tests/make/profiles';
import { seededRandom } from '../core/numeric/random';
import { decodeMaster } from './decode';
import { toSrgb8 } from './deep-color';
import { readShaper } from './icc-shaper';

let folder: string;
let engine: Engine;
let cmykProfile: Buffer;
beforeAll(async () => {
  folder = await freshFolder();
  engine = await instantiate();
  const pixel = sharp(Buffer.alloc(3), { raw: { width: 1, height: 1, channels: 3 } });
  const cmyk = await pixel.toColourspace('cmyk').withIccProfile('cmyk').jpeg().toBuffer();
  cmykProfile = (await sharp(cmyk).metadata()).icc!;
});

const WIDTH = 40;
const HEIGHT = 25;

/** Random samples, but none that lie far outside of what sRGB can show: mixed half with gray. */
function samplesOf(channels: 1 | 3 | 4, depth: 8 | 16): Samples {
  const random = seededRandom(channels * 100 + depth);
  const most = depth === 8 ? 255 : 65_535;
  const values = Array.from({ length: WIDTH * HEIGHT }, () => {
    const gray = random();
    return Array.from({ length: channels }, () => Math.round((0.6 * gray + 0.4 * random()) * most));
  });
  return { width: WIDTH, height: HEIGHT, channels, depth, values: values.flat() };
}

/** Formats of the engine: floating point, 4 bytes a sample, of gray (3), RGB (4) or CMYK (6). */
const floats = (space: number, channels: number) => (1 << 22) | (space << 16) | (channels << 3) | 4;
const FORMATS = { 1: floats(3, 1), 3: floats(4, 3), 4: floats(6, 4) } as const;

/** What the second color engine makes of them, in floating point, rounded once: red, green, blue of each pixel. */
function expected({ channels, depth, values }: Samples, icc: Buffer): number[] {
  const most = depth === 8 ? 255 : 65_535;
  const from = engine.cmsOpenProfileFromMem(new Uint8Array(icc), icc.length);
  const format = FORMATS[channels as keyof typeof FORMATS];
  const to = engine.cmsCreate_sRGBProfile();
  const transform = engine.cmsCreateTransform(from, format, to, FORMATS[3], INTENT_PERCEPTUAL, 0);
  const input = Float32Array.from(values, (value) => (value / most) * (channels === 4 ? 100 : 1));
  const output = engine.cmsDoTransform(transform, input, values.length / channels);
  return Array.from(output, (value) => Math.round(255 * Math.min(1, Math.max(0, value))));
}

function furthest(rgba: Uint8Array, rgb: readonly number[]): number {
  let most = 0;
  for (let i = 0; i < rgb.length / 3; i++)
    for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(rgba[i * 4 + c]! - rgb[i * 3 + c]!));
  return most;
}

const RGB_PROFILES = [
  ['sRGB', PLAIN_SRGB],
  ['Display P3', DISPLAY_P3],
  ['wide RGB', WIDE_RGB],
] as const;

describe('decoding with a color profile, against a second color engine', () => {
  // 8-bit conversions go through the decoder's own tables; from 16 bits all is computed and rounded once.
  const bounds = { 8: 2, 16: 1 } as const;

  for (const depth of [8, 16] as const) {
    it.each(RGB_PROFILES)(`RGB of ${depth} bits in %s: PNG and TIFF`, async (name, icc) => {
      const samples = samplesOf(3, depth);
      const right = expected(samples, icc);
      for (const [ending, bytes] of [
        ['png', pngOf(samples, icc)],
        ['tif', tiffOf(samples, 2, icc)],
      ] as const) {
        const file = await put(folder, `${name}-${depth}.${ending}`, bytes);
        const { data } = await decodeMaster(file, name);
        expect(furthest(data, right), ending).toBeLessThanOrEqual(bounds[depth]);
      }
    });

    it(`gray of ${depth} bits with gamma 2.2: PNG and TIFF`, async () => {
      const samples = samplesOf(1, depth);
      const right = expected(samples, GRAY_22);
      for (const [ending, bytes] of [
        ['png', pngOf(samples, GRAY_22)],
        ['tif', tiffOf(samples, 1, GRAY_22)],
      ] as const) {
        const file = await put(folder, `gray-${depth}.${ending}`, bytes);
        const { data } = await decodeMaster(file, 'gray');
        expect(furthest(data, right), ending).toBeLessThanOrEqual(bounds[depth]);
      }
    });
  }

  it('CMYK of 8 and of 16 bits: TIFF', async () => {
    const samples = samplesOf(4, 8);
    const deep: Samples = { ...samples, depth: 16, values: samples.values.map((value) => value * 257) };
    const read = async (name: string, of: Samples) =>
      (await decodeMaster(await put(folder, name, tiffOf(of, 5, cmykProfile)), name)).data;
    const data = await read('cmyk-8.tif', samples);
    expect(await read('cmyk-16.tif', deep)).toEqual(data);
    // Ink beyond what sRGB shows is brought in along other ways by the two engines: so the mean, and a wide bound.
    const right = expected(samples, cmykProfile);
    expect(furthest(data, right)).toBeLessThanOrEqual(25);
    const off = right.map((value, k) => Math.abs(data[Math.floor(k / 3) * 4 + (k % 3)]! - value));
    expect(off.reduce((sum, value) => sum + value, 0) / off.length).toBeLessThan(3);
  });

  it.each(RGB_PROFILES)('RGB of 8 bits in %s: JPEG and WebP', async (name, icc) => {
    const { width, height, values } = samplesOf(3, 8);
    const picture = () => sharp(Buffer.from(values), { raw: { width, height, channels: 3 } });
    const jpeg = await picture().jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
    const stored = [...(await sharp(jpeg).raw().toBuffer())];
    const file = await put(folder, `${name}.jpg`, jpegWith(jpeg, icc));
    const right = expected({ width, height, channels: 3, depth: 8, values: stored }, icc);
    expect(furthest((await decodeMaster(file, name)).data, right)).toBeLessThanOrEqual(2);
    if (name === 'wide RGB') return;
    const known = name === 'sRGB' ? 'srgb' : 'p3';
    const webp = await picture().withIccProfile(known).webp({ lossless: true }).toBuffer();
    const kept = await sharp(webp, { ignoreIcc: true }).raw().toBuffer();
    const own = (await sharp(webp).metadata()).icc!;
    const wanted = expected({ width, height, channels: 3, depth: 8, values: [...kept] }, own);
    const webpFile = await put(folder, `${name}.webp`, webp);
    expect(furthest((await decodeMaster(webpFile, name)).data, wanted)).toBeLessThanOrEqual(2);
  });

  it('a profile of lookup tables at 16 bits is left to the decoder’s own engine, and is close', async () => {
    const samples = samplesOf(3, 16);
    const p3 = await sharp(Buffer.alloc(3), { raw: { width: 1, height: 1, channels: 3 } })
      .withIccProfile('p3')
      .png()
      .toBuffer();
    const icc = (await sharp(p3).metadata()).icc!;
    expect(readShaper(withTables(icc), 3)).toBeNull();
    const file = await put(folder, 'tables.png', pngOf(samples, withTables(icc)));
    const { data } = await decodeMaster(file, 'tables');
    expect(furthest(data, expected(samples, icc))).toBeLessThanOrEqual(3);
  });
});

/** A profile whose tag for white is called a lookup table, which an engine that looks closer passes over. */
function withTables(icc: Buffer): Buffer {
  const copy = Buffer.from(icc);
  const at = copy.indexOf('cprt', 128, 'latin1');
  copy.write('A2B0', at, 'latin1');
  return copy;
}

describe('toSrgb8', () => {
  it('rounds every depth once, to the nearest', () => {
    const values = Uint16Array.from({ length: 65_536 }, (_, value) => value);
    const out = toSrgb8(values, 1, null);
    for (let value = 0; value < 65_536; value++) {
      expect(out[value * 4]).toBe(Math.round((value * 255) / 65_535));
      expect(out[value * 4 + 3]).toBe(255);
    }
  });

  it('lays out gray with alpha, and RGB with alpha', () => {
    expect([...toSrgb8(Uint16Array.of(257 * 9, 257 * 200), 2, null)]).toEqual([9, 9, 9, 200]);
    expect([...toSrgb8(Uint16Array.of(257, 514, 771, 1028), 4, null)]).toEqual([1, 2, 3, 4]);
  });

  it('leaves gray gray in any profile of three colors', () => {
    for (const [, icc] of RGB_PROFILES) {
      const shaper = readShaper(icc, 3)!;
      const [red, green, blue] = toSrgb8(Uint16Array.of(30_000, 30_000, 30_000), 3, shaper);
      expect(Math.max(red!, green!, blue!) - Math.min(red!, green!, blue!)).toBeLessThanOrEqual(1);
    }
  });

  it('takes a profile that is damaged, or of another space, for none', () => {
    expect(readShaper(DISPLAY_P3.subarray(0, 200), 3)).toBeNull();
    expect(readShaper(Buffer.alloc(500, 0xff), 3)).toBeNull();
    expect(readShaper(GRAY_22, 3)).toBeNull();
    expect(readShaper(DISPLAY_P3, 1)).toBeNull();
  });
});
