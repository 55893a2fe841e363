import { describe, expect, it } from 'vitest';
import { flipped, paint, transposed } from '../../../tests/make/pictures';
import { boardSteps, renderBoard } from '../board';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import { runToEnd } from '../numeric/steps';
import type { Raster } from '../raster/raster';
import { sceneOf } from '../scene/scene';
import { decisionSteps } from './decide';
import { KeptDecisions } from './kept-decisions';
import { planesOf } from './planes';
import { inEvenRows } from './sweep';

const WIDTH = 320;
const HEIGHT = 240;
const inBody = (x: number, y: number) => Math.hypot(x - 160, y - 130) < 50;

/** How light a sweep is from its wall down to its floor, with the bright band of its bend between. */
const sweep = (y: number) => 0.75 + 0.25 * Math.exp(-(((y - 100) / 26) ** 2)) + (y > 100 ? 0.14 : 0);

/** A red body before a backdrop in some light. */
const picture = (light: (x: number, y: number) => number, tint: readonly number[] = [1, 1, 0.98]): Raster =>
  paint(WIDTH, HEIGHT, (x, y) => {
    if (inBody(x, y)) return [190, 40, 50];
    const level = 215 * light(x, y);
    return [tint[0]! * level, tint[1]! * level, tint[2]! * level];
  });

const decided = (raster: Raster) =>
  runToEnd(decisionSteps(sceneOf(raster), { goes: [], stays: [], marks: [] }))!;

/** Pixels of the body that go, and of the backdrop that stay. */
function wrongOf(raster: Raster): number {
  const { goes, evened } = decided(raster);
  expect(evened).toBe(true);
  let wrong = 0;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i++)
      if (Math.abs(Math.hypot(x - 160, y - 130) - 50) > 3 && goes[i] === (inBody(x, y) ? 1 : 0)) wrong++;
  return wrong;
}

describe('light that changes from row to row', () => {
  it('is divided out of a sweep, which is even then, and given back', () => {
    const raster = picture((_x, y) => sweep(y));
    const { channels, light } = inEvenRows(planesOf(raster))!;
    const [before] = planesOf(raster).channels;
    let [low, high] = [255, 0];
    for (let i = 0; i < light!.length; i++) {
      if (inBody(i % WIDTH, Math.floor(i / WIDTH))) continue;
      low = Math.min(low, channels[0][i]!);
      high = Math.max(high, channels[0][i]!);
    }
    expect(high - low).toBeLessThan(5);
    for (const i of [0, 5000, 40_000]) expect(channels[0][i]! * light![i]!).toBeCloseTo(before[i]!, 2);
  });

  it('goes with the backdrop, also where it falls across, and keeps the body', () => {
    expect(wrongOf(picture((_x, y) => sweep(y)))).toBe(0);
    expect(wrongOf(picture((x, y) => sweep(y) * (1 - (0.15 * x) / WIDTH)))).toBe(0);
    expect(wrongOf(flipped(picture((x, y) => sweep(y) * (1 - (0.15 * x) / WIDTH))))).toBe(0);
  });

  it('is none where one side has other light, a floor another color, or what is smooth explains it', () => {
    const isEvened = (raster: Raster) => inEvenRows(planesOf(raster)) !== null;
    expect(isEvened(picture((x, y) => (x < 160 ? sweep(y) : 0.9)))).toBe(false);
    const two = paint(WIDTH, HEIGHT, (_x, y) => (y < 120 ? [200, 190, 170] : [120, 160, 220]));
    expect(isEvened(two)).toBe(false);
    expect(decided(transposed(picture((_x, y) => sweep(y)))).evened).toBe(false);
    expect(decided(picture((_x, y) => 0.8 + (0.1 * y) / HEIGHT)).evened).toBe(false);
  });

  it('reads past what lies at one side', () => {
    const raster = picture((_x, y) => sweep(y));
    for (let y = 180; y < 200; y++)
      for (let x = 0; x < 30; x++) raster.data.set([30, 60, 120], (y * WIDTH + x) * 4);
    const { goes } = decided(raster);
    expect(goes[190 * WIDTH + 200]).toBe(1);
    expect(goes[190 * WIDTH + 10]).toBe(0);
    expect(goes[130 * WIDTH + 160]).toBe(0);
  });

  it('is the same by a decision that is kept, byte for byte', () => {
    const original = picture((_x, y) => sweep(y));
    const samples = [newSample('s1', 3, 3, { rule: 'whole' })];
    const cut: Cut = { ...untouchedCut(), clear: { ...untouchedCut().clear, samples } };
    const rendered = (decisions: KeptDecisions) =>
      runToEnd(renderBoard(runToEnd(boardSteps({ original, decisions }, cut)), cut)).raster.data;
    const taken = new KeptDecisions();
    const first = rendered(taken);
    const kept = new KeptDecisions(taken.packTaken());
    expect(Buffer.from(rendered(kept)).equals(Buffer.from(first))).toBe(true);
    expect(kept.packTaken()).toBeNull();
  });
});
