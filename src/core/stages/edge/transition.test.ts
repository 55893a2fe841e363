import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { newSample } from '../../cut/new-sample';
import { untouchedCut } from '../../cut/parse';
import type { Cut } from '../../cut/schema';
import { seededRandom } from '../../numeric/random';
import type { Raster } from '../../raster/raster';
import { renderCut } from '../../render';

const SIDE = 120;
const PAPER = [240, 238, 232] as const;
const INK = [40, 90, 120] as const;

type Color = [number, number, number];

function mixed(one: readonly number[], other: readonly number[], share: number): Color {
  return one.map((value, c) => Math.round(value + (other[c]! - value) * share)) as Color;
}

/** How much of a disc of radius 30 that is out of focus covers a place; its edge passes over `width` pixels. */
function coverage(x: number, y: number, width: number): number {
  const t = Math.min(1, Math.max(0, 0.5 + (30 - Math.hypot(x - 60, y - 60)) / width));
  return t * t * (3 - 2 * t);
}

function cutOut(picture: Raster, tolerance: number): Raster {
  const samples = [newSample('s1', 3, 3, { tolerance })];
  const cut: Cut = { ...untouchedCut(), clear: { on: true, samples, pockets: [], marks: [], ink: null } };
  return renderCut(picture, cut).raster;
}

const alphaAt = ({ data }: Raster, x: number, y: number) => data[(y * SIDE + x) * 4 + 3]!;

describe('a transition wider than the ordinary band', () => {
  it.each([
    [8, 0],
    [13, 0],
    [13, 5],
  ])('of %d px, grain %d, is solved over its whole width', (width, grain) => {
    const random = seededRandom(width);
    const picture = paint(SIDE, SIDE, (x, y) => {
      const noise = (random() - 0.5) * grain;
      return mixed(PAPER, INK, coverage(x, y, width)).map((value) => Math.round(value + noise)) as Color;
    });
    const out = cutOut(picture, 9);
    let sum = 0;
    let worst = 0;
    let count = 0;
    for (let i = 0; i < SIDE * SIDE; i++) {
      const truth = coverage(i % SIDE, Math.floor(i / SIDE), width);
      if (truth < 0.1 || truth > 0.9) continue;
      const off = Math.abs(out.data[i * 4 + 3]! / 255 - truth);
      sum += off;
      worst = Math.max(worst, off);
      count++;
    }
    expect(sum / count).toBeLessThan(0.04);
    expect(worst).toBeLessThan(0.2);
  });

  it('gives its pixels the subject’s color', () => {
    const out = cutOut(
      paint(SIDE, SIDE, (x, y) => mixed(PAPER, INK, coverage(x, y, 11))),
      9,
    );
    for (let i = 0; i < SIDE * SIDE; i++) {
      if (out.data[i * 4 + 3]! < 40) continue;
      for (let c = 0; c < 3; c++) expect(Math.abs(out.data[i * 4 + c]! - INK[c]!)).toBeLessThan(14);
    }
  });

  it('is not seen in an outline of the subject, nor in a rim that reflects the backdrop', () => {
    const outlined = paint(SIDE, SIDE, (x, y) => {
      const far = Math.hypot(x - 60, y - 60);
      const pale: Color = mixed(PAPER, INK, 0.55);
      return far > 30 ? [...PAPER] : far > 24 ? pale : [...INK];
    });
    const reflecting = paint(SIDE, SIDE, (x, y) => {
      const far = Math.hypot(x - 60, y - 60);
      return far > 30 ? [30, 170, 60] : mixed([200, 60, 50], [30, 170, 60], 0.35 * Math.exp((far - 30) / 4));
    });
    for (const picture of [outlined, reflecting]) {
      const out = cutOut(picture, 9);
      for (let far = 0; far < 26; far++) expect(alphaAt(out, 60 + far, 60)).toBe(255);
    }
  });
});
