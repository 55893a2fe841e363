import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { lineEndsOf } from './line-ends';

describe('the ends of a line', () => {
  /** A slanted line, thicker to the right, with a gap from 50 to 70. */
  const line = paint(120, 60, (x, y) => {
    const off = Math.abs(y + 0.5 - 20 - 0.2 * x) * 0.98;
    const alpha = Math.round(255 * Math.min(1, Math.max(0, 2 + x / 60 - off + 0.5)));
    return x >= 50 && x < 70 ? [0, 0, 0, 0] : [30, 40, 120, alpha];
  });

  it('are found near two places, with their width, in the line’s color', () => {
    const ends = lineEndsOf(line, line, { x: 54, y: 27 }, { x: 67, y: 36 })!;
    expect(ends.color).toBe('#1e2878');
    expect(Math.abs(ends.widthPx - 5.6)).toBeLessThan(0.6);
    expect(Math.abs(ends.endWidthPx - 6.4)).toBeLessThan(0.6);
    expect(ends.from.x).toBeLessThan(50);
    expect(ends.to.x).toBeGreaterThan(70);
    for (const { x, y } of [ends.from, ends.to]) expect(Math.abs(y - 20 - 0.2 * x)).toBeLessThan(1);
  });

  it('are not found where no line is near, nor at one place', () => {
    expect(lineEndsOf(line, line, { x: 54, y: 27 }, { x: 60, y: 5 })).toBeNull();
    expect(lineEndsOf(line, line, { x: 54, y: 27 }, { x: 54, y: 27 })).toBeNull();
    expect(lineEndsOf(line, line, { x: -500, y: 0 }, { x: 900, y: 3 })).toBeNull();
  });
});
