import { describe, expect, it } from 'vitest';
import { labelRuns } from './label';
import { seededRandom } from './random';

/** Parts by a plain search, each as the sorted list of its pixels. */
function slowParts(plane: Uint8Array, width: number, height: number, least: number): number[][] {
  const seen = new Set<number>();
  const parts: number[][] = [];
  for (let start = 0; start < plane.length; start++) {
    if (plane[start]! < least || seen.has(start)) continue;
    const part = [start];
    seen.add(start);
    for (let k = 0; k < part.length; k++) {
      const x = part[k]! % width;
      const y = Math.floor(part[k]! / width);
      for (let v = y - 1; v <= y + 1; v++)
        for (let u = x - 1; u <= x + 1; u++) {
          const i = v * width + u;
          if (u < 0 || v < 0 || u >= width || v >= height || plane[i]! < least || seen.has(i)) continue;
          seen.add(i);
          part.push(i);
        }
    }
    parts.push(part.sort((a, b) => a - b));
  }
  return parts;
}

describe('labelRuns', () => {
  it.each([
    [1, 1, 0.5],
    [40, 1, 0.5],
    [1, 30, 0.5],
    [23, 17, 0.3],
    [23, 17, 0.6],
    [64, 50, 0.4],
  ])('finds the parts that a plain search finds on %d x %d, %d filled', (width, height, filled) => {
    const random = seededRandom(width + 1000 * height);
    const plane = Uint8Array.from({ length: width * height }, () =>
      random() < filled ? 8 + Math.floor(random() * 248) : Math.floor(random() * 8),
    );
    const { areas, peaks, forEachRun, within } = labelRuns({ data: plane, width, height }, 8);
    const found = areas.map(() => [] as number[]);
    forEachRun((part, start, length) => {
      for (let i = start; i < start + length; i++) found[part]!.push(i);
    });
    const byFirst = (a: number[], b: number[]) => a[0]! - b[0]!;
    expect(found.map((part) => part.sort((a, b) => a - b)).sort(byFirst)).toEqual(
      slowParts(plane, width, height, 8).sort(byFirst),
    );
    expect(areas.reduce((sum, area) => sum + area, 0)).toBe(plane.filter((value) => value >= 8).length);
    expect(peaks).toHaveLength(areas.length);
    const rect = { x: width >> 2, y: height >> 2, width: width - (width >> 2), height: (height + 1) >> 1 };
    const isIn = (i: number) =>
      i % width >= rect.x && Math.floor(i / width) >= rect.y && Math.floor(i / width) < rect.y + rect.height;
    const seen = found.flatMap((part, k) => (part.some(isIn) ? [k] : []));
    expect([...within(rect)].sort((a, b) => a - b)).toEqual(seen);
  });

  it.each([
    [64, 40, 0],
    [61, 37, 0],
    [63, 33, 3],
    [3, 50, 1],
  ])(
    'passes over what is all 0 or all 255 without missing a pixel: %d x %d, %d bytes in',
    (width, height, offset) => {
      const random = seededRandom(width);
      const plane = new Uint8Array(new ArrayBuffer(offset + width * height), offset);
      // Stretches of one value, with a stray pixel now and then.
      for (let i = 0, value = 0; i < plane.length; i++) {
        if (random() < 0.05) value = [0, 255, 100, 3][Math.floor(4 * random())]!;
        plane[i] = random() < 0.02 ? Math.floor(256 * random()) : value;
      }
      for (const least of [1, 8, 200]) {
        const { areas, forEachRun } = labelRuns({ data: plane, width, height }, least);
        const found = areas.map(() => [] as number[]);
        forEachRun((part, start, length) => {
          for (let i = start; i < start + length; i++) found[part]!.push(i);
        });
        const byFirst = (a: number[], b: number[]) => a[0]! - b[0]!;
        expect(found.map((part) => part.sort((a, b) => a - b)).sort(byFirst)).toEqual(
          slowParts(plane, width, height, least).sort(byFirst),
        );
      }
    },
  );

  it('knows the area and the peak of each part', () => {
    const plane = Uint8Array.from([9, 200, 0, 0, 30, 0, 0, 0, 0, 31]);
    const { areas, peaks } = labelRuns({ data: plane, width: 5, height: 2 }, 8);
    expect(areas).toEqual([2, 2]);
    expect(peaks).toEqual([200, 31]);
  });
});
