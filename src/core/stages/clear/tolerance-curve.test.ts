import { describe, expect, it } from 'vitest';
import { flatReachMap } from '../../../../tests/make/maps';
import { blotches, disc } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { createRaster } from '../../raster/raster';
import { STEPS_PER_UNIT } from './distance';
import { DEFAULT_TOLERANCE, safeRangeOf, startingTolerance, toleranceCurve } from './tolerance-curve';

const corner = { x: 0, y: 0, width: 3, height: 3 };

function curveOf(raster: ReturnType<typeof disc>) {
  return toleranceCurve(flatReachMap(raster, corner, 'joined'));
}

describe('toleranceCurve', () => {
  it('counts at every tolerance what the map clears, and ends with everything', () => {
    const raster = blotches(40, 30, 2);
    const map = flatReachMap(raster, corner, 'joined');
    const curve = toleranceCurve(map);
    for (const level of [0, 13, 200, 999, 2000]) {
      expect(curve.cleared[level]).toBe(map.levels.filter((value) => value <= level).length);
    }
    expect(curve.cleared.at(-1)).toBe(1200);
  });
});

describe('safeRangeOf', () => {
  it('finds the plateau between a white background and a dark disc', () => {
    const range = safeRangeOf(curveOf(disc(201, 60)));
    expect(range).not.toBeNull();
    expect(range!.from).toBeLessThan(12);
    expect(range!.to).toBeGreaterThan(50);
    expect(range!.to).toBeLessThan(95);
  });

  it('clears the background and not the disc anywhere within the range', () => {
    const raster = disc(201, 60);
    const curve = curveOf(raster);
    const range = safeRangeOf(curve)!;
    const outside = 201 * 201 - Math.PI * 60 ** 2;
    for (let t = range.from; t <= range.to; t++) {
      expect(Math.abs(curve.cleared[t * STEPS_PER_UNIT]! - outside)).toBeLessThan(2 * Math.PI * 60 * 1.5);
    }
  });

  it('says that there is none in pure noise', () => {
    const random = seededRandom(4);
    const noise = createRaster(120, 120);
    for (let i = 0; i < noise.data.length; i++)
      noise.data[i] = i % 4 === 3 ? 255 : Math.floor(random() * 256);
    expect(safeRangeOf(curveOf(noise))).toBeNull();
    expect(startingTolerance(curveOf(noise))).toEqual({ tolerance: DEFAULT_TOLERANCE, safeRange: null });
  });
});

describe('startingTolerance', () => {
  it('lies inside the safe range', () => {
    const { tolerance, safeRange } = startingTolerance(curveOf(disc(201, 60)));
    expect(tolerance).toBeGreaterThanOrEqual(safeRange!.from);
    expect(tolerance).toBeLessThanOrEqual(safeRange!.to);
  });
});
