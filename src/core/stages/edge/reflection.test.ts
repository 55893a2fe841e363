import { describe, expect, it } from 'vitest';
import { edgeInput } from '../../../../tests/make/edge-input';
import { paint, reflecting } from '../../../../tests/make/pictures';
import { createRaster, wholeOf, type Raster } from '../../raster/raster';
import { reflectionMargin, reflectionScale } from './reflection';
import { unmixInto } from './unmix';

const SIDE = 120;
const GREEN = [40, 180, 70] as const;
const RED = [200, 60, 50] as const;

type Shade = (inside: number, c: number) => number;

/** A disc of radius 40 before one color, its own color given by how far inside of its rim a pixel lies. */
function before(backdrop: readonly number[], shade: Shade): Raster {
  return paint(SIDE, SIDE, (x, y) => {
    const inside = insideAt(x, y);
    const alpha = Math.min(1, Math.max(0, inside + 0.5));
    const channel = (c: number) =>
      Math.round(shade(Math.max(0, inside), c) * alpha + backdrop[c]! * (1 - alpha));
    return [channel(0), channel(1), channel(2)];
  });
}

const insideAt = (x: number, y: number) => 40 - Math.hypot(x - 60, y - 60);

/** A rim that reflects up to `share` of the backdrop, less and less over `fades` pixels. */
const reflected =
  (backdrop: readonly number[], share: number, fades = 3.5): Shade =>
  (inside, c) =>
    RED[c]! + (backdrop[c]! - RED[c]!) * share * Math.exp(-inside / fades);

function cutOut(raster: Raster, backdrop: readonly number[], spill = 1, scale = 1): Raster {
  const out = createRaster(raster.width, raster.height);
  const color = { red: backdrop[0]!, green: backdrop[1]!, blue: backdrop[2]! };
  const cleared = (x: number, y: number) => insideAt(x, y) < -0.4;
  const input = edgeInput(raster, cleared, { color, spill, reflectionScale: scale });
  unmixInto(input, wholeOf(raster), out);
  return out;
}

/** How far colors are from RED where alpha is at least a quarter, on average. */
function offColor(out: Raster): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < SIDE * SIDE; i++) {
    if (out.data[i * 4 + 3]! < 64) continue;
    const inside = insideAt(i % SIDE, Math.floor(i / SIDE));
    if (inside > 8) continue;
    sum += Math.hypot(...RED.map((value, c) => out.data[i * 4 + c]! - value));
    count++;
  }
  return sum / count;
}

/** How far alpha is from the truth in the outer pixels of the disc, on average. */
function offAlpha(out: Raster): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < SIDE * SIDE; i++) {
    const inside = insideAt(i % SIDE, Math.floor(i / SIDE));
    if (inside < -1 || inside > 4) continue;
    sum += Math.abs(out.data[i * 4 + 3]! - 255 * Math.min(1, Math.max(0, inside + 0.5)));
    count++;
  }
  return sum / count;
}

