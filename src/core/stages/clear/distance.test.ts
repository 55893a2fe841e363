import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { colorDistance, labOf } from '../../color/oklab';
import type { Raster } from '../../raster/raster';
import { distanceToModel, STEPS_PER_UNIT, type BackdropModel } from './distance';

const flat = (red: number, green: number, blue: number): BackdropModel => ({
  bounds: false,
  fill(_y, row) {
    const lab = labOf(red, green, blue);
    row.lightness.fill(lab.lightness);
    row.a.fill(lab.a);
    row.b.fill(lab.b);
  },
});

function distances(raster: Raster, model: BackdropModel, darker: number, lighter = 0): number[] {
  const out = new Uint16Array(raster.width * raster.height);
  distanceToModel(raster, model, { darker, lighter }, 0, raster.height, 0, out);
  return [...out].map((level) => level / STEPS_PER_UNIT);
}

/** A backdrop of 200, 180, 160 under a soft shadow that falls from left to right, and a gray block with a sharp edge. */
const shadowed = paint(120, 40, (x, y) => {
  if (x > 90 && y > 20) return [120, 120, 120];
  const light = 1 - 0.4 * (x / 119);
  return [200 * light, 180 * light, 160 * light].map(Math.round) as [number, number, number];
});

describe('distance to a modelled backdrop', () => {
  it.each([0, 12])(
    'is the same in the stretches that are asked for, and leaves the rest (shade %d)',
    (darker) => {
      const model = flat(200, 180, 160);
      const whole = new Uint16Array(120 * 40);
      distanceToModel(shadowed, model, { darker, lighter: 0 }, 0, 40, 0, whole);
      const lists = [[0, 7, 30, 31], [], [5, 120]];
      const part = new Uint16Array(120 * 40).fill(9999);
      const spansOf = (y: number) => lists[Math.floor(y / 8) % 3]!;
      distanceToModel(shadowed, model, { darker, lighter: 0 }, 0, 23, 0, part, spansOf);
      distanceToModel(shadowed, model, { darker, lighter: 0 }, 23, 40, 0, part, spansOf);
      for (let i = 0; i < part.length; i++) {
        const spans = spansOf(Math.floor(i / 120));
        const isIn = spans.some((from, k) => k % 2 === 0 && i % 120 >= from && i % 120 < spans[k + 1]!);
        expect(part[i]).toBe(isIn ? whole[i] : 9999);
      }
    },
  );

  it('is the plain color distance where no shade is allowed', () => {
    const found = distances(shadowed, flat(200, 180, 160), 0);
    for (const i of [0, 60, 119, 119 + 30 * 120]) {
      const [red, green, blue] = shadowed.data.subarray(i * 4, i * 4 + 3);
      expect(
        Math.abs(found[i]! - colorDistance(labOf(red!, green!, blue!), labOf(200, 180, 160))),
      ).toBeLessThan(0.04);
    }
  });

  it('makes a shadow background, up to the allowance', () => {
    const plain = distances(shadowed, flat(200, 180, 160), 0);
    const shaded = distances(shadowed, flat(200, 180, 160), 30);
    expect(plain[110]!).toBeGreaterThan(10);
    expect(shaded[110]!).toBeLessThan(2);
    const little = distances(shadowed, flat(200, 180, 160), 5);
    expect(little[110]!).toBeGreaterThan(shaded[110]! + 5);
    expect(little[10]!).toBeLessThan(2);
  });

  it('is never more than without the allowance, and falls as the allowance grows', () => {
    let before = distances(shadowed, flat(200, 180, 160), 0);
    for (const darker of [3, 8, 20, 50]) {
      const now = distances(shadowed, flat(200, 180, 160), darker);
      expect(now.every((value, i) => value <= before[i]!)).toBe(true);
      before = now;
    }
  });

  it('does not take another hue for a shadow', () => {
    const red = paint(20, 20, () => [180, 90, 80]);
    const [plain, shaded] = [0, 60].map((darker) => distances(red, flat(230, 230, 228), darker)[210]!);
    expect(shaded!).toBeGreaterThan(0.6 * plain!);
  });

  it('stops at a sharp edge, since a shadow has none', () => {
    const found = distances(shadowed, flat(200, 180, 160), 60);
    expect(found[91 + 30 * 120]!).toBeGreaterThan(4);
  });
});
