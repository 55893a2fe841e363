import { describe, expect, it } from 'vitest';
import { edgeInput } from '../../../../tests/make/edge-input';
import { createRaster, wholeOf, type Raster } from '../../raster/raster';
import { seededRandom } from '../../numeric/random';
import { unmixInto } from './unmix';

type Color = readonly [number, number, number];

/** Composites F over B in encoded sRGB and rounds, as ordinary software does. */
function composite(
  width: number,
  height: number,
  alpha: (x: number, y: number) => number,
  f: Color,
  b: Color,
): Raster {
  const raster = createRaster(width, height);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const a = alpha(x, y);
      for (let c = 0; c < 3; c++) raster.data[p + c] = Math.round(f[c]! * a + b[c]! * (1 - a));
      raster.data[p + 3] = 255;
    }
  }
  return raster;
}

function unmixed(raster: Raster, cleared: (x: number, y: number) => boolean, halvedChroma = false): Raster {
  const out = createRaster(raster.width, raster.height);
  unmixInto(edgeInput(raster, cleared, { halvedChroma }), wholeOf(raster), out);
  return out;
}

/** The share of a pixel that a disc covers, from 16 x 16 points. */
const discAlpha = (cx: number, cy: number, radius: number) => (x: number, y: number) => {
  let inside = 0;
  for (let v = 0; v < 16; v++)
    for (let u = 0; u < 16; u++)
      if (Math.hypot(x + (u + 0.5) / 16 - cx, y + (v + 0.5) / 16 - cy) <= radius) inside++;
  return inside / 256;
};

