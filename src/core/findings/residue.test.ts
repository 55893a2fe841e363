import { describe, expect, it } from 'vitest';
import { cutDisc, finished, spoiled } from '../../../tests/make/cutouts';
import { paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { findResidue } from './residue';
import type { Raster } from '../raster/raster';

const find = (raster: Raster) => runToEnd(findResidue(finished(raster)));

describe('findResidue', () => {
  it.each([1, 3, 8, 40])('finds a broad veil of alpha %i and where it lies', (alpha) => {
    const found = find(spoiled(cutDisc(160), [5, 6, 20, 12, [250, 250, 250, alpha]]))!;
    expect(found).toMatchObject({ kind: 'residue', severity: 'fault', count: 1, amount: alpha });
    expect(found.pixels).toBeGreaterThan(200);
    const [{ x, y, width, height }] = found.places as [(typeof found.places)[0]];
    expect([x, y]).toEqual([0, 0]);
    expect(x + width >= 25 && y + height >= 18).toBe(true);
  });

  it('finds sprinkled traces that stand alone', () => {
    const grains = Array.from(
      { length: 9 },
      (_, k) => [6 + (k % 3) * 9, 6 + Math.floor(k / 3) * 9, 1, 1, [9, 9, 9, 4]] as const,
    );
    expect(find(spoiled(cutDisc(160), ...grains))?.pixels).toBe(9);
    expect(find(spoiled(cutDisc(160), ...grains.slice(0, 4)))).toBeNull();
  });

  it.each([
    ['a clean edge', cutDisc(160)],
    [
      'a soft edge',
      paint(160, 160, (x, y) => {
        const out = Math.hypot(x - 80, y - 80) - 40;
        return [90, 20, 30, Math.round(255 / (1 + Math.exp(out / 1.6)))];
      }),
    ],
    ['a line that fades', spoiled(cutDisc(160), [120, 80, 30, 2, [140, 30, 40, 30]])],
    ['something opaque', spoiled(cutDisc(160), [5, 6, 20, 12, [250, 250, 250, 255]])],
  ])('says nothing of %s', (_name, raster) => {
    expect(find(raster)).toBeNull();
  });
});
