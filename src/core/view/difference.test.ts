import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { differenceOf } from './difference';

describe('differenceOf', () => {
  it('is black where nothing was taken, the original where all was, and the rest between', () => {
    const original = paint(3, 1, () => [200, 100, 50]);
    const result = paint(3, 1, (x) => [200, 100, 50, [255, 0, 128][x]!]);
    expect([...differenceOf(original, result, 0, 0).data]).toEqual([
      ...[0, 0, 0, 255],
      ...[200, 100, 50, 255],
      ...[100, 50, 25, 255],
    ]);
  });

  it('shows a change of color alone, and compares at the right place', () => {
    const original = paint(4, 2, (x, y) => [10 * x, 20 * y, 0]);
    const result = paint(2, 1, () => [20, 20, 7]);
    expect([...differenceOf(original, result, 2, 1).data.subarray(0, 8)]).toEqual([
      0, 0, 7, 255, 10, 0, 7, 255,
    ]);
    expect([...differenceOf(original, result, 9, 9).data.subarray(0, 4)]).toEqual([0, 0, 0, 255]);
  });
});
