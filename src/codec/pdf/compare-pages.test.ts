import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { layAllSteps, type Layer } from '../../core/proof/lay';
import { runToEnd } from '../../core/numeric/steps';
import type { Raster } from '../../core/raster/raster';
import { comparePages } from './compare-pages';

const page = () => paint(160, 120, (_x, y) => (y % 20 === 0 ? [60, 60, 60] : [250, 250, 250]));
const disc = paint(60, 60, (x, y) => [20, 30, 120, Math.hypot(x - 29.5, y - 29.5) < 28 ? 255 : 0]);

const layer = (x: number, more: Partial<Layer> = {}): Layer => ({
  cutout: disc,
  box: { x, y: 30, width: 60, height: 60 },
  angleDeg: 0,
  opacity: 100,
  blend: 'normal',
  ...more,
});

const laid = (own: Layer): Raster => {
  const ground = page();
  runToEnd(layAllSteps(ground, [own]));
  return ground;
};

describe('comparing a page with its proof', () => {
  const wanted = layer(40);
  const compare = (after: Raster) => comparePages(page(), laid(wanted), after, [wanted]);

  it('finds nothing where it is the same', () => {
    expect(compare(laid(wanted))).toEqual({ beside: 0, mean: 0, block: 0 });
  });

  it('forgives a renderer that places by half a pixel, and no more', () => {
    const near = compare(laid(layer(40.5)));
    expect(near.beside).toBe(0);
    expect(near.mean).toBeLessThan(1);
    expect(near.block).toBeLessThan(32);
    const far = compare(laid(layer(47)));
    expect(far.beside > 0 || far.block > 64).toBe(true);
  });

  it('sees what is missing, paler, or changed beside the piece', () => {
    expect(compare(page()).mean).toBeGreaterThan(20);
    expect(compare(laid(layer(40, { opacity: 80 }))).mean).toBeGreaterThan(2.5);
    const other = laid(wanted);
    other.data[4 * (5 * 160 + 5)] = 0;
    expect(compare(other).beside).toBe(250);
  });
});
