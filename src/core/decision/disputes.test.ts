import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { sceneOf } from '../stages/clear/scene';
import { levelsBy } from './carry';
import { decisionSteps, type Facts } from './decide';
import { disputed } from './disputes';

const NOTHING_TOLD: Facts = { goes: [], stays: [], marks: [] };
const WIDTH = 300;
const HEIGHT = 220;

/** A red disc on white with a pale disc beside it, and what a tolerance is said to clear besides the backdrop. */
function judged(alsoCleared: (x: number, y: number) => boolean, facts: Partial<Facts> = {}) {
  const red = (x: number, y: number) => Math.hypot(x - 90, y - 110) < 60;
  const pale = (x: number, y: number) => Math.hypot(x - 215, y - 110) < 45;
  const picture = paint(WIDTH, HEIGHT, (x, y) =>
    red(x, y) ? [190, 40, 50] : pale(x, y) ? [243, 240, 236] : [255, 255, 255],
  );
  const scene = sceneOf(picture);
  const decision = runToEnd(decisionSteps(scene, { ...NOTHING_TOLD, ...facts }))!;
  const cleared = Uint8Array.from(decision.goes, (goes, i) =>
    goes === 1 || alsoCleared(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0,
  );
  const found = disputed(decision, cleared, levelsBy(decision.carried, scene));
  return { found, at: (x: number, y: number) => found?.[y * WIDTH + x] ?? 0 };
}

describe('disputed', () => {
  it('finds nothing where both agree, and leaves fringes to the tolerance', () => {
    expect(judged(() => false).found).toBeNull();
    const fringe = judged((x, y) => Math.abs(Math.hypot(x - 90, y - 110) - 59.5) < 0.8);
    expect(fringe.found).toBeNull();
  });

  it('holds a pale body that a tolerance would clear, and only that', () => {
    const { at } = judged((x, y) => Math.hypot(x - 215, y - 110) < 45);
    expect([at(215, 110), at(190, 90), at(90, 110), at(10, 10)]).toEqual([1, 1, 0, 0]);
  });

  it('holds the place that was told, however small the difference', () => {
    const dot = (x: number, y: number) => Math.hypot(x - 90, y - 110) < 2;
    expect(judged(dot, { stays: [{ x: 90, y: 110 }] }).at(90, 110)).toBe(1);
  });
});
