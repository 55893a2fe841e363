import { describe, expect, it } from 'vitest';
import { closeGray, dilateGray } from './morphology';
import { seededRandom } from './random';

const slow = (
  plane: Float32Array,
  width: number,
  height: number,
  radius: number,
  pick: (...v: number[]) => number,
) =>
  Float32Array.from(plane, (_, i) => {
    const x = i % width;
    const y = (i - x) / width;
    const seen: number[] = [];
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
      for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++)
        seen.push(plane[v * width + u]!);
    return pick(...seen);
  });

describe('grayscale morphology', () => {
  it.each([
    [1, 1, 1],
    [17, 1, 3],
    [1, 9, 2],
    [19, 14, 3],
    [5, 6, 8],
  ])('equals a slow search on %d x %d with radius %d', (width, height, radius) => {
    const random = seededRandom(width * 31 + height);
    const plane = Float32Array.from({ length: width * height }, () => Math.round(random() * 255));
    const largest = slow(plane, width, height, radius, Math.max);
    expect(dilateGray({ data: plane, width, height }, radius).data).toEqual(largest);
    expect(closeGray({ data: plane, width, height }, radius).data).toEqual(
      slow(largest, width, height, radius, Math.min),
    );
  });

  it('fills a thin dark line and leaves a border where it is', () => {
    const plane = Float32Array.from({ length: 40 * 20 }, (_, i) =>
      i % 40 === 7 ? 20 : i % 40 < 24 ? 200 : 120,
    );
    const { data: closed } = closeGray({ data: plane, width: 40, height: 20 }, 4);
    expect(closed[10 * 40 + 7]).toBe(200);
    expect(closed[10 * 40 + 23]).toBe(200);
    expect(closed[10 * 40 + 24]).toBe(120);
  });
});
