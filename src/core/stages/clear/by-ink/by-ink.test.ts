import { Kept } from '../../kept';
import { describe, expect, it } from 'vitest';
import { paint, noise } from '../../../../../tests/make/pictures';
import { strokeAt, writtenSheet } from '../../../../../tests/make/sheets';
import { newSample } from '../../../cut/new-sample';
import { untouchedCut } from '../../../cut/parse';
import type { Cut } from '../../../cut/schema';
import type { ByInk } from '../settings';
import { renderCut, renderPart } from '../../../render';
import { sceneOf } from '../../../scene/scene';
import { clippedPart } from './by-ink';
import { levelsTable, LEVEL_STEPS } from './levels';
import { bestChannel, readInk } from './points';
import { CHANNELS, histogramOf } from './reading';
import { specksOf } from './specks';

const INK: ByInk = { on: true, channel: 'luminance', black: 40, mid: 130, white: 220, speckPx: 0 };
const byInk = (change: Partial<ByInk> = {}): Cut => ({
  ...untouchedCut(),
  clear: { on: true, samples: [], pockets: [], marks: [], ink: { ...INK, ...change } },
});

describe('levels', () => {
  it('follow density when the mid point is in the middle', () => {
    const table = levelsTable(INK);
    for (let reading = 0; reading <= 255; reading += 5) {
      const share = Math.min(1, Math.max(0, (220 - reading) / 180));
      expect(table[reading * LEVEL_STEPS]).toBe(Math.round(255 * share));
    }
  });

  it.each([60, 90, 130, 180, 205])('give one half at the mid point %d, and fall all the way', (mid) => {
    const table = levelsTable({ ...INK, mid });
    expect(Math.abs(table[mid * LEVEL_STEPS]! - 127.5)).toBeLessThanOrEqual(1);
    for (let k = 1; k < table.length; k++) expect(table[k]!).toBeLessThanOrEqual(table[k - 1]!);
    expect([table[0], table.at(-1)]).toEqual([255, 0]);
  });

  it('run the other way for light ink on a dark ground', () => {
    const table = levelsTable({ black: 220, mid: 130, white: 40 });
    expect([table[30 * LEVEL_STEPS], table[130 * LEVEL_STEPS], table[230 * LEVEL_STEPS]]).toEqual([
      0, 128, 255,
    ]);
  });
});

describe('clearing by ink', () => {
  it('gives back alpha and color of a known mixture', () => {
    const ink = [26, 29, 60] as const;
    const paper = [244, 238, 222] as const;
    const picture = writtenSheet({ ink, paper });
    const { raster } = renderCut(
      picture,
      byInk({ channel: 'red', black: ink[0], mid: 135, white: paper[0] }),
    );
    for (let y = 0; y < 200; y++)
      for (let x = 0; x < 360; x++) {
        const p = (y * 360 + x) * 4;
        const alpha = 255 * strokeAt(x, y, {});
        expect(Math.abs(raster.data[p + 3]! - alpha)).toBeLessThanOrEqual(2);
        if (raster.data[p + 3]! < 30) continue;
        for (let c = 0; c < 3; c++) expect(Math.abs(raster.data[p + c]! - ink[c]!)).toBeLessThanOrEqual(6);
      }
  });

  it('keeps colors as they are seen where Edge is off', () => {
    const picture = writtenSheet();
    const cut = byInk();
    const { raster } = renderCut(picture, { ...cut, edge: { ...cut.edge, on: false } });
    for (let p = 0; p < raster.data.length; p += 4)
      if (raster.data[p + 3]! > 0) expect(raster.data[p]).toBe(picture.data[p]);
  });

  it.each(CHANNELS)('reads %s', (channel) => {
    const picture = paint(2, 1, (x) => (x === 0 ? [200, 40, 90] : [60, 170, 130]));
    const counts = histogramOf(picture, channel);
    const [first, second] = [...counts.keys()].filter((reading) => counts[reading]! > 0);
    const low = Math.min(first!, second!);
    const high = Math.max(first!, second!);
    const ends = { black: low, mid: (low + high) / 2, white: high };
    const { raster } = renderCut(picture, byInk({ channel, ...ends }));
    const alphas = [raster.data[3]!, raster.data[7]!].sort((a, b) => a - b);
    expect(alphas[0]).toBeLessThan(9);
    expect(alphas[1]).toBeGreaterThan(246);
  });

  it('is the same in parts as as a whole', () => {
    const picture = noise(90, 70, 4);
    for (const density of [0, 60]) {
      const cut: Cut = { ...byInk({ speckPx: 6 }), ink: { ...untouchedCut().ink, density } };
      const whole = renderCut(picture, cut).raster;
      const scene = sceneOf(picture);
      for (const rect of [
        { x: 0, y: 0, width: 31, height: 70 },
        { x: 20, y: 33, width: 40, height: 9 },
        { x: 89, y: 69, width: 1, height: 1 },
      ]) {
        const part = renderPart(scene, cut, new Kept(0), rect)!;
        for (let y = 0; y < rect.height; y++) {
          const from = ((rect.y + y) * 90 + rect.x) * 4;
          const row = whole.data.subarray(from, from + rect.width * 4);
          expect(Buffer.compare(row, part.data.subarray(y * rect.width * 4, (y + 1) * rect.width * 4))).toBe(
            0,
          );
        }
      }
    }
  });

  it('clears together with samples: a colored stamp under the ink', () => {
    const picture = paint(80, 60, (x, y) => {
      if (y > 26 && y < 32) return [30, 32, 60];
      return x > 20 && x < 60 && y > 10 && y < 50 ? [214, 120, 120] : [244, 240, 230];
    });
    const onlyInk = byInk({ black: 60, mid: 140, white: 230 });
    const stamp = newSample('s1', 30, 15, { tolerance: 14, areaPx: 3, reach: 'everywhere' });
    const both: Cut = { ...onlyInk, clear: { ...onlyInk.clear, samples: [stamp] } };
    const at = (raster: { data: Uint8Array }, x: number, y: number) => raster.data[(y * 80 + x) * 4 + 3]!;
    const before = renderCut(picture, onlyInk).raster;
    const after = renderCut(picture, both).raster;
    expect(at(before, 40, 15)).toBeGreaterThan(60);
    expect(at(after, 40, 15)).toBe(0);
    expect(at(after, 40, 29)).toBeGreaterThan(240);
    expect(at(after, 5, 5)).toBe(0);
  });

  it('marks what the points clip', () => {
    const picture = writtenSheet();
    const marks = clippedPart(picture, byInk(), { x: 0, y: 0, width: 360, height: 200 })!;
    const { raster } = renderCut(picture, byInk());
    const kinds = new Map<number, Set<number>>();
    marks.forEach((mark, i) => {
      const alpha = raster.data[i * 4 + 3]!;
      const kind = alpha === 255 ? 2 : alpha === 0 ? 0 : 1;
      kinds.set(mark, (kinds.get(mark) ?? new Set()).add(kind));
    });
    expect([...kinds.values()].every((kind) => kind.size === 1)).toBe(true);
    expect(kinds.size).toBe(3);
    expect(clippedPart(picture, untouchedCut(), { x: 0, y: 0, width: 2, height: 2 })).toBeNull();
  });
});

