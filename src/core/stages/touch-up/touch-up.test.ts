import { Kept } from '../kept';
import { describe, expect, it } from 'vitest';
import { cutDisc, spoiled } from '../../../../tests/make/cutouts';
import { paint } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { untouchedCut } from '../../cut/parse';
import type { Cut } from '../../cut/schema';
import { NOTHING_MENDED, type Mend } from './settings';
import { runToEnd } from '../../numeric/steps';
import { renderCut, renderPart, renderScene } from '../../render';
import { halvedScene, sceneOf } from '../../scene/scene';

const SPECK = [140, 30, 40, 220] as const;
const mended = (...mends: Mend[]): Cut => ({ ...untouchedCut(), touchUp: { ...NOTHING_MENDED, mends } });
const alphaAt = ({ width, data }: { width: number; data: Uint8Array }, x: number, y: number) =>
  data[(y * width + x) * 4 + 3]!;

describe('Touch up', () => {
  const dusty = spoiled(
    cutDisc(120),
    [10, 10, 3, 3, SPECK],
    [100, 12, 2, 2, SPECK],
    [60, 60, 2, 2, [250, 240, 230, 0]],
    [6, 90, 24, 20, [240, 240, 240, 5]],
  );

  it('clears a speck with its rim, and nothing else', () => {
    const rimmed = spoiled(dusty, [13, 10, 1, 3, [140, 30, 40, 4]]);
    const { raster } = renderCut(rimmed, mended({ mend: 'speck', x: 11, y: 11, reachPx: 8 }));
    expect(alphaAt(raster, 11, 11)).toBe(0);
    expect(alphaAt(raster, 13, 11)).toBe(0);
    expect(alphaAt(raster, 100, 12)).toBe(220);
  });

  it('clears no speck where it is none any more', () => {
    const mend: Mend = { mend: 'speck', x: 60, y: 40, reachPx: 6 };
    expect(renderCut(dusty, mended(mend)).raster.data).toEqual(renderCut(dusty, mended()).raster.data);
    const nothing: Mend = { mend: 'speck', x: 40, y: 5, reachPx: 6 };
    expect(renderCut(dusty, mended(nothing)).raster.data).toEqual(renderCut(dusty, mended()).raster.data);
  });

  it('brings a pinhole back in the color of the original', () => {
    const { raster } = renderCut(dusty, mended({ mend: 'pinhole', x: 60, y: 60, reachPx: 5 }));
    expect([...raster.data.subarray((60 * 120 + 60) * 4, (60 * 120 + 60) * 4 + 4)]).toEqual([
      250, 240, 230, 255,
    ]);
  });

  it('closes no hole that is open to a side', () => {
    const open = spoiled(cutDisc(120), [60, 0, 2, 60, [0, 0, 0, 0]]);
    const mend: Mend = { mend: 'pinhole', x: 60, y: 58, reachPx: 200 };
    expect(alphaAt(renderCut(open, mended(mend)).raster, 60, 58)).toBe(0);
  });

  it('clears residue within its reach, up to its alpha, and no edge', () => {
    const before = renderCut(dusty, mended()).raster;
    const clear = (reachPx: number, alpha: number) =>
      renderCut(dusty, mended({ mend: 'residue', x: 18, y: 100, reachPx, alpha })).raster;
    expect(alphaAt(clear(20, 40), 8, 92)).toBe(0);
    expect(alphaAt(clear(5, 40), 8, 92)).toBe(5);
    expect(alphaAt(clear(20, 4), 8, 92)).toBe(5);
    const all = clear(1000, 40);
    for (let i = 0; i < 120 * 80; i++) expect(all.data[i * 4 + 3]).toBe(before.data[i * 4 + 3]);
  });

  it('takes the background out of a rim and leaves its alpha', () => {
    const lit = spoiled(cutDisc(120), [60, 30, 4, 2, [200, 150, 155, 255]]);
    const mend: Mend = { mend: 'halo', x: 60, y: 34, reachPx: 12, background: '#ffffff' };
    const { raster } = renderCut(lit, mended(mend));
    const p = (31 * 120 + 61) * 4;
    expect(Math.abs(raster.data[p + 1]! - 30)).toBeLessThan(30);
    expect(raster.data[p + 3]).toBe(255);
    const green: Mend = { ...mend, background: '#00ff00' };
    expect(renderCut(lit, mended(green)).raster.data).toEqual(renderCut(lit, mended()).raster.data);
  });

  it('does nothing while it is switched off', () => {
    const mends: Mend[] = [{ mend: 'speck', x: 11, y: 11, reachPx: 8 }];
    const off = { ...untouchedCut(), touchUp: { ...NOTHING_MENDED, on: false, mends } };
    expect(renderCut(dusty, off).raster.data).toEqual(renderCut(dusty, mended()).raster.data);
  });

  it('gives the same in parts as at once, in any order of mends', () => {
    const mends: Mend[] = [
      { mend: 'residue', x: 18, y: 100, reachPx: 40, alpha: 40 },
      { mend: 'speck', x: 11, y: 11, reachPx: 8 },
      { mend: 'halo', x: 60, y: 60, reachPx: 60, background: '#ffffff' },
      { mend: 'pinhole', x: 60, y: 60, reachPx: 5 },
      { mend: 'speck', x: 100, y: 12, reachPx: 4 },
    ];
    const glowing = spoiled(dusty, [50, 30, 20, 3, [210, 160, 165, 255]]);
    const scene = sceneOf(glowing);
    const whole = runToEnd(renderScene(scene, mended(...mends), new Kept(0))).raster;
    expect(renderCut(glowing, mended(...mends.toReversed())).raster.data).toEqual(whole.data);
    const random = seededRandom(5);
    for (let k = 0; k < 12; k++) {
      const [x, y] = [Math.floor(random() * 100), Math.floor(random() * 100)];
      const rect = { x, y, width: 1 + Math.floor(random() * 40), height: 1 + Math.floor(random() * 40) };
      const part = renderPart(scene, mended(...mends), new Kept(0), rect)!;
      for (let v = 0; v < part.height; v++) {
        const from = ((y + v) * 120 + x) * 4;
        expect(part.data.subarray(v * part.width * 4, (v + 1) * part.width * 4)).toEqual(
          whole.data.subarray(from, from + part.width * 4),
        );
      }
    }
  });

  it('acts on a halved picture too', () => {
    const big = paint(240, 240, (x, y) => {
      const p = ((y >> 1) * 120 + (x >> 1)) * 4;
      const { data } = dusty;
      return [data[p]!, data[p + 1]!, data[p + 2]!, data[p + 3]!];
    });
    const scene = halvedScene(sceneOf(big));
    const cut = mended({ mend: 'speck', x: 22, y: 22, reachPx: 16 });
    const part = renderPart(scene, cut, new Kept(0), { x: 0, y: 0, width: 40, height: 40 })!;
    expect(alphaAt(part, 11, 11)).toBe(0);
  });
});
