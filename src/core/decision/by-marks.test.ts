import { describe, expect, it } from 'vitest';
import { blotches, paint } from '../../../tests/make/pictures';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import { seededRandom } from '../numeric/random';
import type { Mark } from '../stages/clear/settings';
import { renderCut } from '../render';
import { dropUnmarked, fieldOf, likelyGoes, marksOf, unsureAreas } from './by-marks';
import { planesOf } from './planes';

const mark = (goes: boolean, radiusPx: number, ...points: [number, number][]): Mark => ({
  goes,
  radiusPx,
  points,
});

describe('marksOf', () => {
  it('marks both sides at a reduced size, and what stays where both are', () => {
    const marks = [mark(true, 4, [8, 8], [40, 8]), mark(false, 4, [40, 8])];
    const side = marksOf(marks, 32, 16, 1);
    expect([side[4 * 32 + 8], side[4 * 32 + 20], side[12 * 32 + 8]]).toEqual([1, -1, 0]);
  });
});

describe('likelyGoes', () => {
  const random = seededRandom(9);
  /** Stripes of two colors behind, a rough gray square in front. */
  const picture = paint(200, 160, (x, y) => {
    const grain = Math.round((random() - 0.5) * 40);
    if (x > 60 && x < 140 && y > 40 && y < 120) return [120 + grain, 120 + grain, 120 + grain];
    return (x >> 4) % 2 === 0 ? [90, 130, 60] : [150, 120, 60];
  });
  const marks = [
    mark(true, 3, [10, 10], [190, 10]),
    mark(true, 3, [10, 150], [190, 150]),
    mark(false, 3, [80, 80], [120, 80]),
  ];
  const likely = likelyGoes(fieldOf(planesOf(picture)), marks, 0);

  it('tells by colors, textures and borders what was not marked', () => {
    let wrong = 0;
    for (let y = 0; y < 160; y++)
      for (let x = 0; x < 200; x++) {
        const inside = x > 60 && x < 140 && y > 40 && y < 120;
        const near = Math.max(Math.abs(x - 100), Math.abs(y - 80));
        if (near > 37 && near < 43) continue;
        if (likely[y * 200 + x]! > 0.5 === inside) wrong++;
      }
    expect(wrong).toBeLessThan(0.01 * 200 * 160);
  });

  it('says the opposite where the sides are changed', () => {
    const turned = likelyGoes(
      fieldOf(planesOf(picture)),
      marks.map((one) => ({ ...one, goes: !one.goes })),
      0,
    );
    likely.forEach((value, i) => expect(turned[i]).toBeCloseTo(1 - value, 3));
  });
});

describe('marks of one side', () => {
  it('change nothing of what a tolerance clears in a busy picture', () => {
    const busy = blotches(160, 120, 3);
    const samples = [newSample('s1', 5, 5, { tolerance: 20 })];
    const rendered = (marks: Mark[]) =>
      renderCut(busy, {
        ...untouchedCut(),
        clear: { on: true, samples, pockets: [], marks, ink: null },
      }).raster.data;
    expect(rendered([mark(true, 4, [60, 60], [90, 60])])).toEqual(rendered([]));
  });
});

describe('what is not marked', () => {
  it('drops small parts of the subject and fills small holes, not large or marked ones', () => {
    const goes = new Uint8Array(100 * 100).fill(1);
    const lay = (x0: number, y0: number, size: number) => {
      for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) goes[y * 100 + x] = 0;
    };
    lay(10, 10, 40);
    lay(60, 60, 5);
    lay(80, 80, 5);
    const told = new Map([[82 * 100 + 82, -1 as const]]);
    goes[30 * 100 + 30] = 1;
    dropUnmarked(goes, told, 100, 100);
    expect([goes[20 * 100 + 20], goes[62 * 100 + 62], goes[82 * 100 + 82]]).toEqual([0, 1, 0]);
    expect([goes[30 * 100 + 30], goes[0]]).toEqual([0, 1]);
  });

  it('lists areas that are as likely to stay as to go', () => {
    const likely = new Float32Array(100 * 100).fill(0.95);
    for (let y = 30; y < 60; y++) for (let x = 20; x < 50; x++) likely[y * 100 + x] = 0.45;
    const areas = unsureAreas({ data: likely, width: 100, height: 100 });
    expect(areas).toHaveLength(1);
    expect(areas[0]).toMatchObject({ pixels: 900, goes: false, sure: false, box: [20, 30, 49, 59] });
  });
});
