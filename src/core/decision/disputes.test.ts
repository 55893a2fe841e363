import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { seededRandom } from '../numeric/random';
import { runToEnd } from '../numeric/steps';
import { sceneOf } from '../scene/scene';
import { STEPS_PER_UNIT } from '../stages/clear/distance';
import { levelsBy } from './carry';
import { decisionSteps } from './decide';
import type { Facts } from './decision';
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

/** A disc of stripes on gray, with grain, and what differs between a tolerance and the decision. */
function striped(
  light: readonly [number, number, number],
  dark: readonly [number, number, number],
  clearsSlits = true,
) {
  const random = seededRandom(6);
  const inside = (x: number, y: number) => Math.hypot(x - 150, y - 110) < 90;
  const between = (x: number) => x % 12 < 2 || (x % 12 >= 6 && x % 12 < 8);
  const picture = paint(WIDTH, HEIGHT, (x, y) => {
    const color = !inside(x, y) || between(x) ? ([128, 128, 128] as const) : x % 12 < 6 ? light : dark;
    const grain = (random() + random() + random() - 1.5) * 3;
    return [color[0] + grain, color[1] + grain, color[2] + grain].map(Math.round) as [number, number, number];
  });
  const scene = sceneOf(picture);
  const decision = runToEnd(decisionSteps(scene, NOTHING_TOLD))!;
  const cleared = Uint8Array.from(decision.goes, (goes, i) => {
    const x = i % WIDTH;
    const y = Math.floor(i / WIDTH);
    return goes === 1 || (clearsSlits && inside(x, y) && between(x)) ? 1 : 0;
  });
  const found = disputed(decision, cleared, levelsBy(decision.carried, scene));
  let slits = 0;
  let held = 0;
  for (let y = 80; y < 140; y++)
    for (let x = 110; x < 190; x++) {
      if (!between(x)) continue;
      slits++;
      held += found?.[y * WIDTH + x] ?? 0;
    }
  return held / slits;
}

describe('what lies between colors of the subject', () => {
  it('is held where they lie to both sides of the background, as in fur', () => {
    expect(striped([200, 200, 196], [58, 56, 54])).toBeGreaterThan(0.9);
  });

  it('is held there too where the difference is too fine to be seen at the size of the decision', () => {
    expect(striped([200, 200, 196], [58, 56, 54], false)).toBeGreaterThan(0.9);
    expect(striped([62, 60, 58], [40, 36, 34], false)).toBe(0);
  });

  it('is left to the tolerance where they lie to one side, as slits between threads do', () => {
    expect(striped([62, 60, 58], [40, 36, 34])).toBeLessThan(0.1);
  });
});

