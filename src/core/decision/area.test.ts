import { describe, expect, it } from 'vitest';
import { dotsIn } from './area';

describe('the dots over an area', () => {
  const disc = (x: number, y: number) => Math.hypot(x - 50, y - 40) < 30;
  const count = (inside: (x: number, y: number) => boolean) => {
    let pixels = 0;
    for (let y = 0; y < 100; y++) for (let x = 0; x < 100; x++) if (inside(x, y)) pixels++;
    return pixels;
  };

  it('lie inside of it, apart from each other, and all over it', () => {
    const dots = dotsIn([20, 10, 80, 70], count(disc), 100, disc);
    expect(dots.length).toBeGreaterThan(30);
    expect(dots.length).toBeLessThanOrEqual(60);
    expect(dots.every(([x, y]) => disc(x, y))).toBe(true);
    const nearest = dots.map(([x, y], k) =>
      Math.min(...dots.filter((_, j) => j !== k).map(([u, v]) => Math.hypot(x - u, y - v))),
    );
    expect(Math.min(...nearest)).toBeGreaterThan(3);
    const quarters = [0, 0, 0, 0];
    for (const [x, y] of dots) quarters[(x > 50 ? 1 : 0) + (y > 40 ? 2 : 0)]!++;
    expect(Math.min(...quarters)).toBeGreaterThan(5);
  });

  it('are there for the smallest area', () => {
    expect(dotsIn([7, 9, 7, 9], 1, 100, () => true)).toEqual([[7, 9]]);
  });

  it('lie no denser in a small area of a large picture', () => {
    const dots = dotsIn([100, 100, 139, 139], 1600, 2200, () => true);
    expect(dots).toEqual([
      [110, 110],
      [130, 110],
      [100, 130],
      [120, 130],
    ]);
  });
});
