import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import { runToEnd } from '../numeric/steps';
import { createRaster, type Raster } from '../raster/raster';
import { sceneOf } from '../scene/scene';
import { decisionSteps } from './decide';

const WIDTH = 320;
const HEIGHT = 260;

type Shape = (x: number, y: number) => boolean;

const disc: Shape = (x, y) => (x - 140) ** 2 + (y - 110) ** 2 < 60 ** 2;
const cross: Shape = (x, y) =>
  (Math.abs(x - 140) < 22 && Math.abs(y - 110) < 70) || (Math.abs(y - 110) < 22 && Math.abs(x - 140) < 70);

interface Picture {
  readonly ground: readonly [number, number, number];
  readonly body: Shape;
  /** The share of the light that is left at a place. */
  readonly light: (x: number, y: number) => number;
  readonly paint?: (x: number, y: number) => readonly [number, number, number] | null;
}

/** A red body on a ground in some light, with a little noise. */
function painted({ ground, body, light, paint }: Picture): Raster {
  const raster = createRaster(WIDTH, HEIGHT);
  const random = seededRandom(4);
  for (let y = 0, p = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, p += 4) {
      const own = body(x, y) ? ([205, 40, 60] as const) : paint?.(x, y);
      for (let c = 0; c < 3; c++)
        raster.data[p + c] = Math.round((own ? own[c]! : ground[c]! * light(x, y)) + random() - 0.5);
      raster.data[p + 3] = 255;
    }
  return raster;
}

/** How many pixels of the body go, and of what lies around it stay. */
function wrongOf(raster: Raster, body: Shape): { lost: number; left: number } {
  const decision = runToEnd(decisionSteps(sceneOf(raster), { goes: [], stays: [], marks: [] }))!;
  let lost = 0;
  let left = 0;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i++) {
      if (body(x, y) && decision.goes[i] === 1) lost++;
      if (!body(x, y) && decision.goes[i] === 0) left++;
    }
  return { lost, left };
}

const shifted =
  (body: Shape, right: number, down: number): Shape =>
  (x, y) =>
    body(x - right, y - down);

/** A shadow on a floor, from the foot of the body. */
const leaning =
  (body: Shape, lean: number, height: number, foot: number): Shape =>
  (x, y) => {
    const up = (foot - y) / height;
    return up > 0 && body(x - lean * up, foot - up);
  };

describe('shadows with a sharp border', () => {
  const GROUNDS = [
    [205, 205, 205],
    [240, 238, 232],
    [120, 170, 215],
    [70, 80, 96],
  ] as const;

  it.each(GROUNDS)('go from a wall of %d, %d, %d', (...ground) => {
    for (const body of [disc, cross]) {
      const shadow = shifted(body, 24, 20);
      const { lost, left } = wrongOf(
        painted({ ground, body, light: (x, y) => (shadow(x, y) ? 0.66 : 1) }),
        body,
      );
      expect(lost).toBeLessThan(100);
      expect(left).toBeLessThan(200);
    }
  });

  it('go from a floor, where they lean and are foreshortened', () => {
    const shadow = leaning(cross, 0.7, 0.45, 180);
    const { lost, left } = wrongOf(
      painted({ ground: [205, 205, 205], body: cross, light: (x, y) => (shadow(x, y) ? 0.62 : 1) }),
      cross,
    );
    expect(lost).toBeLessThan(100);
    expect(left).toBeLessThan(300);
  });

  it('go where two lamps cast two of them', () => {
    const [one, other] = [shifted(cross, 26, 22), shifted(cross, -24, 18)];
    const light = (x: number, y: number) => (one(x, y) ? 0.7 : 1) * (other(x, y) ? 0.8 : 1);
    const { lost, left } = wrongOf(painted({ ground: [205, 205, 205], body: cross, light }), cross);
    expect(lost).toBeLessThan(100);
    expect(left).toBeLessThan(300);
  });
});

describe('gray paint that could be a shadow', () => {
  const ground = [240, 238, 232] as const;
  const light = () => 1;

  it('stays where it goes all around, as an outline does', () => {
    const outline: Shape = (x, y) => (x - 140) ** 2 + (y - 110) ** 2 < 74 ** 2;
    const whole: Shape = (x, y) => disc(x, y) || outline(x, y);
    const paint = (x: number, y: number) => (outline(x, y) ? ([168, 167, 163] as const) : null);
    expect(wrongOf(painted({ ground, body: disc, light, paint }), whole).lost).toBeLessThan(200);
  });

  it('stays where it has another shape than what is beside it', () => {
    const handle: Shape = (x, y) => x > 190 && x < 270 && Math.abs(y - 110) < 14;
    const whole: Shape = (x, y) => disc(x, y) || handle(x, y);
    const paint = (x: number, y: number) => (handle(x, y) ? ([150, 149, 145] as const) : null);
    expect(wrongOf(painted({ ground, body: disc, light, paint }), whole).lost).toBeLessThan(200);
  });

  it('stays where it is enclosed, whatever light a shadow beside it leaves', () => {
    const pane: Shape = (x, y) => Math.abs(x - 140) < 26 && Math.abs(y - 110) < 26;
    const frame: Shape = (x, y) => disc(x, y) && !pane(x, y);
    const shadow = shifted(disc, 24, 20);
    const paint = (x: number, y: number) => (pane(x, y) ? ([237, 235, 229] as const) : null);
    const inShadow = (x: number, y: number) => (shadow(x, y) ? 0.66 : 1);
    for (const own of [light, inShadow])
      expect(wrongOf(painted({ ground, body: frame, light: own, paint }), disc).lost).toBeLessThan(200);
  });

  it('stays where it is all there is', () => {
    const paint = (x: number, y: number) => (cross(x, y) ? ([150, 149, 145] as const) : null);
    const none: Shape = () => false;
    expect(wrongOf(painted({ ground, body: none, light, paint }), cross).lost).toBeLessThan(200);
  });
});