describe('a bite', () => {
  it('out of the rim of a photo’s subject is held unless its color is surely the background’s', () => {
    const random = seededRandom(9);
    const notch = (x: number, y: number) => Math.abs(x - 150) < 7 && y < 70;
    const picture = paint(WIDTH, HEIGHT, (x, y) => {
      const clean = Math.hypot(x - 150, y - 110) > 90 ? 14 : notch(x, y) ? 26 : 42;
      const value = Math.round(Math.max(0, clean + (random() + random() + random() - 1.5) * 3));
      return [value, value, value];
    });
    const scene = sceneOf(picture);
    const decision = runToEnd(decisionSteps(scene, NOTHING_TOLD))!;
    const cleared = Uint8Array.from(decision.goes, (goes, i) =>
      goes === 1 || notch(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0,
    );
    const levels = levelsBy(decision.carried, scene);
    const level = levels[45 * WIDTH + 150]!;
    const withGrain = (share: number) => {
      const tolerance = level / STEPS_PER_UNIT / share;
      return disputed({ ...decision, carried: { ...decision.carried, tolerance } }, cleared, levels);
    };
    expect(decision.goes[45 * WIDTH + 150]).toBe(0);
    expect(withGrain(0.8)?.[45 * WIDTH + 150]).toBe(1);
    expect(withGrain(0.4)?.[45 * WIDTH + 150] ?? 0).toBe(0);
  });
});

describe('a shine', () => {
  /** A blue drawing on off-white with spots that a tolerance clears far inside. */
  const spotted = (spots: readonly (readonly [number, number])[]) => {
    const isSpot = (x: number, y: number) => spots.some(([u, v]) => Math.hypot((x - u) / 3, y - v) < 4);
    const picture = paint(WIDTH, HEIGHT, (x, y) => {
      if (Math.hypot(x - 150, y - 110) > 95) return [240, 238, 230];
      return isSpot(x, y) ? [233, 232, 230] : [40, 70, 160];
    });
    const scene = sceneOf(picture);
    const decision = runToEnd(decisionSteps(scene, NOTHING_TOLD))!;
    const cleared = Uint8Array.from(decision.goes, (goes, i) =>
      goes === 1 || isSpot(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0,
    );
    const levels = levelsBy(decision.carried, scene);
    const [u, v] = spots[0]!;
    const carried = { ...decision.carried, tolerance: levels[v * WIDTH + u]! / STEPS_PER_UNIT / 2 };
    expect(decision.goes[v * WIDTH + u]).toBe(0);
    return disputed({ ...decision, carried }, cleared, levels)?.[v * WIDTH + u] ?? 0;
  };

  it('far inside of a drawing is held', () => {
    expect(spotted([[150, 110]])).toBe(1);
  });
});

describe('shading of a drawing that passes through the color of its ground', () => {
  /** A dark outline and dark lines; the gray between them falls off and is the ground's in the middle. */
  const shaded = (ground: number) => {
    const bands = (x: number, y: number) => Math.hypot(x - 150, y - 110) < 90 && y % 8 > 2;
    const tone = (y: number) => Math.round(ground - 45 + 0.5 * (y - 20));
    const picture = paint(WIDTH, HEIGHT, (x, y) => {
      const value = Math.hypot(x - 150, y - 110) > 94 ? ground : bands(x, y) ? Math.min(255, tone(y)) : 30;
      return [value, value, value];
    });
    const scene = sceneOf(picture);
    const decision = runToEnd(decisionSteps(scene, NOTHING_TOLD))!;
    const goes = Uint8Array.from(decision.goes, (_, i) =>
      Math.hypot((i % WIDTH) - 150, Math.floor(i / WIDTH) - 110) > 94 ? 1 : 0,
    );
    const cleared = goes.map((one, i) => (one === 1 || bands(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0));
    const all = {
      ...decision,
      goes,
      firm: new Uint8Array(goes.length),
      doubtful: cleared.map((one, i) => one - goes[i]!),
    };
    return disputed(all, cleared, levelsBy(decision.carried, scene));
  };

  it('is held where it differs a little', () => {
    const found = shaded(200);
    // Four or five levels darker than the ground.
    expect([100, 101, 102].map((y) => found?.[y * WIDTH + 150])).toEqual([1, 1, 1]);
  });
});

describe('small bodies that would vanish together', () => {
  it('are held although nothing in them lies between their colors', () => {
    const random = seededRandom(2);
    const isBig = (x: number, y: number) => Math.hypot(x - 80, y - 110) < 60;
    const isSmall = (x: number, y: number) => x > 160 && Math.hypot((x % 24) - 12, (y % 24) - 12) < 4.5;
    const picture = paint(WIDTH, HEIGHT, (x, y) => {
      const level = isBig(x, y) ? 60 : isSmall(x, y) ? 222 : 230;
      const value = Math.round(level + (random() + random() + random() - 1.5) * 3);
      return [value, value, value];
    });
    const scene = sceneOf(picture);
    const seen = runToEnd(decisionSteps(scene, NOTHING_TOLD))!;
    const goes = Uint8Array.from(seen.goes, (_, i) => {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      return isBig(x, y) || isSmall(x, y) ? 0 : 1;
    });
    const cleared = goes.map((_, i) => (isBig(i % WIDTH, Math.floor(i / WIDTH)) ? 0 : 1));
    const found = disputed({ ...seen, goes }, cleared, levelsBy(seen.carried, scene));
    expect(seen.clean).toBe(false);
    expect(found?.[108 * WIDTH + 228]).toBe(1);
    expect(found?.[110 * WIDTH + 80]).toBe(0);
  });
});
