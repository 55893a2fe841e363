import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { untouchedCut } from '../../cut/parse';
import type { Edge } from './settings';
import { clipRect, createRaster, growRect, wholeOf, type Raster, type Rect } from '../../raster/raster';
import { seededRandom } from '../../numeric/random';
import { shapeInto, shapeMargin, shapingOf, type Shaping } from './shape';

const SIDE = 64;
const FINE = 16;

/** A cutout whose alpha is the exact share of each pixel that lies inside. */
function drawn(inside: (x: number, y: number) => boolean, fine = FINE): Raster {
  return paint(SIDE, SIDE, (x, y) => {
    let count = 0;
    for (let k = 0; k < fine * fine; k++)
      if (inside(x + ((k % fine) + 0.5) / fine, y + (Math.floor(k / fine) + 0.5) / fine)) count++;
    return [200, 40, 30, Math.round((255 * count) / fine ** 2)];
  });
}

const disc = (radius: number) => drawn((x, y) => Math.hypot(x - 32.3, y - 31.8) < radius);
const halfPlane = (degrees: number, offset: number) => (x: number, y: number) => {
  const turn = (degrees * Math.PI) / 180;
  return (x - 32) * Math.cos(turn) + (y - 32) * Math.sin(turn) < offset;
};

function shaped(raster: Raster, change: Partial<Edge>): Raster {
  const shaping = shapingOf({ ...untouchedCut(), edge: { ...untouchedCut().edge, ...change } }, 0)!;
  const whole = wholeOf(raster);
  const out = createRaster(raster.width, raster.height);
  shapeInto(raster, whole, whole, out, shaping);
  return out;
}

const alphaAt = ({ data, width }: Raster, x: number, y: number) => data[(y * width + x) * 4 + 3]!;

/** Differences of alpha within the middle of the picture, away from where an edge leaves the picture. */
function apart(one: Raster, other: Raster): { mean: number; most: number; bias: number } {
  let sum = 0;
  let most = 0;
  let signed = 0;
  let edges = 0;
  for (let y = 12; y < SIDE - 12; y++) {
    for (let x = 12; x < SIDE - 12; x++) {
      const difference = alphaAt(one, x, y) - alphaAt(other, x, y);
      most = Math.max(most, Math.abs(difference));
      sum += Math.abs(difference);
      signed += difference;
      if (alphaAt(other, x, y) % 255 !== 0) edges++;
    }
  }
  return { mean: sum / edges, most, bias: signed / edges };
}

describe('shapingOf', () => {
  it('is nothing while every setting is 0, and follows the size of the picture', () => {
    expect(shapingOf(untouchedCut(), 0)).toBeNull();
    const edge = { ...untouchedCut().edge, offsetPx: -2, softnessPx: 4, firmness: 50 };
    expect(shapingOf({ ...untouchedCut(), edge }, 1)).toEqual({
      offsetPx: -1,
      softnessPx: 2,
      evenness: 0,
      firmness: 0.5,
      evenPx: 0,
    } satisfies Shaping);
  });
});

describe('offset', () => {
  it.each([-3.4, -1, -0.3, -0.1, 0.1, 0.7, 2.5])(
    'of %f px moves the edge of a disc by just that',
    (offsetPx) => {
      const { mean, bias } = apart(shaped(disc(14), { offsetPx }), disc(14 + offsetPx));
      expect(Math.abs(bias)).toBeLessThan(3);
      expect(mean).toBeLessThan(6);
    },
  );

  it.each([0, 17, 45, 71, 90])('moves a straight edge at %d degrees by just that', (degrees) => {
    const before = drawn(halfPlane(degrees, 0.25));
    for (const offsetPx of [-1.25, -0.375, 0.5, 2]) {
      const { most } = apart(shaped(before, { offsetPx }), drawn(halfPlane(degrees, 0.25 + offsetPx)));
      expect(most, `${offsetPx} px`).toBeLessThan(20);
    }
  });

  it('keeps a soft transition as soft as it was', () => {
    const ramp = (shift: number) =>
      paint(SIDE, SIDE, (x) => [9, 9, 9, Math.round(255 * Math.min(1, Math.max(0, (x - 28 + shift) / 6)))]);
    for (const offsetPx of [-1.5, -0.4, 0.8]) {
      expect(apart(shaped(ramp(0), { offsetPx }), ramp(offsetPx)).most).toBeLessThan(20);
    }
  });

  it('gives the pixels that appear the color of the edge', () => {
    const out = shaped(disc(14), { offsetPx: 3 });
    for (let i = 0; i < SIDE * SIDE; i++) {
      if (out.data[i * 4 + 3]! > 0) expect([...out.data.subarray(i * 4, i * 4 + 3)]).toEqual([200, 40, 30]);
    }
  });
});

describe('softness', () => {
  it('lets a sharp edge pass over its width, around the same place', () => {
    const edge = drawn(halfPlane(0, 0));
    const out = shaped(edge, { softnessPx: 8 });
    expect(alphaAt(out, 32 - 6, 32)).toBe(255);
    expect(alphaAt(out, 32 + 5, 32)).toBe(0);
    for (let x = 27; x < 37; x++) expect(alphaAt(out, x, 32)).toBeGreaterThanOrEqual(alphaAt(out, x + 1, 32));
    expect(alphaAt(out, 31, 32) + alphaAt(out, 32, 32)).toBe(255);
    expect(alphaAt(shaped(edge, { softnessPx: 0.5 }), 32, 32)).toBeGreaterThan(0);
  });
});

