import { describe, expect, it } from 'vitest';
import { createRaster, type Raster } from '../raster/raster';
import { findChecker } from '../stages/clear/checker';
import { withoutPattern } from './pattern';
import { planesOf } from './planes';

type Rgb = readonly [number, number, number];

const SIDE = 240;
const CELL = 16;

/** A checkerboard, turned by a tangent, under a light, with something on it where `on` gives a color. */
function painted(
  tones: readonly [Rgb, Rgb],
  {
    tilt = 0,
    light = () => 1,
    on = () => null,
  }: {
    readonly tilt?: number;
    readonly light?: (x: number, y: number) => number;
    readonly on?: (x: number, y: number) => Rgb | null;
  } = {},
): Raster {
  const raster = createRaster(SIDE, SIDE);
  for (let y = 0, p = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++, p += 4) {
      const across = Math.floor((x + 0.5 + tilt * (y + 0.5)) / CELL);
      const down = Math.floor((y + 0.5 - tilt * (x + 0.5)) / CELL);
      const tone = tones[(((across + down) % 2) + 2) % 2]!;
      const own = on(x, y);
      for (let c = 0; c < 3; c++) raster.data[p + c] = Math.round(own ? own[c]! : tone[c]! * light(x, y));
      raster.data[p + 3] = 255;
    }
  return raster;
}

const GRAYS: readonly [Rgb, Rgb] = [
  [255, 255, 255],
  [204, 204, 204],
];
const GREENS: readonly [Rgb, Rgb] = [
  [190, 225, 195],
  [150, 180, 155],
];

const seen = (picture: Raster) => withoutPattern(planesOf(picture), findChecker(picture)!, 1).pattern!;
const inBox = (left: number, top: number, right: number, bottom: number) => (x: number, y: number) =>
  x >= left && x < right && y >= top && y < bottom;

/** The share of 1 in a part of a mask. */
function share(mask: Uint8Array, isIn: (x: number, y: number) => boolean): number {
  let [count, ones] = [0, 0];
  for (let i = 0; i < mask.length; i++) {
    if (!isIn(i % SIDE, Math.floor(i / SIDE))) continue;
    count++;
    ones += mask[i]!;
  }
  return ones / count;
}

describe('a painted-in checkerboard', () => {
  it('is found in any two tones, turned by a few degrees, and with light falling across it', () => {
    expect(findChecker(painted(GREENS))!.cellPx).toBeCloseTo(CELL, 1);
    for (const tilt of [-0.06, -0.02, 0.03, 0.07]) {
      const found = findChecker(painted(GRAYS, { tilt }))!;
      // Lines that are off by less than a pixel at the far end.
      expect(Math.abs(found.tilt - tilt) * SIDE).toBeLessThan(1);
      // Along the pattern's own axis a cell is longer than it is across by what it is turned.
      expect(found.cellPx).toBeCloseTo(CELL, 0);
      expect(found.share).toBeGreaterThan(0.9);
    }
    const falling = painted(GRAYS, { light: (x) => 1 - (0.22 * x) / SIDE });
    expect(findChecker(falling)!.cellPx).toBeCloseTo(CELL, 0);
  });

  it('is not found where a frame has two tones without a grid', () => {
    const halves = painted(GRAYS, { on: (x) => (x < SIDE / 2 ? [255, 255, 255] : [204, 204, 204]) });
    expect(findChecker(halves)).toBeNull();
    const dots = painted(GRAYS, {
      on: (x, y) => (Math.imul(x * 7919 + y * 104_729, 0x9e3779b1) & 256 ? [255, 255, 255] : [204, 204, 204]),
    });
    expect(findChecker(dots)).toBeNull();
  });

  it('goes on wherever both tones alternate in phase, in a hard shadow too, and nowhere else', () => {
    const body = inBox(70, 70, 150, 150);
    const shadow = inBox(100, 100, 180, 180);
    const picture = painted(GRAYS, {
      on: (x, y) => (body(x, y) ? [200, 60, 40] : null),
      light: (x, y) => (shadow(x, y) ? 0.65 : 1),
    });
    const { shown, plain } = seen(picture);
    expect(share(shown, (x, y) => !inBox(64, 64, 186, 186)(x, y))).toBeGreaterThan(0.995);
    expect(share(shown, inBox(156, 120, 176, 176))).toBe(1);
    expect(share(shown, inBox(74, 74, 146, 146))).toBe(0);
    expect(share(plain, inBox(74, 74, 146, 146))).toBe(1);
    expect(share(plain, (x, y) => !inBox(64, 64, 186, 186)(x, y))).toBe(0);
  });

  it.each([
    ['the light tone', [255, 255, 255]],
    ['the dark tone', [204, 204, 204]],
    ['one between them', [230, 230, 230]],
    ['a darker gray, as of a shade', [150, 150, 150]],
  ] as const)(
    'does not go on in a body of %s, which is lighter than it everywhere when it is freed',
    (_what, color) => {
      const body = inBox(70, 70, 150, 150);
      const picture = painted(GRAYS, { on: (x, y) => (body(x, y) ? color : null) });
      const planes = withoutPattern(planesOf(picture), findChecker(picture)!, 1);
      expect(share(planes.pattern!.plain, inBox(74, 74, 146, 146))).toBe(1);
      // A narrow window along the rim may take a tone for the pattern's.
      expect(share(planes.pattern!.shown, inBox(74, 74, 146, 146))).toBeLessThan(0.15);
      expect(share(planes.pattern!.shown, inBox(90, 90, 130, 130))).toBe(0);
      const middle = planes.channels[0][10 * SIDE + 10]!;
      const inside = planes.channels[0].filter((_, i) =>
        inBox(74, 74, 146, 146)(i % SIDE, Math.floor(i / SIDE)),
      );
      expect(Math.min(...inside)).toBeGreaterThan(middle + 20);
    },
  );
});
