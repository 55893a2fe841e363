import { describe, expect, it } from 'vitest';
import { createRaster } from '../raster/raster';
import { Kept, type KeptLayer } from './kept';

const layer = (width: number, height: number, x = 0, y = 0): KeptLayer => ({
  raster: createRaster(width, height),
  rect: { x, y, width, height },
  alike: [],
  alpha: null,
});

describe('Kept', () => {
  it('gives a layer back where it holds all that is asked for, and only there', () => {
    const kept = new Kept(10_000);
    const one = layer(10, 8, 4, 2);
    kept.keep('a', one);
    expect(kept.layer('a', { x: 5, y: 3, width: 9, height: 7 })).toBe(one);
    expect(kept.layer('a', { x: 5, y: 3, width: 10, height: 7 })).toBeNull();
    expect(kept.layer('a', { x: 3, y: 3, width: 2, height: 2 })).toBeNull();
    expect(kept.layer('b', { x: 5, y: 3, width: 1, height: 1 })).toBeNull();
  });

  it('never holds more bytes than its bound, and lets the layers go first that were used longest ago', () => {
    const kept = new Kept(1000);
    const whole = { x: 0, y: 0, width: 10, height: 10 };
    kept.keep('a', layer(10, 10));
    kept.keep('b', layer(10, 10));
    expect(kept.bytes).toBe(800);
    kept.layer('a', whole);
    kept.keep('c', layer(10, 10));
    expect([...'abc'].filter((key) => kept.layer(key, whole))).toEqual(['a', 'c']);
    for (let k = 0; k < 50; k++) {
      kept.keep(`d${k}`, layer(1 + (k % 15), 12));
      expect(kept.bytes).toBeLessThanOrEqual(1000);
    }
    kept.keep('huge', layer(20, 20));
    expect(kept.layer('huge', whole)).toBeNull();
    expect(kept.bytes).toBeGreaterThan(0);
  });

  it('counts a layer once that is made again', () => {
    const kept = new Kept(1000);
    for (let k = 0; k < 5; k++) kept.keep('a', layer(10, 10));
    expect(kept.bytes).toBe(400);
  });

  it('never gives what a whole rendering left away for a draft, and one draft for the next', () => {
    const kept = new Kept(10_000);
    const [whole, draft] = [layer(20, 20), layer(5, 5, 18, 18)];
    kept.keep('a', whole);
    kept.keepDraft('a', draft.raster, draft.rect);
    expect(kept.layer('a', whole.rect)).toBe(whole);
    expect(kept.layer('a', draft.rect)).toBeNull();
    kept.keepDraft('b', layer(9, 9).raster, { x: 0, y: 0, width: 9, height: 9 });
    kept.keepDraft('b', draft.raster, draft.rect);
    expect(kept.layer('b', draft.rect)?.raster).toBe(draft.raster);
    expect(kept.bytes).toBe(4 * (400 + 25));
  });

  it('has a bound that follows the size of the picture', () => {
    expect(Kept.of({ width: 100, height: 100 }).mostBytes).toBe(64 << 20);
    expect(Kept.of({ width: 6000, height: 4000 }).mostBytes).toBeCloseTo(2.2 * 6000 * 4000 * 4, -1);
    expect(Kept.ofReduced({ width: 300, height: 200 }).mostBytes).toBe(6 * 300 * 200 * 4);
  });
});
