import { describe, expect, it } from 'vitest';
import { blotches, disc, flipped, paint, transposed } from '../../../../tests/make/pictures';
import { strokeAt, writtenSheet } from '../../../../tests/make/sheets';
import { newSample } from '../../cut/new-sample';
import { untouchedCut } from '../../cut/parse';
import type { Cut } from '../../cut/schema';
import type { Prepare } from './settings';
import { runToEnd } from '../../numeric/steps';
import type { Raster } from '../../raster/raster';
import { renderCut } from '../../render';
import { prepareSteps } from './prepare';

const withPrepare = (change: Partial<Prepare>, cut: Cut = untouchedCut()): Cut => ({
  ...cut,
  prepare: { ...cut.prepare, ...change },
});
const prepared = (original: Raster, change: Partial<Prepare>) =>
  runToEnd(prepareSteps({ original }, withPrepare(change))).raster;
const same = (one: Raster, other: Raster) =>
  one.width === other.width && Buffer.compare(one.data, other.data) === 0;

describe('Prepare, where pixels fall on pixels', () => {
  it('gives the very picture when nothing is set', () => {
    const picture = blotches(50, 40, 3);
    expect(prepared(picture, {})).toBe(picture);
    expect(same(prepared(picture, { on: false, turn: 90 }), picture)).toBe(true);
  });

  it('flips, turns and crops without touching a value', () => {
    const picture = blotches(50, 40, 3);
    expect(same(prepared(picture, { flip: true }), flipped(picture))).toBe(true);
    // A quarter turn is a transposition and a flip.
    expect(same(prepared(picture, { turn: 90 }), flipped(transposed(picture)))).toBe(true);
    const turned = prepared(prepared(picture, { turn: 270 }), { turn: 90 });
    expect(same(turned, picture)).toBe(true);
    const part = prepared(picture, { crop: { x: 7, y: 5, width: 20, height: 10 } });
    expect([part.width, part.height]).toEqual([20, 10]);
    expect([...part.data.subarray(0, 4)]).toEqual([
      ...picture.data.subarray((5 * 50 + 7) * 4, (5 * 50 + 7) * 4 + 4),
    ]);
  });
});

describe('a cut of a prepared picture', () => {
  const sampled = (x: number, y: number): Cut => ({
    ...untouchedCut(),
    clear: {
      on: true,
      samples: [newSample('s1', x, y, { tolerance: 10, areaPx: 3 })],
      pockets: [],
      marks: [],
      ink: null,
    },
  });

  it('is the turned cutout where the picture is turned', () => {
    const picture = disc(61, 20);
    const plain = renderCut(picture, sampled(2, 30)).raster;
    const turned = renderCut(picture, withPrepare({ turn: 90 }, sampled(2, 30))).raster;
    expect(same(turned, flipped(transposed(plain)))).toBe(true);
  });

  it('clears the same when it is cropped, with the sample outside of the crop', () => {
    const picture = disc(81, 20);
    const whole = renderCut(picture, sampled(2, 2)).raster;
    const crop = { x: 15, y: 12, width: 50, height: 55 };
    const { raster, alpha } = renderCut(picture, withPrepare({ crop }, sampled(2, 2)));
    expect([raster.width, raster.height]).toEqual([50, 55]);
    expect(alpha.transparent + alpha.partly + alpha.opaque).toBe(50 * 55);
    for (let y = 0; y < crop.height; y++) {
      const from = ((crop.y + y) * 81 + crop.x) * 4;
      const row = whole.data.subarray(from, from + crop.width * 4);
      expect(Buffer.compare(row, raster.data.subarray(y * 200, y * 200 + 200))).toBe(0);
    }
  });

  it('is about the same when the picture is turned there and the result back', () => {
    const picture = disc(101, 30);
    const there = prepared(picture, { straightenDeg: 12 });
    const back = prepared(there, { straightenDeg: -12 });
    const left = (back.width - 101) >> 1;
    let off = 0;
    for (let y = 30; y < 70; y++)
      for (let x = 30; x < 70; x++)
        off = Math.max(
          off,
          Math.abs(back.data[((y + left) * back.width + x + left) * 4]! - picture.data[(y * 101 + x) * 4]!),
        );
    expect(off).toBeLessThan(60);
  });
});

