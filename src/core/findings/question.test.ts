import { describe, expect, it } from 'vitest';
import { answerNow, questionOf, questionWords } from './question';
import type { PocketPlace } from './pockets';

const area = (pixels: number, change: Partial<PocketPlace> = {}): PocketPlace => ({
  x: 0,
  y: 0,
  width: pixels,
  height: 1,
  at: { x: 0, y: 0 },
  pixels,
  dots: [],
  goes: true,
  why: 'open-work',
  sure: false,
  ...change,
});
const alpha = { transparent: 500, partly: 100, opaque: 900 };

describe('the one question about a picture', () => {
  it('is asked where the areas that are not sure are together a worthy share of what stays', () => {
    const areas = [area(20), area(11)];
    expect(questionOf(areas, alpha)).toEqual(areas);
    expect(questionOf([area(20), area(10)], alpha)).toEqual([]);
  });

  it('leaves out what is sure', () => {
    const open = area(40);
    expect(questionOf([area(900, { sure: true }), open], alpha)).toEqual([open]);
    expect(questionOf([area(900, { sure: true })], alpha)).toEqual([]);
  });

  it('is asked where nothing at all stays', () => {
    expect(questionOf([area(1)], { transparent: 1500, partly: 0, opaque: 0 })).toHaveLength(1);
  });

  it('knows the answer that is in force, if there is one for all', () => {
    expect(answerNow([area(1), area(2)])).toBe('clear');
    expect(answerNow([area(1, { goes: false })])).toBe('keep');
    expect(answerNow([area(1), area(2, { goes: false })])).toBeNull();
  });

  it('names the color of the background where it has one', () => {
    const areas = [area(1), area(2, { why: 'shade' })];
    expect(questionWords(areas, 'White')).toBe('2 white areas: keep or clear?');
    expect(questionWords([area(1)], 'Pale blue')).toBe('1 pale blue area: keep or clear?');
    expect(questionWords(areas, null)).toBe('2 areas: keep or clear?');
    expect(questionWords(areas.slice(1), 'White')).toBe('1 shaded area: keep or clear?');
  });
});