describe('un-mixing', () => {
  it('gets alpha back within 2/255 from known mixtures wherever F and B differ by 40/255 or more', () => {
    const random = seededRandom(7);
    const alpha = discAlpha(20.3, 19.6, 11.4);
    for (let round = 0; round < 40; round++) {
      const pick = (): Color =>
        [random() * 255, random() * 255, random() * 255].map(Math.round) as unknown as Color;
      const b = pick();
      let f = pick();
      while (Math.hypot(f[0] - b[0], f[1] - b[1], f[2] - b[2]) < 40) f = pick();
      const out = unmixed(composite(40, 40, alpha, f, b), (x, y) => alpha(x, y) < 0.3);
      const span = Math.hypot(f[0] - b[0], f[1] - b[1], f[2] - b[2]);
      // Rounding the mixture to 8 bits alone moves alpha by up to half a step of the way from B to F.
      const rounding = (255 * 0.87) / span;
      for (let y = 0; y < 40; y++) {
        for (let x = 0; x < 40; x++) {
          const found = out.data[(y * 40 + x) * 4 + 3]!;
          expect(
            Math.abs(found - 255 * alpha(x, y)),
            `${f.join()} on ${b.join()} at ${x}, ${y}`,
          ).toBeLessThanOrEqual(2 + rounding);
        }
      }
    }
  });

  it('takes the background out of the color: laid on another backing it is as if drawn there', () => {
    const alpha = discAlpha(16, 16, 9.3);
    const f: Color = [200, 40, 60];
    const out = unmixed(composite(32, 32, alpha, f, [255, 255, 255]), (x, y) => alpha(x, y) < 0.2);
    const onBlack = composite(32, 32, alpha, f, [0, 0, 0]);
    for (let p = 0; p < out.data.length; p += 4) {
      for (let c = 0; c < 3; c++) {
        const laid = (out.data[p + c]! * out.data[p + 3]!) / 255;
        expect(Math.abs(laid - onBlack.data[p + c]!)).toBeLessThanOrEqual(3);
      }
    }
  });

  it('reads hairlines that have no certain inside from the strongest color along them', () => {
    const alpha = (x: number, y: number) =>
      (x === 15 ? 0.9 : x === 14 ? 0.35 : 0) * (y > 3 && y < 28 ? 1 : 0);
    const ink: Color = [20, 24, 60];
    const raster = composite(32, 32, alpha, ink, [250, 246, 238]);
    const out = unmixed(raster, (x, y) => alpha(x, y) < 0.3);
    for (let y = 8; y < 24; y++) {
      expect(out.data[(y * 32 + 15) * 4 + 3]!).toBeGreaterThan(210);
      const faint = out.data[(y * 32 + 14) * 4 + 3]!;
      expect(faint).toBeGreaterThan(0.3 * 255);
      expect(faint).toBeLessThan(0.48 * 255);
      expect(out.data[(y * 32 + 20) * 4 + 3]).toBe(0);
    }
  });

  it('leaves a mixture of two subject colors whole', () => {
    const raster = createRaster(30, 20);
    for (let y = 0, p = 0; y < 20; y++) {
      for (let x = 0; x < 30; x++, p += 4) {
        // White above; below red on the left, blue on the right, one mixed column between.
        const red = y < 8 ? 255 : x < 15 ? 220 : x === 15 ? 120 : 20;
        const blue = y < 8 ? 255 : x < 15 ? 20 : x === 15 ? 120 : 220;
        raster.data.set([red, y < 8 ? 255 : 20, blue, 255], p);
      }
    }
    const out = unmixed(raster, (_x, y) => y < 8);
    for (let x = 4; x < 26; x++) expect(out.data[(9 * 30 + x) * 4 + 3]).toBe(255);
  });

  it('leaves no veil of grain over what is cleared, and no dent in what is not', () => {
    const random = seededRandom(3);
    const raster = composite(60, 60, discAlpha(30, 30, 14), [40, 90, 140], [240, 240, 236]);
    for (let p = 0; p < raster.data.length; p += 4)
      for (let c = 0; c < 3; c++)
        raster.data[p + c] = Math.min(255, raster.data[p + c]! + Math.round((random() - 0.5) * 10));
    const alpha = discAlpha(30, 30, 14);
    const out = unmixed(raster, (x, y) => alpha(x, y) < 0.2);
    for (let y = 0; y < 60; y++) {
      for (let x = 0; x < 60; x++) {
        const far = Math.hypot(x + 0.5 - 30, y + 0.5 - 30);
        const found = out.data[(y * 60 + x) * 4 + 3]!;
        if (far > 16.5) expect(found).toBe(0);
        if (far < 12) expect(found).toBeGreaterThanOrEqual(247);
      }
    }
  });

  it('changes no color where alpha is full, and multiplies with the alpha the picture came with', () => {
    const alpha = discAlpha(16, 16, 9.3);
    const raster = composite(32, 32, alpha, [90, 140, 60], [250, 250, 250]);
    for (let p = 3; p < raster.data.length; p += 4) raster.data[p] = 128;
    const out = unmixed(raster, (x, y) => alpha(x, y) < 0.2);
    for (let i = 0; i < 32 * 32; i++) {
      const full = alpha(i % 32, Math.floor(i / 32)) === 1;
      if (full) expect([...out.data.subarray(i * 4, i * 4 + 4)]).toEqual([90, 140, 60, 128]);
      expect(out.data[i * 4 + 3]!).toBeLessThanOrEqual(128);
    }
  });

  it('does not depend on how the picture is parted', () => {
    const alpha = discAlpha(50, 50, 31.7);
    const random = seededRandom(9);
    const raster = composite(100, 100, alpha, [160, 70, 40], [228, 230, 240]);
    for (let p = 0; p < raster.data.length; p += 4)
      raster.data[p] = Math.min(255, raster.data[p]! + Math.round(random() * 6));
    const cleared = (x: number, y: number) => alpha(x, y) < 0.2;
    const whole = unmixed(raster, cleared);
    for (const rect of [
      { x: 17, y: 9, width: 41, height: 13 },
      { x: 60, y: 55, width: 40, height: 45 },
    ]) {
      const around = {
        x: Math.max(0, rect.x - 16),
        y: Math.max(0, rect.y - 16),
        width: Math.min(100, rect.x + rect.width + 16) - Math.max(0, rect.x - 16),
        height: Math.min(100, rect.y + rect.height + 16) - Math.max(0, rect.y - 16),
      };
      const part = createRaster(rect.width, rect.height);
      unmixInto(edgeInput(raster, cleared, { around }), rect, part);
      for (let y = 0; y < rect.height; y++) {
        const from = ((rect.y + y) * 100 + rect.x) * 4;
        const expected = Buffer.from(whole.data.subarray(from, from + rect.width * 4));
        const row = Buffer.from(part.data.subarray(y * rect.width * 4, (y + 1) * rect.width * 4));
        expect(row.equals(expected), `row ${y}`).toBe(true);
      }
    }
  });
});
