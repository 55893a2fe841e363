import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { borderPath } from './border-path';

describe('the way along a border', () => {
  const random = seededRandom(3);
  const disc = paint(120, 120, (x, y) => {
    const noise = (random() - 0.5) * 12;
    const value = Math.hypot(x - 60, y - 60) < 40 ? 60 : 220;
    return [value + noise, value + noise, value + noise];
  });

  it('follows a circle from one side to the other', () => {
    const path = borderPath(disc, { x: 20, y: 60 }, { x: 60, y: 20 });
    expect(path[0]).toEqual({ x: 20, y: 60 });
    expect(path.at(-1)).toEqual({ x: 60, y: 20 });
    const off = path.map(({ x, y }) => Math.abs(Math.hypot(x - 60, y - 60) - 40));
    expect(Math.max(...off)).toBeLessThan(2.5);
    for (const [k, { x, y }] of path.entries()) {
      if (k === 0) continue;
      expect(Math.max(Math.abs(x - path[k - 1]!.x), Math.abs(y - path[k - 1]!.y))).toBe(1);
    }
  });

  it('is straight where nothing is, and takes places outside', () => {
    const plain = paint(50, 50, () => [90, 90, 90]);
    expect(borderPath(plain, { x: 5, y: 25 }, { x: 15, y: 25 })).toHaveLength(11);
    expect(borderPath(plain, { x: -30, y: 25 }, { x: 99, y: 25 })[0]).toEqual({ x: 0, y: 25 });
    expect(borderPath(plain, { x: 9, y: 9 }, { x: 9, y: 9 })).toEqual([{ x: 9, y: 9 }]);
  });
});
