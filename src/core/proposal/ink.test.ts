import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { propose } from './propose';

/** A stroke of some width that waves over a sheet. */
const written = (
  paper: readonly [number, number, number],
  ink: readonly [number, number, number],
  wide: number,
) =>
  paint(360, 160, (x, y) => {
    const line = 80 + 40 * Math.sin(x / 23);
    const near = x > 40 && x < 320 ? Math.abs(y - line) : 99;
    const share = Math.min(1, Math.max(0, wide / 2 + 0.5 - near));
    return paper.map((value, c) => Math.round(value + (ink[c]! - value) * share)) as [number, number, number];
  });

describe('ink on paper', () => {
  it('is told from the thin dark strokes on a light sheet', () => {
    const { kind, reason } = propose(written([246, 240, 226], [26, 29, 60], 4));
    expect(kind).toBe('ink');
    expect(reason).toMatch(/^Ink on pale yellow paper|^Ink on off-white paper/);
  });

  it.each([
    ['a drawn white', [255, 255, 255], [26, 29, 60], 4],
    ['a broad shape', [246, 240, 226], [26, 29, 60], 40],
    ['a light line', [246, 240, 226], [210, 170, 120], 4],
    ['a dark ground', [40, 44, 60], [240, 240, 230], 4],
  ] as const)('is not told from %s', (_what, paper, ink, wide) => {
    expect(propose(written(paper, ink, wide)).kind).not.toBe('ink');
  });
});
