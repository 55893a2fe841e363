import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../numeric/random';
import type { Rect } from '../../raster/raster';
import { areaFootprint, brushFootprint, type Footprint } from './footprint';
import { closedLine, pathOf, type Path } from './path';

const PART: Rect = { x: -7, y: 3, width: 90, height: 70 };

function covered(footprint: Footprint, part = PART): Float32Array {
  const out = new Float32Array(part.width * part.height);
  footprint.cover(part, out);
  return out;
}

/** How far a place is from a line, by looking at every segment. */
function farFrom({ xs, ys }: Path, x: number, y: number, closed = false): number {
  let least = Infinity;
  for (let k = closed ? 0 : Math.min(1, xs.length - 1); k < xs.length; k++) {
    const from = (k - 1 + xs.length) % xs.length;
    const [ax, ay] = xs.length === 1 ? [xs[0]!, ys[0]!] : [xs[from]!, ys[from]!];
    const [wx, wy] = [xs[k]! - ax, ys[k]! - ay];
    const length = wx * wx + wy * wy;
    const t = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * wx + (y - ay) * wy) / length)) : 0;
    least = Math.min(least, Math.hypot(x - ax - t * wx, y - ay - t * wy));
  }
  return least;
}

function mostOff(found: Float32Array, expected: (x: number, y: number) => number): number {
  let most = 0;
  found.forEach((value, i) => {
    const x = PART.x + (i % PART.width) + 0.5;
    const y = PART.y + Math.floor(i / PART.width) + 0.5;
    most = Math.max(most, Math.abs(value - expected(x, y)));
  });
  return most;
}

const random = seededRandom(11);
const wiggle = () =>
  Array.from({ length: 9 }, () => `${(random() * 110 - 20).toFixed(1)},${(random() * 90).toFixed(1)}`).join(
    ' ',
  );

describe('the footprint of a brush', () => {
  it('is one pixel of straight fading around its radius, where it is hard', () => {
    for (const text of [wiggle(), wiggle(), '30,30', '10,40 60,40', '20,10 20,60']) {
      const line = pathOf(text);
      const found = covered(brushFootprint({ line, radius: 6.3, softness: 0, pressure: 'none' }));
      expect(mostOff(found, (x, y) => Math.min(1, Math.max(0, 6.8 - farFrom(line, x, y))))).toBeLessThan(
        1e-6,
      );
    }
  });

  it('fades smoothly over its softness', () => {
    const line = pathOf(wiggle());
    const found = covered(brushFootprint({ line, radius: 12, softness: 0.5, pressure: 'none' }));
    const slow = (x: number, y: number) => {
      const t = Math.min(1, Math.max(0, (farFrom(line, x, y) - 6.5) / 6));
      return 1 - t * t * (3 - 2 * t);
    };
    expect(mostOff(found, slow)).toBeLessThan(1e-6);
  });

  it('is as large as a pen is pressed, or covers as much', () => {
    const line = pathOf('10,40,0.25 70,40,1');
    const sized = covered(brushFootprint({ line, radius: 12, softness: 0, pressure: 'size' }));
    const at = (plane: Float32Array, x: number, y: number) => plane[(y - PART.y) * PART.width + x - PART.x]!;
    expect(at(sized, 10, 44)).toBe(0);
    expect(at(sized, 70, 44)).toBe(1);
    const strong = covered(brushFootprint({ line, radius: 12, softness: 0, pressure: 'strength' }));
    expect(at(strong, 40, 40)).toBeCloseTo(0.63, 1);
    expect(at(strong, 72, 40)).toBe(1);
  });

  it('is the same in any part, to the bit', () => {
    const line = pathOf(wiggle());
    for (const pressure of ['none', 'size'] as const) {
      const brush = brushFootprint({
        line: { ...line, pressures: line.xs.map((_, k) => (k + 1) / line.xs.length) },
        radius: 9.7,
        softness: 0.3,
        pressure,
      });
      const whole = covered(brush);
      const part: Rect = { x: 13, y: 21, width: 31, height: 17 };
      const found = covered(brush, part);
      let different = 0;
      found.forEach((value, i) => {
        const x = part.x + (i % part.width) - PART.x;
        const y = part.y + Math.floor(i / part.width) - PART.y;
        if (value !== whole[y * PART.width + x]) different++;
      });
      expect(different).toBe(0);
    }
  });

  it('has a core that is its rim narrower, and its line at least', () => {
    const line = pathOf('20,30 60,45');
    const core = new Uint8Array(PART.width * PART.height);
    brushFootprint({ line, radius: 10, softness: 0, pressure: 'none' }).core(PART, 3, core);
    let wrong = 0;
    core.forEach((value, i) => {
      const far = farFrom(line, PART.x + (i % PART.width) + 0.5, PART.y + Math.floor(i / PART.width) + 0.5);
      if (Math.abs(far - 7) > 1e-9 && (value === 1) !== far < 7) wrong++;
    });
    expect(wrong).toBe(0);
    const thin = new Uint8Array(PART.width * PART.height);
    brushFootprint({ line, radius: 1, softness: 1, pressure: 'none' }).core(PART, 3, thin);
    expect(thin.includes(1)).toBe(true);
  });
});

describe('the footprint of an area', () => {
  const square = closedLine('outline', '10,20 60,20 60,60 10,60');

  it('is inside, with its border faded over one pixel', () => {
    const found = covered(areaFootprint({ line: square, offset: 0, softness: 0 }));
    const slow = (x: number, y: number) => {
      const inside = x > 10 && x < 60 && y > 20 && y < 60 ? 1 : -1;
      return Math.min(1, Math.max(0, 0.5 + inside * farFrom(square, x, y, true)));
    };
    expect(mostOff(found, slow)).toBeLessThan(1e-6);
  });

  it('moves by its offset and fades over its softness', () => {
    const found = covered(areaFootprint({ line: square, offset: 4, softness: 8 }));
    const slow = (x: number, y: number) => {
      const inside = x > 10 && x < 60 && y > 20 && y < 60 ? 1 : -1;
      const t = Math.min(1, Math.max(0, 0.5 - (inside * farFrom(square, x, y, true) + 4) / 8));
      return 1 - t * t * (3 - 2 * t);
    };
    expect(mostOff(found, slow)).toBeLessThan(1e-6);
  });

  it('has no hole where a hand crosses its own line', () => {
    const loop = closedLine('outline', '10,20 60,20 60,60 10,60 10,20 60,20 60,60 10,60');
    const found = covered(areaFootprint({ line: loop, offset: 0, softness: 0 }));
    expect(found).toEqual(covered(areaFootprint({ line: square, offset: 0, softness: 0 })));
  });

  it('is the same in any part, and holds a line far outside', () => {
    const line = closedLine('outline', `-900,-900 40,${1e6} 70,30,20,5 30.5,8`);
    const shape = areaFootprint({ line, offset: -2.5, softness: 6 });
    const whole = covered(shape);
    const part: Rect = { x: 13, y: 21, width: 31, height: 17 };
    let different = 0;
    covered(shape, part).forEach((value, i) => {
      const k =
        (part.y + Math.floor(i / part.width) - PART.y) * PART.width + part.x + (i % part.width) - PART.x;
      if (value !== whole[k]) different++;
    });
    expect(different).toBe(0);
  });
});
