import { converter } from 'culori';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import { colorDistance, labOf, SRGB_TO_LINEAR } from './oklab';

const toOklab = converter('oklab');

/** Ottosson's toe, written as published: https://bottosson.github.io/posts/colorpicker/ */
function publishedToe(lightness: number): number {
  const k1 = 0.206;
  const k2 = 0.03;
  const k3 = (1 + k1) / (1 + k2);
  return 0.5 * (k3 * lightness - k1 + Math.sqrt((k3 * lightness - k1) ** 2 + 4 * k2 * k3 * lightness));
}

describe('labOf', () => {
  it('is OKLab with the published toe, for seeded random colors', () => {
    const random = seededRandom(11);
    for (let n = 0; n < 2000; n++) {
      const [red, green, blue] = [0, 1, 2].map(() => Math.floor(random() * 256)) as [number, number, number];
      const reference = toOklab({ mode: 'rgb', r: red / 255, g: green / 255, b: blue / 255 });
      const ratio = reference.l > 0 ? publishedToe(reference.l) / reference.l : 0;
      const lab = labOf(red, green, blue);
      expect(lab.lightness, `${red},${green},${blue}`).toBeCloseTo(publishedToe(reference.l), 3);
      expect(lab.a).toBeCloseTo(reference.a * ratio, 3);
      expect(lab.b).toBeCloseTo(reference.b * ratio, 3);
    }
  });

  it('gives grays no chroma and rising lightness', () => {
    let last = -1;
    for (let v = 0; v < 256; v++) {
      const lab = labOf(v, v, v);
      expect(Math.hypot(lab.a, lab.b)).toBeLessThan(2e-4);
      expect(lab.lightness).toBeGreaterThan(last);
      last = lab.lightness;
    }
  });
});

describe('SRGB_TO_LINEAR', () => {
  it('agrees with the standard formula to the last bits of a double', () => {
    for (let v = 0; v < 256; v++) {
      const encoded = v / 255;
      const standard = encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
      expect(Math.abs(SRGB_TO_LINEAR[v]! - standard)).toBeLessThan(1e-14);
    }
  });
});

describe('colorDistance', () => {
  const black = labOf(0, 0, 0);
  const white = labOf(255, 255, 255);

  it('puts black and white 100 apart and is 0 for equal colors', () => {
    expect(colorDistance(black, white)).toBeCloseTo(100, 2);
    expect(colorDistance(white, white)).toBe(0);
  });

  it('is symmetric and never above 100', () => {
    const random = seededRandom(5);
    for (let n = 0; n < 500; n++) {
      const pick = () =>
        labOf(Math.floor(random() * 256), Math.floor(random() * 256), Math.floor(random() * 256));
      const one = pick();
      const other = pick();
      expect(colorDistance(one, other)).toBe(colorDistance(other, one));
      expect(colorDistance(one, other)).toBeLessThanOrEqual(100);
    }
  });

  it('grows along a straight way from one color to another', () => {
    let last = -1;
    for (let k = 0; k <= 20; k++) {
      const mixed = labOf(255 - 10 * k, 255 - 5 * k, 255 - 8 * k);
      const distance = colorDistance(white, mixed);
      expect(distance).toBeGreaterThan(last);
      last = distance;
    }
  });
});