describe('the paper', () => {
  const lit = [
    ['falling light', (x: number, y: number) => 1 - 0.3 * (x / 360) - 0.1 * (y / 200)],
    ['a hard shadow', (x: number, y: number) => (x + 0.7 * y > 230 ? 0.62 : 1)],
  ] as const;

  it.each(lit)('is even after flattening %s, and strokes are as dark as before', (_what, light) => {
    const picture = writtenSheet({ light, grain: 1 });
    const flat = prepared(picture, { flatten: 100 });
    const papers: number[] = [];
    const inks: number[] = [];
    for (let y = 8; y < 192; y++)
      for (let x = 8; x < 352; x++) {
        const alpha = strokeAt(x, y, {});
        const value = flat.data[(y * 360 + x) * 4 + 1]!;
        if (alpha === 0) papers.push(value);
        else if (alpha === 1) inks.push(value);
      }
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
    const paper = mean(papers);
    const off = papers.filter((value) => Math.abs(value - paper) > 8).length;
    expect(off / papers.length).toBeLessThan(0.01);
    expect(Math.abs(mean(inks) / paper - 29 / 238)).toBeLessThan(0.02);
  });

  it('changes by half at half the strength', () => {
    const picture = writtenSheet({ light: (x) => 1 - 0.3 * (x / 360) });
    const half = prepared(picture, { flatten: 50 });
    const full = prepared(picture, { flatten: 100 });
    const at = (20 * 360 + 340) * 4;
    expect(Math.abs(half.data[at]! - (picture.data[at]! + full.data[at]!) / 2)).toBeLessThanOrEqual(1);
  });

  it('loses its grain when it is calmed, and hairlines stay', () => {
    const picture = writtenSheet({ grain: 2.5, wide: 1 });
    const calm = prepared(picture, { calm: 100 });
    const spread = (raster: Raster) => {
      const values: number[] = [];
      for (let y = 4; y < 40; y++) for (let x = 4; x < 356; x++) values.push(raster.data[(y * 360 + x) * 4]!);
      const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
      return Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
    };
    expect(spread(calm)).toBeLessThan(0.45 * spread(picture));
    let darkest = 255;
    for (let y = 50; y < 150; y++) darkest = Math.min(darkest, calm.data[(y * 360 + 180) * 4]!);
    expect(darkest).toBeLessThan(110);
  });

  it.each([0, 3, -5])('loses ruled lines at %d degrees; strokes that cross them stay', (rulesDeg) => {
    const picture = writtenSheet({ rules: 26, rulesDeg, wide: 3 });
    const clean = prepared(picture, { removeRules: true });
    const bare = writtenSheet({ wide: 3 });
    let ruled = 0;
    let left = 0;
    let broken = 0;
    for (let y = 0; y < 200; y++)
      for (let x = 0; x < 360; x++) {
        const p = (y * 360 + x) * 4;
        const wanted = bare.data[p]!;
        if (strokeAt(x, y, { wide: 3 }) === 0) {
          if (wanted - picture.data[p]! > 20) ruled++;
          if (wanted - clean.data[p]! > 12) left++;
        } else if (Math.abs(clean.data[p]! - wanted) > 40) broken++;
      }
    expect(ruled).toBeGreaterThan(2000);
    expect(left).toBeLessThan(0.04 * ruled);
    expect(broken).toBeLessThan(12);
  });

  it('keeps a stroke that runs along a rule for most of its length', () => {
    const onRule = (x: number, y: number) => x > 70 && x < 270 && Math.abs(y - 64) < 2;
    const ruled = writtenSheet({ rules: 26 });
    const drawn = paint(360, 200, (x, y) => {
      const p = (y * 360 + x) * 4;
      return onRule(x, y) ? [26, 29, 60] : [ruled.data[p]!, ruled.data[p + 1]!, ruled.data[p + 2]!];
    });
    const clean = prepared(drawn, { removeRules: true });
    for (let x = 75; x < 265; x++) expect(clean.data[(64 * 360 + x) * 4]!).toBeLessThan(60);
    for (let x = 280; x < 350; x++) expect(clean.data[(64 * 360 + x) * 4]!).toBeGreaterThan(225);
  });

  it('is left alone by the removal of rules where there are none', () => {
    const picture = writtenSheet({ grain: 1 });
    expect(same(prepared(picture, { removeRules: true }), picture)).toBe(true);
  });
});
