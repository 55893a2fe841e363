import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { labOf } from '../../color/oklab';
import { untouchedCut } from '../../cut/parse';
import type { Cut } from '../../cut/schema';
import type { Ink } from './settings';
import { renderCut } from '../../render';
import { inColorway } from './colorways';
import { hasManyColors } from './many-colors';

/** A stroke whose alpha is `dense` in its middle, with a rim, in a color. */
const faint = (dense: number) =>
  paint(60, 40, (x, y) => {
    const far = Math.abs(y - 20);
    const share = x > 8 && x < 52 ? Math.min(1, Math.max(0, 4.4 - far)) : 0;
    return [30, 40, 110, Math.round(255 * dense * share)];
  });
const inked = (picture: ReturnType<typeof faint>, change: Partial<Ink>) => {
  const cut: Cut = { ...untouchedCut(), ink: { ...untouchedCut().ink, ...change } };
  return renderCut(picture, cut).raster;
};

describe('Ink', () => {
  it('changes nothing when nothing is set, or the stage is off', () => {
    const picture = faint(0.6);
    const plain = renderCut(picture, untouchedCut()).raster;
    expect(Buffer.compare(inked(picture, {}).data, plain.data)).toBe(0);
    expect(
      Buffer.compare(inked(picture, { on: false, color: '#ff0000', density: 80 }).data, plain.data),
    ).toBe(0);
  });

  it('gives all that is seen one color and leaves alpha', () => {
    const picture = faint(0.6);
    const { data } = inked(picture, { color: '#c82814' });
    for (let p = 0; p < data.length; p += 4) {
      expect(data[p + 3]).toBe(picture.data[p + 3]);
      if (data[p + 3]! > 0) expect([...data.subarray(p, p + 3)]).toEqual([200, 40, 20]);
      else expect([...data.subarray(p, p + 3)]).toEqual([0, 0, 0]);
    }
  });

  it('makes faint strokes dense without growing them', () => {
    const picture = faint(0.5);
    const { data } = inked(picture, { density: 100 });
    const full = faint(1);
    for (let x = 16; x < 44; x++)
      for (let y = 0; y < 40; y++) {
        const p = (y * 60 + x) * 4 + 3;
        expect(Math.abs(data[p]! - full.data[p]!)).toBeLessThanOrEqual(3);
      }
    const half = inked(picture, { density: 50 }).data[(20 * 60 + 30) * 4 + 3]!;
    expect(Math.abs(half - 191)).toBeLessThanOrEqual(2);
  });

  it('does not make a stain opaque', () => {
    const { data } = inked(faint(0.05), { density: 100 });
    expect(data[(20 * 60 + 30) * 4 + 3]!).toBeLessThan(60);
  });

  it('mirrors lightness for dark backings and keeps the hue', () => {
    const { data } = inked(faint(1), { light: true });
    const p = (20 * 60 + 30) * 4;
    const before = labOf(30, 40, 110);
    const after = labOf(data[p]!, data[p + 1]!, data[p + 2]!);
    expect(after.lightness).toBeCloseTo(1 - before.lightness, 1);
    expect(after.b).toBeLessThan(0);
  });
});

describe('colorways', () => {
  const cut: Cut = {
    ...untouchedCut(),
    ink: { ...untouchedCut().ink, light: true, colorways: [{ name: 'navy', color: '#1d2a6b' }] },
  };

  it('are the cut in one color', () => {
    expect(inColorway(cut, 'navy').ink).toMatchObject({ on: true, color: '#1d2a6b', light: false });
    expect(() => inColorway(cut, 'rose')).toThrow(/expected one of the cut's \(navy\), got "rose"/);
  });
});

describe('hasManyColors', () => {
  it('tells one ink from several', () => {
    expect(hasManyColors(faint(1))).toBe(false);
    expect(hasManyColors(paint(40, 40, (x) => (x < 20 ? [200, 40, 40] : [40, 60, 180])))).toBe(true);
    expect(hasManyColors(paint(40, 40, (x) => (x < 20 ? [20, 20, 20] : [240, 240, 240])))).toBe(true);
  });
});
