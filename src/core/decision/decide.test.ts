import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { seededRandom } from '../numeric/random';
import { runToEnd } from '../numeric/steps';
import type { Raster } from '../raster/raster';
import { sceneOf } from '../scene/scene';
import { decisionSteps } from './decide';
import type { Decision, Facts } from './decision';

const NOTHING_TOLD: Facts = { goes: [], stays: [], marks: [] };
const decided = (picture: Raster, facts: Partial<Facts> = {}): Decision =>
  runToEnd(decisionSteps(sceneOf(picture), { ...NOTHING_TOLD, ...facts }))!;

type Color = readonly [number, number, number];
const gray = (level: number): Color => [level, level, level];

/** A picture with grain, of which `paintAt` gives the clean color. */
function photo(
  width: number,
  height: number,
  grain: number,
  paintAt: (x: number, y: number) => Color,
): Raster {
  const random = seededRandom(11);
  return paint(width, height, (x, y) => {
    const noise = (random() + random() + random() - 1.5) * grain;
    return paintAt(x, y).map((value) => Math.round(Math.min(255, Math.max(0, value + noise)))) as [
      number,
      number,
      number,
    ];
  });
}

/** Whether what is drawn around the middle goes, and the share of the picture that goes. */
const goesAt = ({ goes, width, reduction }: Decision, x: number, y: number) =>
  goes[(y >> reduction) * width + (x >> reduction)] === 1;
const far = (x: number, y: number) => Math.hypot(x - 200, y - 150);

