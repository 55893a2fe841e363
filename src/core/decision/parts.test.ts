import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { seededRandom } from '../numeric/random';
import { runToEnd } from '../numeric/steps';
import { reachMapSteps } from '../stages/clear/reach-map';
import { sceneOf } from '../scene/scene';
import { bordersOf, stepsOf, type Noise } from './borders';
import { measureBy, SOLID_LEVEL } from './carry';
import { decisionSteps } from './decide';
import { colorAt, planesOf } from './planes';
import { regionsOf } from './regions';
import { FULL, fitSmooth, residuals, surfaceOf } from './smooth';

const NOISE: Noise = [0.7, 0.5, 0.5];

describe('planes', () => {
  it('give back the color they were made of', () => {
    const picture = paint(16, 16, (x, y) => [x * 16, y * 16, (x * y) % 256]);
    const planes = planesOf(picture);
    for (let i = 0; i < 256; i++) {
      const { red, green, blue } = colorAt(planes, i);
      expect(red).toBeCloseTo(picture.data[i * 4]!, 2);
      expect(green).toBeCloseTo(picture.data[i * 4 + 1]!, 2);
      expect(blue).toBeCloseTo(picture.data[i * 4 + 2]!, 2);
    }
  });
});

describe('steps and borders', () => {
  const slope = (width: number) =>
    planesOf(
      paint(200, 60, (x) => {
        const value = Math.round(200 - 60 * Math.min(1, Math.max(0, (x - 100) / width + 0.5)));
        return [value, value, value];
      }),
    );

  it('tell a change over a pixel or two from the same change over thirty', () => {
    const strongest = (width: number) => Math.max(...stepsOf(slope(width), NOISE));
    expect(strongest(1)).toBeGreaterThan(50);
    expect(strongest(2)).toBeGreaterThan(50);
    expect(strongest(30)).toBeLessThan(4);
  });

  it.each([
    [23, 17],
    [9, 5],
    [3, 40],
    [1, 1],
  ])('are the same in a picture of %d x %d laid on its side or mirrored', (width, height) => {
    const random = seededRandom(width);
    const values = Array.from({ length: width * height }, () => Math.round(random() * 255));
    const picture = (wide: number, high: number, at: (x: number, y: number) => number) =>
      stepsOf(
        planesOf(
          paint(wide, high, (x, y) => {
            const value = values[at(x, y)]!;
            return [value, 255 - value, (value * 7) % 256];
          }),
        ),
        NOISE,
      );
    const upright = picture(width, height, (x, y) => y * width + x);
    const onSide = picture(height, width, (x, y) => x * width + y);
    const mirrored = picture(width, height, (x, y) => y * width + width - 1 - x);
    upright.forEach((step, i) => {
      const x = i % width;
      const y = (i - x) / width;
      expect(onSide[x * height + y]).toBeCloseTo(step, 3);
      expect(mirrored[y * width + width - 1 - x]).toBeCloseTo(step, 3);
    });
  });

  it('mark a line along an edge and nothing of grain', () => {
    const random = seededRandom(3);
    const planes = planesOf(
      paint(200, 60, (x) => {
        const value = Math.round((x < 100 ? 200 : 190) + (random() - 0.5) * 2);
        return [value, value, value];
      }),
    );
    const marks = bordersOf({ data: stepsOf(planes, NOISE), width: 200, height: 60 }, 6);
    const columns = [...marks.keys()].filter((i) => marks[i] === 1).map((i) => i % 200);
    expect(columns.length).toBeGreaterThanOrEqual(60);
    expect(Math.min(...columns)).toBeGreaterThanOrEqual(97);
    expect(Math.max(...columns)).toBeLessThanOrEqual(102);
  });
});

describe('the smooth backdrop', () => {
  it('is found under a quarter of other things', () => {
    const clean = (x: number, y: number) => 120 + 0.3 * x - 0.2 * y + 0.002 * x * y;
    const planes = planesOf(
      paint(160, 120, (x, y) => {
        const value = Math.round(x > 60 && x < 140 && y > 30 && y < 90 ? 20 : clean(x, y));
        return [value, value, value];
      }),
    );
    const all = Int32Array.from({ length: 160 * 120 }, (_, i) => i);
    const fit = fitSmooth(planes, all, FULL, 10)!;
    const [luma] = surfaceOf(fit.smooth, 160, 120);
    for (const [x, y] of [
      [5, 5],
      [100, 60],
      [155, 115],
    ] as const)
      expect(Math.abs(luma[y * 160 + x]! - clean(x, y))).toBeLessThan(1);
    expect(residuals(planes, Int32Array.of(60 * 160 + 100), fit.smooth)[0]).toBeGreaterThan(80);
  });
});

describe('regions', () => {
  it('are what a search from pixel to pixel finds', () => {
    const random = seededRandom(8);
    const [width, height] = [40, 30];
    const marks = Uint8Array.from({ length: width * height }, () => (random() < 0.55 ? 1 : 0));
    const { of, list, places } = regionsOf(width, height, (i) => marks[i] === 1);
    for (const { from, to, index } of list) {
      const own = new Set(places.subarray(from, to));
      for (const i of own) {
        expect(of[i]).toBe(index);
        for (const j of [
          i % width > 0 ? i - 1 : -1,
          i % width < width - 1 ? i + 1 : -1,
          i - width,
          i + width,
        ])
          if (j >= 0 && j < marks.length && marks[j] === 1) expect(own.has(j)).toBe(true);
      }
    }
    expect(list.reduce((sum, { pixels }) => sum + pixels, 0)).toBe(marks.reduce((sum, one) => sum + one, 0));
  });
});

describe('carrying a decision to full size', () => {
  it('measures from the shade of the background, and keeps hairs and what is solid', () => {
    const picture = paint(900, 700, (x, y) => {
      const shade = 1 - 0.3 * Math.exp(-(((x - 450) / 160) ** 2) - ((y - 560) / 60) ** 2);
      if (Math.hypot(x - 450, y - 320) < 170) return [150, 40, 50];
      if (Math.abs(x - 120) < 1 && y > 100 && y < 600) return [30, 30, 30];
      const value = Math.round(235 * shade);
      return [value, value, value];
    });
    const scene = sceneOf(picture);
    const { carried, reduction } = runToEnd(decisionSteps(scene, { goes: [], stays: [], marks: [] }))!;
    expect(reduction).toBe(1);
    const { levels } = runToEnd(
      reachMapSteps(picture, measureBy(carried, scene, carried.tolerance, null), [], 'everywhere'),
    );
    const tolerance = 20 * carried.tolerance;
    expect(levels[320 * 900 + 450]).toBe(SOLID_LEVEL);
    expect(levels[560 * 900 + 450]).toBeLessThan(tolerance);
    expect(levels[20 * 900 + 20]).toBeLessThan(tolerance);
    expect(levels[300 * 900 + 120]).toBeGreaterThan(tolerance);
  });
});
