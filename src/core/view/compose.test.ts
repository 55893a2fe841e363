import { describe, expect, it } from 'vitest';
import { blotches, paint } from '../../../tests/make/pictures';
import { halve } from '../raster/reduce';
import type { Raster } from '../raster/raster';
import { backingColors } from './backing';
import { composeInto, visiblePart, type View } from './compose';

const ground = { ...backingColors('checker'), around: 0x102030, cellPx: 4 };

function compose(raster: Raster, view: View, reduction = 0, whole = raster): Uint8ClampedArray {
  const out = new Uint8ClampedArray(view.width * view.height * 4);
  const layer = { raster, x: 0, y: 0, reduction, wholeWidth: whole.width, wholeHeight: whole.height };
  composeInto(layer, view, ground, out);
  return out;
}

const pixel = (out: Uint8ClampedArray, width: number, x: number, y: number) => [
  ...out.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];

describe('composeInto', () => {
  it('shows opaque pixels unchanged at 1:1, and the surroundings beside them', () => {
    const raster = blotches(12, 10, 1);
    const out = compose(raster, { scale: 1, left: 3, top: 2, width: 20, height: 16 });
    expect(pixel(out, 20, 0, 0)).toEqual([0x10, 0x20, 0x30, 255]);
    expect(pixel(out, 20, 15, 12)).toEqual([0x10, 0x20, 0x30, 255]);
    for (const [x, y] of [
      [0, 0],
      [11, 9],
      [5, 4],
    ] as const) {
      const p = (y * 12 + x) * 4;
      expect(pixel(out, 20, x + 3, y + 2)).toEqual([...raster.data.subarray(p, p + 4)]);
    }
  });

  it('mixes in encoded values, over cells that stay in place on the screen', () => {
    const raster = paint(16, 1, () => [200, 100, 0, 128]);
    const out = compose(raster, { scale: 1, left: 0, top: 0, width: 16, height: 1 });
    const over = (value: number, under: number) => Math.round((value * 128 + under * 127) / 255);
    expect(pixel(out, 16, 0, 0)).toEqual([over(200, 0xf2), over(100, 0xf2), over(0, 0xf2), 255]);
    expect(pixel(out, 16, 4, 0)).toEqual([over(200, 0xd9), over(100, 0xd9), over(0, 0xd9), 255]);
  });

  it('makes every pixel a square at 400 %', () => {
    const raster = blotches(5, 5, 2);
    const out = compose(raster, { scale: 4, left: 0, top: 0, width: 20, height: 20 });
    for (let y = 0; y < 20; y++) {
      for (let x = 0; x < 20; x++) {
        const p = ((y >> 2) * 5 + (x >> 2)) * 4;
        expect(pixel(out, 20, x, y)).toEqual([...raster.data.subarray(p, p + 4)]);
      }
    }
  });

  it('shows a halved picture at half scale pixel for pixel', () => {
    const raster = blotches(24, 16, 3);
    const half = halve(raster);
    const out = compose(half, { scale: 0.5, left: 0, top: 0, width: 12, height: 8 }, 1, raster);
    expect([...out]).toEqual([...half.data]);
  });

  it('shows a part at its place as the whole would', () => {
    const raster = blotches(40, 30, 4);
    const view = { scale: 2, left: -20, top: -14, width: 24, height: 18 };
    const part = visiblePart(view, 0);
    const clip = { x: Math.max(0, part.x), y: Math.max(0, part.y) };
    const cut = paint(part.width, part.height, (x, y) => {
      const p = ((clip.y + y) * 40 + clip.x + x) * 4;
      return [raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!];
    });
    const out = new Uint8ClampedArray(24 * 18 * 4);
    composeInto({ raster: cut, ...clip, reduction: 0, wholeWidth: 40, wholeHeight: 30 }, view, ground, out);
    expect(out).toEqual(compose(raster, view));
  });
});