describe('a rim that reflects its backdrop', () => {
  it.each([
    [GREEN, 0.4],
    [GREEN, 0.2],
    [[30, 60, 210] as const, 0.35],
  ])('before %j by up to %d gets most of its own color back and stays opaque', (backdrop, share) => {
    const picture = before(backdrop, reflected(backdrop, share));
    const kept = cutOut(picture, backdrop, 1, 0);
    const out = cutOut(picture, backdrop);
    expect(offColor(out)).toBeLessThan(0.3 * offColor(kept));
    expect(offAlpha(out)).toBeLessThan(0.3 * offAlpha(kept));
  });

  it('is told on a narrow part, too, which has no untinted color farther in', () => {
    const insideRing = (x: number, y: number) => 7 - Math.abs(Math.hypot(x - 60, y - 60) - 40);
    const shade = reflected(GREEN, 0.4);
    const picture = paint(SIDE, SIDE, (x, y) => {
      const inside = insideRing(x, y);
      const alpha = Math.min(1, Math.max(0, inside + 0.5));
      return [0, 1, 2].map((c) =>
        Math.round(shade(Math.max(0, inside), c) * alpha + GREEN[c]! * (1 - alpha)),
      ) as [number, number, number];
    });
    const color = { red: GREEN[0], green: GREEN[1], blue: GREEN[2] };
    const off = (reflectionScale: number) => {
      const out = createRaster(SIDE, SIDE);
      const isCleared = (x: number, y: number) => insideRing(x, y) < -0.4;
      unmixInto(edgeInput(picture, isCleared, { color, reflectionScale }), wholeOf(picture), out);
      let sum = 0;
      for (let i = 0; i < SIDE * SIDE; i++)
        if (insideRing(i % SIDE, Math.floor(i / SIDE)) > 0.5)
          sum += Math.hypot(...RED.map((value, c) => out.data[i * 4 + c]! - value));
      return sum;
    };
    expect(off(1)).toBeLessThan(0.5 * off(0));
  });

  it('is cleaned as far as the spill setting says; alpha does not depend on it', () => {
    const picture = before(GREEN, reflected(GREEN, 0.4));
    const [none, half, all] = [0, 0.5, 1].map((spill) => cutOut(picture, GREEN, spill)) as [
      Raster,
      Raster,
      Raster,
    ];
    for (let p = 0; p < none.data.length; p += 4) {
      expect(none.data[p + 3]).toBe(all.data[p + 3]);
      expect(half.data[p + 3]).toBe(all.data[p + 3]);
      if (none.data[p + 3] === 0) continue;
      for (let c = 0; c < 3; c++) {
        expect(none.data[p + c]).toBe(picture.data[p + c]);
        const middle = (none.data[p + c]! + all.data[p + c]!) / 2;
        expect(Math.abs(half.data[p + c]! - middle)).toBeLessThanOrEqual(1);
      }
    }
  });

  it('does not touch the colors farther in', () => {
    const picture = before(GREEN, reflected(GREEN, 0.4));
    const out = cutOut(picture, GREEN);
    for (let i = 0; i < SIDE * SIDE; i++) {
      if (insideAt(i % SIDE, Math.floor(i / SIDE)) < 15.5) continue;
      expect([...out.data.subarray(i * 4, i * 4 + 3)]).toEqual([...picture.data.subarray(i * 4, i * 4 + 3)]);
    }
  });

  it.each<[string, readonly number[], Shade]>([
    ['a rim darkened before black', [0, 0, 0], reflected([0, 0, 0], 0.4)],
    ['a rim lit before white', [255, 255, 255], reflected([255, 255, 255], 0.4)],
    ['shading that passes evenly toward the backdrop', GREEN, reflected(GREEN, 0.3, 40)],
    ['an outline of its own color', GREEN, (inside, c) => (inside < 4 ? [20, 120, 190][c]! : RED[c]!)],
    ['a plain subject', GREEN, (_inside, c) => RED[c]!],
  ])('is not seen in %s', (_name, backdrop, shade) => {
    const picture = before(backdrop, shade);
    const out = cutOut(picture, backdrop);
    const kept = cutOut(picture, backdrop, 1, 0);
    expect(Buffer.from(out.data).equals(Buffer.from(kept.data))).toBe(true);
  });

  it('is found at a larger scale in larger pictures, and gives the same bytes in parts', () => {
    expect(reflectionScale(480, 360, 0)).toBe(1);
    expect(reflectionScale(6000, 4000, 0)).toBe(3);
    expect(reflectionScale(6000, 4000, 2)).toBe(1);
    const raster = reflecting(320, 4, 7);
    const green = { red: 40, green: 180, blue: 70 };
    const isCleared = (x: number, y: number) => {
      const p = (y * 320 + x) * 4;
      return Math.hypot(...GREEN.map((value, c) => raster.data[p + c]! - value)) < 14;
    };
    const change = { color: green, reflectionScale: 2 };
    const whole = createRaster(320, 320);
    unmixInto(edgeInput(raster, isCleared, change), wholeOf(raster), whole);
    const rect = { x: 120, y: 130, width: 70, height: 40 };
    const margin = reflectionMargin(2);
    const left = Math.max(0, rect.x - margin);
    const top = Math.max(0, rect.y - margin);
    const around = {
      x: left,
      y: top,
      width: Math.min(320, rect.x + rect.width + margin) - left,
      height: Math.min(320, rect.y + rect.height + margin) - top,
    };
    const part = createRaster(rect.width, rect.height);
    unmixInto(edgeInput(raster, isCleared, { ...change, around }), rect, part);
    for (let y = 0; y < rect.height; y++) {
      const from = ((rect.y + y) * 320 + rect.x) * 4;
      const row = Buffer.from(part.data.subarray(y * rect.width * 4, (y + 1) * rect.width * 4));
      expect(row.equals(Buffer.from(whole.data.subarray(from, from + rect.width * 4))), `row ${y}`).toBe(
        true,
      );
    }
  });
});
