import type { JpegOptions } from 'sharp';
import { describe, expect, it } from 'vitest';
import { asSharp } from '../../tests/make/files';
import { blotches, noise } from '../../tests/make/pictures';
import { checkJpeg } from './jpeg-check';

const whole = { damage: null, extraneous: 0, ended: true };

describe('checkJpeg', () => {
  const sizes = [
    [1, 1],
    [8, 8],
    [17, 9],
    [403, 301],
  ] as const;
  const kinds: [string, JpegOptions][] = [
    ['baseline', {}],
    ['coarse', { quality: 5 }],
    ['full chroma', { quality: 100, chromaSubsampling: '4:4:4' }],
    ['progressive', { progressive: true }],
    ['progressive and fine', { progressive: true, quality: 98, chromaSubsampling: '4:4:4' }],
    ['with optimized scans', { progressive: true, optimiseScans: true, quality: 90 }],
    ['with trellis', { mozjpeg: true }],
    ['without optimized codes', { optimiseCoding: false }],
  ];

  it.each(kinds)('finds nothing in a whole picture: %s', async (_what, options) => {
    for (const [width, height] of sizes)
      for (const raster of [blotches(width, height, 3), noise(width, height)]) {
        const color = await asSharp(raster).removeAlpha().jpeg(options).toBuffer();
        expect(checkJpeg(color)).toEqual(whole);
        const gray = await asSharp(raster).removeAlpha().grayscale().jpeg(options).toBuffer();
        expect(checkJpeg(gray)).toEqual(whole);
        const cmyk = await asSharp(raster).removeAlpha().toColourspace('cmyk').jpeg(options).toBuffer();
        expect(checkJpeg(cmyk)).toEqual(whole);
      }
  });

  it('finds where data end too early, whatever was closed with an end marker', async () => {
    for (const progressive of [false, true]) {
      const jpeg = await asSharp(noise(160, 120)).removeAlpha().jpeg({ progressive }).toBuffer();
      for (const share of [0.4, 0.6, 0.8, 0.95]) {
        const cut = jpeg.subarray(0, Math.floor(jpeg.length * share));
        const found = checkJpeg(Buffer.concat([cut, Buffer.from('ffd9', 'hex')]));
        expect(found?.damage, `${progressive} ${share}`).not.toBeNull();
      }
    }
  });

  it('finds bytes taken out of the middle, put in, or written over in most pictures', async () => {
    let found = 0;
    const jpeg = await asSharp(noise(200, 150)).removeAlpha().jpeg({ quality: 95 }).toBuffer();
    for (let k = 0; k < 40; k++) {
      const at = 800 + k * Math.floor((jpeg.length - 1000) / 40);
      const damaged = [
        Buffer.concat([jpeg.subarray(0, at), jpeg.subarray(at + 40)]),
        Buffer.concat([jpeg.subarray(0, at), jpeg.subarray(at - 40)]),
        Buffer.from(jpeg).fill(0, at, at + 40),
      ][k % 3]!;
      const check = checkJpeg(damaged)!;
      if (check.damage !== null || check.extraneous > 0) found++;
    }
    expect(found).toBeGreaterThan(30);
  });

  it('tells that the end marker is missing', async () => {
    const jpeg = await asSharp(blotches(64, 48, 2))
      .removeAlpha()
      .jpeg()
      .toBuffer();
    expect(checkJpeg(jpeg.subarray(0, -2))).toEqual({ damage: null, extraneous: 0, ended: false });
  });

  it('counts what stands between the data and the next marker', async () => {
    const jpeg = await asSharp(blotches(64, 48, 2))
      .removeAlpha()
      .jpeg()
      .toBuffer();
    const more = Buffer.concat([jpeg.subarray(0, -2), Buffer.from('0102030405', 'hex'), jpeg.subarray(-2)]);
    const { damage, extraneous } = checkJpeg(more)!;
    expect(damage).toBeNull();
    expect(extraneous).toBeGreaterThanOrEqual(3);
    expect(extraneous).toBeLessThanOrEqual(5);
  });

  it('has no say about other ways of coding, and tells what contradicts itself', async () => {
    const jpeg = await asSharp(blotches(64, 48, 2))
      .removeAlpha()
      .jpeg()
      .toBuffer();
    const frame = jpeg.indexOf(Buffer.from('ffc0', 'hex'));
    const arithmetic = Buffer.from(jpeg);
    arithmetic[frame + 1] = 0xc9;
    expect(checkJpeg(arithmetic)).toBeNull();
    const sampling = Buffer.from(jpeg);
    sampling[frame + 11] = 0x70;
    expect(checkJpeg(sampling)?.damage).toBe('sampling');
  });
});