describe('firmness', () => {
  it('makes a transition steeper around a half, at 100 without any partly transparent pixel', () => {
    const soft = shaped(drawn(halfPlane(0, 0)), { softnessPx: 8 });
    const firm = shaped(soft, { firmness: 50 });
    for (let x = 0; x < SIDE; x++) {
      const expected = Math.min(255, Math.max(0, 127.5 + (alphaAt(soft, x, 32) - 127.5) * 2));
      expect(Math.abs(alphaAt(firm, x, 32) - expected)).toBeLessThanOrEqual(1);
    }
    const hard = shaped(disc(14), { firmness: 100 });
    for (let i = 0; i < SIDE * SIDE; i++) expect(hard.data[i * 4 + 3]! % 255).toBe(0);
  });
});

describe('evenness', () => {
  it.each([8, 23, 40])('irons out the stair-steps of an edge at %d degrees', (degrees) => {
    const stairs = drawn(halfPlane(degrees, 0), 1);
    const smooth = drawn(halfPlane(degrees, 0));
    expect(apart(shaped(stairs, { evenness: 100 }), smooth).mean).toBeLessThan(
      0.5 * apart(stairs, smooth).mean,
    );
  });

  it('leaves a corner where it is', () => {
    const square = drawn((x, y) => x > 20 && y > 20 && x < 45 && y < 45);
    const out = shaped(square, { evenness: 100 });
    for (const [x, y] of [
      [20, 20],
      [44, 20],
      [20, 44],
      [44, 44],
    ] as const)
      expect(alphaAt(out, x, y)).toBeGreaterThan(215);
  });

  it('does not thin a hairline', () => {
    const line = drawn((x, y) => Math.abs((x - 32) * 0.3 + (y - 32)) < 0.8);
    const sum = ({ data }: Raster) => data.reduce((total, value, p) => total + (p % 4 === 3 ? value : 0), 0);
    expect(sum(shaped(line, { evenness: 100 })) / sum(line)).toBeGreaterThan(0.93);
  });
});

function partOf(raster: Raster, { x, y, width, height }: Rect): Raster {
  const out = createRaster(width, height);
  for (let row = 0; row < height; row++) {
    const from = ((y + row) * raster.width + x) * 4;
    out.data.set(raster.data.subarray(from, from + width * 4), row * width * 4);
  }
  return out;
}

/** What is seen of a cutout: its bytes with nothing under alpha 0. */
function seen(raster: Raster): Uint8Array {
  const data = raster.data.slice();
  for (let p = 0; p < data.length; p += 4) if (data[p + 3] === 0) data.fill(0, p, p + 4);
  return data;
}

describe('shapeInto', () => {
  it.each([
    { offsetPx: -0.6 },
    { offsetPx: 3.3 },
    { softnessPx: 18 },
    { evenness: 80, softnessPx: 9 },
    { offsetPx: 2, softnessPx: 30, firmness: 30 },
  ])('shows nothing of what stands under alpha 0: %j', (change) => {
    const random = seededRandom(3);
    // A disc, and faint stray pixels like ends of threads, some of them against its edge.
    const raster = disc(14);
    for (let i = 0; i < SIDE * SIDE; i++)
      if (raster.data[4 * i + 3] === 0 && random() < 0.08)
        raster.data[4 * i + 3] = 1 + Math.floor(180 * random());
    const other = { ...raster, data: raster.data.slice() };
    for (let p = 0; p < other.data.length; p += 4)
      if (other.data[p + 3] === 0) for (let c = 0; c < 3; c++) other.data[p + c] = Math.floor(256 * random());
    const one = seen(shaped(raster, change));
    expect(Buffer.from(seen(shaped(other, change))).equals(Buffer.from(one))).toBe(true);
    let strange = 0;
    for (let p = 0; p < one.length; p += 4) if (one[p + 3]! > 0 && one[p] !== 200) strange++;
    expect(strange).toBe(0);
  });

  it('makes the same of a part with its surroundings as of the whole', () => {
    const random = seededRandom(12);
    const spots = Array.from(
      { length: 9 },
      () => [random() * SIDE, random() * SIDE, 2 + random() * 9] as const,
    );
    const raster = drawn((x, y) => spots.some(([cx, cy, r]) => Math.hypot(x - cx, y - cy) < r));
    for (const change of [
      { offsetPx: 1.7 },
      { offsetPx: -4.2 },
      { softnessPx: 5 },
      { evenness: 100 },
      { evenness: 70, offsetPx: -0.4, firmness: 20 },
    ]) {
      const whole = shaped(raster, change);
      const shaping = shapingOf({ ...untouchedCut(), edge: { ...untouchedCut().edge, ...change } }, 0)!;
      for (let n = 0; n < 6; n++) {
        const rect = {
          x: Math.floor(random() * (SIDE - 7)),
          y: Math.floor(random() * (SIDE - 5)),
          width: 7,
          height: 5,
        };
        const around = clipRect(growRect(rect, shapeMargin(shaping)), SIDE, SIDE);
        const part = createRaster(7, 5);
        shapeInto(partOf(raster, around), around, rect, part, shaping);
        const same = Buffer.from(part.data).equals(Buffer.from(partOf(whole, rect).data));
        expect(same, `${JSON.stringify(change)} at ${rect.x},${rect.y}`).toBe(true);
      }
    }
  });
});
