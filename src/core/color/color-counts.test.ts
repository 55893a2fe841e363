import { describe, expect, it } from 'vitest';
import { ColorCounts } from './color-counts';

describe('color counts', () => {
  it('have no clusters before anything was counted', () => {
    expect(new ColorCounts().clusters()).toEqual([]);
  });

  it('gather what lies near a frequent color into its mean, the most frequent first', () => {
    const counts = new ColorCounts();
    for (let k = 0; k < 30; k++) counts.add(200, 40, 60);
    for (let k = 0; k < 10; k++) counts.add(212, 40, 60);
    for (let k = 0; k < 60; k++) counts.add(20, 30, 240);
    const [first, second, ...others] = counts.clusters();
    expect([...first!.color]).toEqual([20, 30, 240]);
    expect(first).toMatchObject({ count: 60, share: 0.6 });
    expect([...second!.color]).toEqual([203, 40, 60]);
    expect(second).toMatchObject({ count: 40, share: 0.4 });
    expect(others).toEqual([]);
    expect(counts.count).toBe(100);
  });

  it('are the same in whatever order colors of one bin come, fractions included', () => {
    const colors = [
      [100.5, 20, 30],
      [101.25, 20, 30],
      [103, 21, 30],
    ] as const;
    const of = (order: readonly (readonly [number, number, number])[]) => {
      const counts = new ColorCounts();
      for (const color of order) counts.add(...color);
      return counts.clusters();
    };
    expect(of(colors)).toEqual(of([...colors].reverse()));
  });
});