describe('readInk', () => {
  it('finds ink and paper, and proposes points between them', () => {
    const reading = readInk([writtenSheet({ grain: 1 })])!;
    expect(reading.share).toBeGreaterThan(0.01);
    expect(reading.share).toBeLessThan(0.05);
    const red = reading.channels.find(({ channel }) => channel === 'red')!;
    expect(Math.abs(red.black - 28)).toBeLessThan(8);
    expect(red.white).toBeGreaterThan(232);
    expect(red.white).toBeLessThan(244);
    expect(Math.abs(reading.color[2] - 60)).toBeLessThan(6);
  });

  it('chooses the channel in which a stamp does not show', () => {
    const picture = paint(300, 120, (x, y) => {
      const share = strokeAt(x, y, { width: 300, height: 120 });
      const paper = (x >> 3) % 5 === 0 ? [244, 150, 150] : [244, 240, 232];
      return [0, 1, 2].map((c) => Math.round([40, 44, 120][c]! * share + paper[c]! * (1 - share))) as [
        number,
        number,
        number,
      ];
    });
    expect(bestChannel(readInk([picture])!).channel).toBe('red');
  });

  it.each([
    ['an even page', paint(60, 40, () => [240, 236, 230])],
    ['a page that is black all over', paint(60, 40, () => [12, 12, 14])],
    ['faint grain', writtenSheet({ ink: [236, 230, 214], grain: 2 })],
  ])('tells nothing from %s', (_what, raster) => {
    expect(readInk([raster])).toBeNull();
  });
});

describe('specks', () => {
  it('go below an area, with the traces that hang on nothing; strokes stay', () => {
    const width = 40;
    const alphas = new Uint8Array(width * 20);
    const set = (x: number, y: number, alpha: number) => (alphas[y * width + x] = alpha);
    for (let x = 5; x < 30; x++) set(x, 10, 255);
    set(15, 11, 12);
    set(2, 2, 200);
    set(3, 2, 200);
    set(35, 15, 20);
    const marks = specksOf({ data: alphas, width, height: 20 }, 4)!;
    const dropped = [...marks.keys()].filter((i) => marks[i] === 1);
    expect(dropped.sort((a, b) => a - b)).toEqual([2 * width + 2, 2 * width + 3, 15 * width + 35]);
    expect(specksOf({ data: new Uint8Array(12), width: 4, height: 3 }, 4)).toBeNull();
  });
});