describe('the decision', () => {
  it('keeps a white ball on white paper, whose light passes through the color of the paper', () => {
    const picture = photo(400, 300, 3, (x, y) => {
      if (far(x, y) > 90) return gray(240);
      const light = (x - 200) / 90 - (y - 150) / 120;
      return gray(228 + 14 * Math.max(-1, Math.min(1, light)) + (far(x, y) > 86 ? -8 : 0));
    });
    const decision = decided(picture);
    let lost = 0;
    let ball = 0;
    for (let y = 0; y < 300; y++)
      for (let x = 0; x < 400; x++)
        if (far(x, y) < 88) {
          ball++;
          if (goesAt(decision, x, y)) lost++;
        }
    expect(lost / ball).toBeLessThan(0.03);
    expect(goesAt(decision, 10, 10)).toBe(true);
  });

  it('takes a gray patch for a shadow where its rim is soft, and for a thing where it is sharp', () => {
    const patch = (rim: number) =>
      photo(400, 300, 3, (x, y) => {
        const inside = Math.min(1, Math.max(0, (70 - far(x, y)) / rim + 0.5));
        return gray(236 - 60 * inside);
      });
    expect(goesAt(decided(patch(60)), 200, 150)).toBe(true);
    expect(goesAt(decided(patch(1)), 200, 150)).toBe(false);
  });

  it('lets no shade leak into a thing through a gap in its outline', () => {
    const picture = photo(400, 300, 2, (x, y) => {
      const edge = Math.abs(far(x, y) - 90) < 2;
      const gap = Math.abs(y - 150) < 4 && x > 200;
      if (edge && !gap) return gray(120);
      return far(x, y) < 90 ? gray(205) : gray(240);
    });
    const decision = decided(picture);
    expect(goesAt(decision, 200, 150)).toBe(false);
    expect(goesAt(decision, 200, 20)).toBe(true);
  });

  it('clears a hole with the light of the backdrop, and keeps an enclosed area of another light', () => {
    const ring = (inside: number) =>
      photo(400, 300, 3, (x, y) => {
        const base = 190 + 0.1 * x;
        return far(x, y) < 40 ? gray(base + inside) : far(x, y) < 80 ? [60, 90, 140] : gray(base);
      });
    const hole = decided(ring(0));
    expect(goesAt(hole, 200, 150)).toBe(true);
    expect(hole.areas).toMatchObject([{ goes: true, why: 'same-light', sure: true }]);
    expect(goesAt(decided(ring(9)), 200, 150)).toBe(false);
  });

  it('obeys what it is told of an area, and changes nothing else', () => {
    const picture = photo(400, 300, 0, (x, y) =>
      far(x, y) < 80 && far(x, y) >= 30 ? [160, 40, 50] : gray(255),
    );
    const free = decided(picture);
    const at = { x: 200, y: 150 };
    for (const [facts, goes] of [
      [{ goes: [at] }, true],
      [{ stays: [at] }, false],
    ] as const) {
      const told = decided(picture, facts);
      expect(goesAt(told, 200, 150)).toBe(goes);
      expect(told.areas).toMatchObject([{ why: 'told', sure: true, goes }]);
      const elsewhere = told.goes.filter((one, i) => {
        const x = i % told.width;
        return (
          far(x << told.reduction, ((i - x) / told.width) << told.reduction) > 60 && one !== free.goes[i]
        );
      });
      expect(elsewhere.length).toBe(0);
    }
  });

  it('is not sure of white in a drawing on white, and says what it takes it for', () => {
    const drawn = (hole: number) =>
      photo(400, 300, 0, (x, y) => (far(x, y) < 110 && far(x, y) >= hole ? [30, 60, 150] : gray(255)));
    expect(decided(drawn(30)).areas).toMatchObject([{ goes: false, why: 'solid', sure: false }]);
    expect(decided(drawn(90)).areas).toMatchObject([{ goes: true, why: 'open-work', sure: false }]);
  });

  it('turns a listed shade as a whole, however large', () => {
    const picture = photo(400, 300, 3, (x, y) => {
      if (x > 20 && x < 70 && y > 20 && y < 70) return [170, 60, 40];
      return gray(236 - 60 * Math.min(1, Math.max(0, (85 - far(x, y)) / 60 + 0.5)));
    });
    const free = decided(picture);
    const shade = free.areas.find(({ why, goes }) => why === 'shade' && goes);
    expect(shade).toBeDefined();
    expect(shade!.pixels).toBeGreaterThan(0.1 * 400 * 300);
    const told = decided(picture, { stays: [{ x: shade!.x, y: shade!.y }] });
    const left = told.goes.reduce((sum, one, i) => sum + (free.goes[i] === 1 && one === 0 ? 1 : 0), 0);
    expect(left * 4 ** told.reduction).toBeGreaterThan(0.9 * shade!.pixels);
  });

  it('keeps white on which shade lies, within a line that has no gray', () => {
    const ball = (shade: boolean) =>
      photo(400, 300, 0, (x, y) => {
        if (far(x, y) > 100) return gray(255);
        if (far(x, y) > 92) return [20, 20, 20];
        return gray(shade && Math.hypot(x - 160, y - 120) > 92 ? 205 : 255);
      });
    const shaded = decided(ball(true));
    expect(goesAt(shaded, 170, 130)).toBe(false);
    expect(shaded.areas.find(({ why }) => why === 'shaded')).toMatchObject({ goes: false, sure: false });
    expect(goesAt(decided(ball(false)), 170, 130)).toBe(true);
    // Gray all around is no shade but the body itself.
    const grayRing = photo(400, 300, 0, (x, y) => gray(far(x, y) < 100 && far(x, y) >= 80 ? 205 : 255));
    expect(decided(grayRing).areas.map(({ why }) => why)).not.toContain('shaded');
  });

  it('keeps white that lies within white that stays', () => {
    const badge = photo(400, 300, 0, (x, y) => {
      const r = far(x, y);
      return r > 120 || r < 12 ? gray(255) : r > 60 ? [30, 60, 150] : r > 35 ? gray(255) : [190, 40, 50];
    });
    const decision = decided(badge);
    expect(decision.areas.map(({ why }) => why).sort()).toEqual(['holds-parts', 'within']);
    expect([goesAt(decision, 200, 150), goesAt(decision, 248, 150)]).toEqual([false, false]);
  });

  it('keeps white that has the size and place of white that stays, on the same body', () => {
    const badge = (hasParts: boolean) =>
      paint(400, 400, (x, y) => {
        const r = Math.hypot(x - 200, y - 200);
        if (r > 150 || r < 60) return gray(255);
        const isPanel = r > 90 && r < 130 && Math.min(Math.abs(x - 200), Math.abs(y - 200)) < 34;
        const isPart = Math.abs(x - 200) < 8 && Math.abs(Math.abs(y - 200) - 110) < 9;
        return isPanel && !(hasParts && isPart) ? gray(255) : [20, 40, 90];
      });
    const decision = decided(badge(true));
    const panels = decision.areas.filter(({ why }) => why === 'twin' || why === 'holds-parts');
    expect(panels.map(({ why }) => why).sort()).toEqual(['holds-parts', 'holds-parts', 'twin', 'twin']);
    expect([goesAt(decision, 90, 200), goesAt(decision, 310, 200), goesAt(decision, 200, 85)]).toEqual([
      false,
      false,
      false,
    ]);
    expect(goesAt(decision, 200, 200)).toBe(true);
    expect(decided(badge(false)).areas.some(({ why }) => why === 'twin')).toBe(false);
  });

  it('asks about a large part of a photo that looks like the backdrop, until it is told', () => {
    const random = seededRandom(4);
    const picture = photo(400, 300, 3, (x, y) => {
      if (far(x, y) > 100) return gray(150);
      return x < 190 ? [170, 60, 40] : gray(150 + (random() < 0.4 ? 60 : 0) * (random() < 0.5 ? 1 : -1));
    });
    const { areas } = decided(picture);
    const alike = areas.find(({ why }) => why === 'alike')!;
    expect(alike).toMatchObject({ goes: false, sure: false });
    expect(far(alike.x, alike.y)).toBeLessThan(100);
    expect(alike.x).toBeGreaterThan(190);
    const told = decided(picture, { stays: [{ x: alike.x, y: alike.y }] });
    expect(told.areas.filter(({ why, sure }) => why === 'alike' && !sure)).toEqual([]);
  });

  it('finds the backdrop although the subject covers three sides of the frame in part', () => {
    const picture = photo(400, 300, 2, (x, y) =>
      x > 120 && x < 320 && y > 60 ? [170, 60, 40] : y > 200 && x > 300 ? [40, 60, 40] : gray(225 + 0.05 * x),
    );
    const decision = decided(picture);
    expect(goesAt(decision, 20, 150)).toBe(true);
    expect(goesAt(decision, 200, 20)).toBe(true);
    expect(goesAt(decision, 220, 295)).toBe(false);
  });

  it('clears a shadow that lies on a painted-in checkerboard', () => {
    const picture = photo(480, 360, 0, (x, y) => {
      const tone = (Math.floor(x / 12) + Math.floor(y / 12)) % 2 === 0 ? 255 : 204;
      const shade = 1 - 0.4 * Math.exp(-(((x - 240) / 90) ** 2) - ((y - 290) / 26) ** 2);
      return Math.hypot(x - 240, y - 150) < 90 ? [200, 60, 60] : gray(tone * shade);
    });
    const decision = decided(picture);
    for (const [x, y] of [
      [240, 300],
      [228, 300],
      [330, 290],
    ] as const)
      expect(goesAt(decision, x, y)).toBe(true);
    expect(goesAt(decision, 240, 150)).toBe(false);
  });

  it('takes what is transparent for background, and no border for one that it makes', () => {
    const picture = photo(400, 300, 2, (x, y) => (far(x, y) < 60 ? [60, 90, 160] : gray(230)));
    for (let i = 0; i < 400 * 300; i++)
      if ((i % 400) + Math.floor(i / 400) < 120) picture.data[i * 4 + 3] = 0;
    const decision = decided(picture);
    expect(goesAt(decision, 10, 10)).toBe(true);
    expect(goesAt(decision, 100, 60)).toBe(true);
    expect(goesAt(decision, 200, 150)).toBe(false);
  });

  it('is the same every time, and is taken once for the same facts', () => {
    const picture = photo(400, 300, 3, (x, y) => (far(x, y) < 60 ? [60, 90, 160] : gray(230)));
    expect(decided(picture).goes).toEqual(decided(picture).goes);
    const scene = sceneOf(picture);
    const take = () => runToEnd(decisionSteps(scene, NOTHING_TOLD));
    expect(take()).toBe(take());
  });
});
