import { describe, expect, it } from 'vitest';
import { paint } from '../../tests/make/pictures';
import { disasterOf } from './disasters';

const inside = (x: number, y: number, radius: number) => Math.hypot(x - 30, y - 30) < radius;
const truth = paint(60, 60, (x, y) => [200, 40, 40, inside(x, y, 20) ? 255 : 0]);
const result = (alpha: (x: number, y: number) => number) =>
  paint(60, 60, (x, y) => [200, 40, 40, alpha(x, y)]);

const pixels = (radius: number) => {
  let count = 0;
  for (let i = 0; i < 3600; i++) if (inside(i % 60, Math.floor(i / 60), radius)) count++;
  return count;
};

describe('disasterOf', () => {
  it('is none where the cutout is the truth, or differs at its edge alone', () => {
    expect(disasterOf(truth, truth)).toEqual({ lost: 0, left: 0, isDisaster: false });
    const wider = result((x, y) => (inside(x, y, 22) ? 255 : 0));
    expect(disasterOf(truth, wider)).toMatchObject({ left: 0, isDisaster: false });
  });

  it('counts what is lost by more than half of its alpha, as a share of what was opaque', () => {
    const holed = result((x, y) => (inside(x, y, 20) ? (inside(x, y, 10) ? 100 : 255) : 0));
    const { lost, isDisaster } = disasterOf(truth, holed);
    expect(lost).toBeCloseTo((100 * pixels(10)) / pixels(20), 9);
    expect(isDisaster).toBe(true);
    const faint = result((x, y) => (inside(x, y, 20) ? 130 : 0));
    expect(disasterOf(truth, faint).isDisaster).toBe(false);
  });

  it('counts what stayed away from the subject, as a share of its area', () => {
    const corner = result((x, y) => (inside(x, y, 20) || (x < 8 && y < 8) ? 255 : 0));
    const { left, isDisaster } = disasterOf(truth, corner);
    expect(left).toBeCloseTo((100 * 64) / pixels(20), 9);
    expect(isDisaster).toBe(true);
  });

  it('calls it one where there is no cutout', () => {
    expect(disasterOf(truth, null).isDisaster).toBe(true);
  });
});
