import { describe, expect, it } from 'vitest';
import { areaAt, flatMeasure, flatReachMap } from '../../../../tests/make/maps';
import { blotches, flipped, paint, transposed } from '../../../../tests/make/pictures';
import { colorDistance, labOf } from '../../color/oklab';
import type { Raster, Rect } from '../../raster/raster';
import { MAX_LEVEL, STEPS_PER_UNIT, toleranceLevel } from './distance';
import { reachMapSteps } from './reach-map';
import { sampleColor } from './sample-color';

const reachMap = flatReachMap;

/** A pixel's distance computed by itself, without tables of keys. */
function plainLevel(raster: Raster, i: number, area: Rect): number {
  const color = sampleColor(raster, [area]);
  const one = labOf(color.red, color.green, color.blue);
  const p = i * 4;
  return Math.round(
    colorDistance(one, labOf(raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!)) * STEPS_PER_UNIT,
  );
}

/** What a threshold flood clears: breadth first from the area, over pixels within the tolerance. */
function naiveFlood(raster: Raster, area: Rect, level: number): Set<number> {
  const { width, height } = raster;
  const inside = (i: number) => plainLevel(raster, i, area) <= level;
  const reached = new Set<number>();
  const queue: number[] = [];
  const visit = (x: number, y: number) => {
    const i = y * width + x;
    if (x < 0 || y < 0 || x >= width || y >= height || reached.has(i) || !inside(i)) return;
    reached.add(i);
    queue.push(i);
  };
  for (let y = area.y; y < area.y + area.height; y++) {
    for (let x = area.x; x < area.x + area.width; x++) visit(x, y);
  }
  while (queue.length > 0) {
    const i = queue.shift()!;
    const x = i % width;
    const y = Math.floor(i / width);
    visit(x - 1, y);
    visit(x + 1, y);
    visit(x, y - 1);
    visit(x, y + 1);
  }
  return reached;
}

describe('joined reach', () => {
  it.each([1, 2, 3, 4, 5, 6])('equals a naive flood at every tolerance tried (seed %i)', (seed) => {
    const raster = blotches(37, 29, seed);
    const area = areaAt((seed * 7) % 37, (seed * 11) % 29, 3, raster);
    const { levels } = reachMap(raster, area, 'joined');
    for (const tolerance of [0, 0.05, 1.3, 4, 9.95, 20, 33.3, 60, 100]) {
      const level = toleranceLevel(tolerance);
      const cleared = new Set([...levels.keys()].filter((i) => levels[i]! <= level));
      expect(cleared, `tolerance ${tolerance}`).toEqual(naiveFlood(raster, area, level));
    }
  });

  it('flips and transposes with the picture', () => {
    const raster = blotches(31, 23, 9);
    const area = areaAt(4, 6, 3, raster);
    const plain = reachMap(raster, area, 'joined');
    const mirrored = reachMap(flipped(raster), { ...area, x: 31 - area.x - area.width }, 'joined');
    const turned = reachMap(
      transposed(raster),
      { x: area.y, y: area.x, width: area.height, height: area.width },
      'joined',
    );
    for (let y = 0; y < 23; y++) {
      for (let x = 0; x < 31; x++) {
        expect(mirrored.levels[y * 31 + 30 - x]).toBe(plain.levels[y * 31 + x]);
        expect(turned.levels[x * 23 + y]).toBe(plain.levels[y * 31 + x]);
      }
    }
  });

  it.each([
    [1, 1],
    [1, 300],
    [300, 1],
    [70000, 1],
    [1, 70000],
  ])('works at %i x %i', (width, height) => {
    const raster = paint(width, height, (x, y) => {
      const v = ((x + y) * 7) % 200;
      return [v, v, v];
    });
    const { levels } = reachMap(raster, areaAt(0, 0, 1, raster), 'joined');
    let highest = 0;
    for (let i = 0; i < levels.length; i++) {
      highest = Math.max(highest, plainLevel(raster, i, { x: 0, y: 0, width: 1, height: 1 }));
      if (levels[i] !== highest) expect(levels[i], `pixel ${i}`).toBe(highest);
    }
    expect(levels.length).toBe(width * height);
  });

  it('does not depend on where the work pauses', () => {
    const raster = blotches(700, 600, 4);
    const area = areaAt(10, 10, 5, raster);
    const steps = reachMapSteps(raster, flatMeasure(raster, area), [area], 'joined');
    let pauses = 0;
    for (let next = steps.next(); !next.done; next = steps.next()) pauses++;
    expect(pauses).toBeGreaterThan(3);
    const small = reachMap(raster, area, 'joined');
    expect(small.levels.every((level) => level <= MAX_LEVEL)).toBe(true);
  });

  it('passes through fully transparent pixels', () => {
    const raster = paint(5, 1, (x) => (x === 2 ? [0, 0, 0, 0] : [255, 255, 255]));
    expect([...reachMap(raster, { x: 0, y: 0, width: 1, height: 1 }, 'joined').levels]).toEqual([
      0, 0, 0, 0, 0,
    ]);
  });
});

describe('reach everywhere', () => {
  it('is each pixel’s own distance', () => {
    const raster = blotches(40, 30, 12);
    const area = areaAt(8, 8, 5, raster);
    const { levels } = reachMap(raster, area, 'everywhere');
    for (let i = 0; i < levels.length; i++) expect(levels[i]).toBe(plainLevel(raster, i, area));
  });

  it('never clears less than joined reach', () => {
    const raster = blotches(40, 30, 13);
    const area = areaAt(8, 8, 5, raster);
    const everywhere = reachMap(raster, area, 'everywhere').levels;
    const joined = reachMap(raster, area, 'joined').levels;
    for (let i = 0; i < joined.length; i++) expect(everywhere[i]).toBeLessThanOrEqual(joined[i]!);
  });
});

describe('toleranceLevel', () => {
  it('keeps decimals that are whole steps', () => {
    expect(toleranceLevel(0)).toBe(0);
    expect(toleranceLevel(0.05)).toBe(1);
    expect(toleranceLevel(12.3)).toBe(246);
    expect(toleranceLevel(100)).toBe(MAX_LEVEL);
  });
});
