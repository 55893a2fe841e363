import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import { addPath, coverageOf, newAccumulator, type Affine } from './fill-path';
import { PATH } from './shaped';

const AS_IT_IS: Affine = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

function drawn(path: readonly number[], width: number, height: number, at = AS_IT_IS): Uint8Array {
  const to = newAccumulator(width, height);
  addPath(to, path, at);
  return coverageOf(to);
}

const polygon = (points: readonly (readonly [number, number])[]): number[] => [
  ...points.flatMap(([x, y], k) => [k === 0 ? PATH.move : PATH.line, x, y]),
  PATH.close,
];

/** The share of each pixel within a convex polygon, by many samples. */
function sampled(
  points: readonly (readonly [number, number])[],
  width: number,
  height: number,
): Float64Array {
  const side = 24;
  const out = new Float64Array(width * height);
  for (let y = 0; y < height * side; y++)
    for (let x = 0; x < width * side; x++) {
      const [u, v] = [(x + 0.5) / side, (y + 0.5) / side];
      let winding = 0;
      for (const [k, [ax, ay]] of points.entries()) {
        const [bx, by] = points[(k + 1) % points.length]!;
        if (ay <= v !== by <= v && u < ax + ((v - ay) / (by - ay)) * (bx - ax)) winding += ay < by ? 1 : -1;
      }
      if (winding !== 0) out[Math.floor(y / side) * width + Math.floor(x / side)]! += 1 / (side * side);
    }
  return out;
}

describe('filling paths', () => {
  it('covers a square by exact shares of pixels', () => {
    const path = polygon([
      [1.25, 1],
      [3.5, 1],
      [3.5, 2.5],
      [1.25, 2.5],
    ]);
    const row = (y: number) => [...drawn(path, 5, 4).subarray(5 * y, 5 * y + 5)];
    expect(row(0)).toEqual([0, 0, 0, 0, 0]);
    expect(row(1)).toEqual([0, 191, 255, 128, 0]);
    expect(row(2)).toEqual([0, 96, 128, 64, 0]);
  });

  it.each([1, 2, 3, 4, 5, 6, 7, 8])('covers triangles as samples do (seed %i)', (seed) => {
    const random = seededRandom(seed);
    const points = Array.from({ length: 3 }, () => [1 + 14 * random(), 1 + 14 * random()] as const);
    const own = drawn(polygon(points), 16, 16);
    const expected = sampled(points, 16, 16);
    for (let i = 0; i < own.length; i++)
      expect(Math.abs(own[i]! / 255 - expected[i]!), `pixel ${i}`).toBeLessThan(0.04);
  });

  it('gives the same coverage where a path lies whole pixels farther', () => {
    const path = polygon([
      [1.2, 1.7],
      [6.9, 2.3],
      [3.1, 7.4],
    ]);
    const here = drawn(path, 12, 12);
    const there = drawn(path, 12, 12, { ...AS_IT_IS, e: 3, f: 2 });
    for (let y = 0; y < 9; y++)
      for (let x = 0; x < 8; x++) expect(there[(y + 2) * 12 + x + 3]).toBe(here[y * 12 + x]);
  });

  it('draws a circle of cubic curves with its area', () => {
    const k = 0.5522847498 * 20;
    const path = [
      ...[
        PATH.move,
        45,
        25,
        PATH.cubic,
        45,
        25 + k,
        25 + k,
        45,
        25,
        45,
        PATH.cubic,
        25 - k,
        45,
        5,
        25 + k,
        5,
        25,
      ],
      ...[PATH.cubic, 5, 25 - k, 25 - k, 5, 25, 5, PATH.cubic, 25 + k, 5, 45, 25 - k, 45, 25, PATH.close],
    ];
    const area = drawn(path, 50, 50).reduce((sum, value) => sum + value / 255, 0);
    expect(area).toBeGreaterThan(Math.PI * 400 * 0.995);
    expect(area).toBeLessThan(Math.PI * 400 * 1.005);
  });

  it('covers once where shapes lie over each other, and leaves the hole of a ring', () => {
    const square = (from: number, to: number) =>
      polygon([
        [from, from],
        [to, from],
        [to, to],
        [from, to],
      ]);
    const twice = drawn([...square(1, 5), ...square(3, 7)], 8, 8);
    expect(twice[4 * 8 + 4]).toBe(255);
    const inner = polygon([
      [3, 3],
      [3, 5],
      [5, 5],
      [5, 3],
    ]);
    const ring = drawn([...square(1, 7), ...inner], 8, 8);
    expect(ring[2 * 8 + 2]).toBe(255);
    expect(ring[4 * 8 + 4]).toBe(0);
  });

  it('keeps what lies beyond the borders out', () => {
    const wide = drawn(
      polygon([
        [-5, -5],
        [20, -5],
        [20, 20],
        [-5, 20],
      ]),
      6,
      6,
    );
    expect([...wide].every((value) => value === 255)).toBe(true);
    expect(
      [
        ...drawn(
          polygon([
            [8, 1],
            [9, 1],
            [9, 3],
          ]),
          6,
          6,
        ),
      ].every((value) => value === 0),
    ).toBe(true);
  });
});
