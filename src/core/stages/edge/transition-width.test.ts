import { describe, expect, it } from 'vitest';
import { edgeInput } from '../../../../tests/make/edge-input';
import { paint } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { Scratch } from '../../numeric/scratch';
import type { Raster, Rect } from '../../raster/raster';
import { bandOf } from './band';
import { Spread } from './spread';
import { acrossAt, isWide, transitionsOf, type Transitions } from './transition';
import { TransitionWidths } from './transition-width';

const SIDE = 160;
const PAPER = [236, 232, 226] as const;
const INK = [40, 70, 130] as const;

type Rgb = [number, number, number];

/** The share of a disc of radius 50 at a distance from its rim, blurred by a Gaussian (Abramowitz and Stegun, 7.1.26). */
function coverage(inside: number, deviation: number): number {
  const z = Math.abs(inside) / (deviation * Math.SQRT2);
  const t = 1 / (1 + 0.3275911 * z);
  const poly =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const erf = 1 - poly * Math.exp(-z * z);
  return 0.5 + (Math.sign(inside) * erf) / 2;
}

const insideAt = (x: number, y: number) => 50 - Math.hypot(x - 80.3, y - 79.6);

/** A disc whose own color depends on how far inside of its rim a pixel lies. */
function disc(
  deviation: number,
  grain: number,
  own: (inside: number) => readonly number[] = () => INK,
): Raster {
  const random = seededRandom(3);
  return paint(SIDE, SIDE, (x, y) => {
    const inside = insideAt(x, y);
    const share = coverage(inside, deviation);
    const noise = (random() - 0.5) * grain;
    return PAPER.map((b, c) => Math.round(b + (own(Math.max(0, inside))[c]! - b) * share + noise)) as Rgb;
  });
}

function measured(raster: Raster, clearedUpTo = 0.15, evenBackdrop = true): Transitions {
  const isCleared = (x: number, y: number) => {
    const p = (y * SIDE + x) * 4;
    const span = Math.hypot(...PAPER.map((b, c) => INK[c]! - b));
    return Math.hypot(...PAPER.map((b, c) => raster.data[p + c]! - b)) < clearedUpTo * span;
  };
  const input = edgeInput(raster, isCleared, { evenBackdrop });
  const narrow = bandOf({ data: input.cleared, width: SIDE, height: SIDE }, new Scratch());
  return transitionsOf(input, narrow, new Uint8Array(SIDE * SIDE), new Spread(input, narrow));
}

/** Mean half width found in the band, in pixels. */
function meanHalf(transitions: Transitions): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < SIDE * SIDE; i++) {
    if (transitions.band[i] === 0) continue;
    sum += acrossAt(transitions, i) / (2 * 1.64);
    count++;
  }
  return sum / count;
}

/** The share of pixels that are in the band and wide. */
function wideShare(transitions: Transitions): number {
  const inBand = [...transitions.band.keys()].filter((i) => transitions.band[i] !== 0);
  return inBand.filter((i) => isWide(transitions, i)).length / inBand.length;
}

describe('the width of transitions', () => {
  // The outer half of a Gaussian edge is 0.5 high, its slope 1 / (deviation sqrt(2 pi)).
  it.each([
    [1, 0],
    [1.5, 0],
    [2.4, 0],
    [1.5, 6],
  ])('of a blur of deviation %d, grain %d, is half the root of 2 pi times it', (deviation, grain) => {
    const transitions = measured(disc(deviation, grain));
    const truth = deviation * Math.sqrt(2 * Math.PI) * 0.5;
    expect(Math.abs(meanHalf(transitions) - truth)).toBeLessThan(0.12 * truth);
    expect(wideShare(transitions)).toBe(1);
  });

  it('does not depend on how much was cleared', () => {
    const picture = disc(1.8, 0);
    const halves = [0.06, 0.2, 0.5].map((share) => meanHalf(measured(picture, share)));
    for (const half of halves) expect(Math.abs(half - halves[0]!)).toBeLessThan(0.15);
  });

  it.each<[string, (inside: number) => readonly number[]]>([
    ['plain', () => INK],
    [
      'a rim that takes on the backdrop',
      (inside) => INK.map((f, c) => f + (PAPER[c]! - f) * 0.45 * Math.exp(-inside / 3.5)),
    ],
    ['an outline', (inside) => (inside < 4 ? [120, 30, 40] : INK)],
  ])('is that of the outer half alone behind a sharp edge: %s', (_name, own) => {
    const transitions = measured(disc(0.3, 0, own));
    expect(meanHalf(transitions)).toBeLessThan(0.9);
    expect(wideShare(transitions)).toBe(0);
    // Certain again two and a half pixels inside.
    for (let i = 0; i < SIDE * SIDE; i++) {
      const inside = insideAt(i % SIDE, Math.floor(i / SIDE));
      if (inside > 2.5 || inside < -2.5) expect(transitions.band[i]).toBe(0);
    }
  });

  it('is not measured before a pattern, where the band stays the ordinary one', () => {
    const transitions = measured(disc(2, 0), 0.15, false);
    expect(wideShare(transitions)).toBe(0);
    expect(transitions.band).not.toEqual(measured(disc(2, 0)).band);
  });

  it('takes in what is more background than subject, however deep it lies in an acute corner', () => {
    const picture = disc(0.3, 0);
    // A dent that Clear did not reach into: nearly the background's color, three pixels inside of the rim.
    const dent = (x: number, y: number) => Math.abs(x - 80) < 1.5 && insideAt(x, y) > 0 && insideAt(x, y) < 3;
    const dented = paint(SIDE, SIDE, (x, y) => {
      const p = (y * SIDE + x) * 4;
      return dent(x, y) ? [206, 206, 212] : ([...picture.data.subarray(p, p + 3)] as Rgb);
    });
    const { band } = measured(dented, 0.08);
    let count = 0;
    for (let i = 0; i < SIDE * SIDE; i++) {
      if (!dent(i % SIDE, Math.floor(i / SIDE))) continue;
      expect(band[i]).toBe(1);
      count++;
    }
    expect(count).toBeGreaterThan(8);
  });
});

describe('the width around a place', () => {
  it('is the same to the last bit, however the picture is parted', () => {
    const raster = disc(1.4, 6);
    const isCleared = (x: number, y: number) => insideAt(x, y) < -1.5;
    const widthsOn = (around: Rect) => {
      const input = edgeInput(raster, isCleared, { around });
      const { width, height } = around;
      const narrow = bandOf({ data: input.cleared, width, height }, new Scratch());
      const border = [...input.cleared.keys()].filter(
        (i) => input.cleared[i] === 0 && (input.cleared[i - 1] === 1 || input.cleared[i + 1] === 1),
      );
      const widths = new TransitionWidths(input, border, new Spread(input, narrow));
      return (x: number, y: number) => widths.at((y - around.y) * width + x - around.x);
    };
    const whole = widthsOn({ x: 0, y: 0, width: SIDE, height: SIDE });
    let told = 0;
    for (const [x, y] of [
      [7, 13],
      [1, 3],
      [23, 29],
    ] as const) {
      const part = widthsOn({ x, y, width: SIDE - x, height: SIDE - y });
      // Far enough from where the part ends, along the right side of the disc.
      for (let v = 85; v < 120; v++) {
        const here = whole(125, v);
        if (here) told++;
        expect(part(125, v)).toEqual(here);
      }
    }
    expect(told).toBeGreaterThan(30);
  });
});
