import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { asSharp } from '../../../../tests/make/files';
import { blotches, disc, noise, paint } from '../../../../tests/make/pictures';
import { createRaster, type Raster } from '../../raster/raster';
import { hasHalvedChroma } from './halved-chroma';

const redDisc = paint(321, 300, (x, y) => {
  const inside = Math.min(1, Math.max(0, 110.5 - Math.hypot(x - 159.5, y - 149.5)));
  return [Math.round(240 - 20 * inside), Math.round(236 - 190 * inside), Math.round(230 - 180 * inside)];
});

const threads = paint(320, 240, (x, y) => {
  const near = Math.min(
    ...Array.from({ length: 12 }, (_, k) => Math.abs(x - 20 - 25 * k - 20 * Math.sin(y / 31 + k))),
  );
  const share = Math.min(1, Math.max(0, 1.5 - near));
  return [Math.round(240 - 60 * share), Math.round(236 - 200 * share), Math.round(230 - 190 * share)];
});

async function compressed(
  raster: Raster,
  chromaSubsampling: '4:2:0' | '4:4:4',
  quality: number,
): Promise<Raster> {
  const jpeg = await asSharp(raster).removeAlpha().jpeg({ quality, chromaSubsampling }).toBuffer();
  const { data, info } = await sharp(jpeg).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return createRaster(info.width, info.height, new Uint8Array(data));
}

describe('hasHalvedChroma', () => {
  it.each([
    ['a disc', redDisc],
    ['threads', threads],
    ['blotches', blotches(120, 90, 3)],
  ])('tells 4:2:0 from full chroma: %s', async (_what, raster) => {
    expect(hasHalvedChroma(raster)).toBe(false);
    for (const quality of [75, 90]) {
      expect(hasHalvedChroma(await compressed(raster, '4:2:0', quality)), `4:2:0 at ${quality}`).toBe(true);
      expect(hasHalvedChroma(await compressed(raster, '4:4:4', quality)), `4:4:4 at ${quality}`).toBe(false);
    }
  });

  it('is false for noise and where nothing has a color', () => {
    expect(hasHalvedChroma(noise(100, 80))).toBe(false);
    expect(hasHalvedChroma(disc(100, 30))).toBe(false);
  });
});
