import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import type { Plane } from '../raster/plane';
import type { Rect } from '../raster/raster';
import { AlphaBlocks } from './alpha-blocks';

/** Alpha with some disks, soft or hard, on nothing. */
function disks(width: number, height: number, seed: number): Plane {
  const random = seededRandom(seed);
  const data = new Uint8Array(width * height);
  for (let n = 0; n < 5; n++) {
    const [cx, cy, radius, soft] = [random() * width, random() * height, 8 + random() * 60, random() * 4];
    for (let i = 0; i < data.length; i++) {
      const far = Math.hypot((i % width) - cx, Math.floor(i / width) - cy);
      const inside = soft < 1 ? Number(far < radius) : Math.min(1, Math.max(0, (radius - far) / soft));
      data[i] = Math.max(data[i]!, Math.round(255 * inside));
    }
  }
  return { data, width, height };
}

const holds = (rects: readonly Rect[], x: number, y: number) =>
  rects.some((one) => x >= one.x && x < one.x + one.width && y >= one.y && y < one.y + one.height);

describe('AlphaBlocks', () => {
  it.each([
    [1, 230],
    [2, 230],
    [3, 232],
    [4, 256],
  ])('leaves out no place where alpha changes (%d, %d px wide)', (seed, wide) => {
    const alpha = disks(wide, 170, seed);
    const { data, width, height } = alpha;
    const blocks = [...new AlphaBlocks(alpha).borders()];
    let changes = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        for (const [u, v] of [
          [x + 2, y],
          [x, y + 2],
          [x + 2, y + 2],
        ] as const) {
          if (u >= width || v >= height || data[v * width + u] === data[y * width + x]) continue;
          changes++;
          expect(holds(blocks, x, y) && holds(blocks, u, v)).toBe(true);
        }
    expect(changes).toBeGreaterThan(100);
    expect(blocks.reduce((sum, { width: w, height: h }) => sum + w * h, 0)).toBeLessThan(width * height);
  });

  it('finds the parts of some rows that hold anything between 0 and 255', () => {
    const alpha = disks(230, 170, 2);
    const blocks = new AlphaBlocks(alpha);
    let partly = 0;
    for (let top = 0; top < alpha.height; top += 64) {
      const parts = blocks.mixedWithin(top, 64);
      for (let y = top; y < Math.min(alpha.height, top + 64); y++)
        for (let x = 0; x < alpha.width; x++) {
          const value = alpha.data[y * alpha.width + x]!;
          if (value === 0 || value === 255) continue;
          partly++;
          expect(holds(parts, x, y)).toBe(true);
        }
    }
    expect(partly).toBeGreaterThan(20);
  });

  it('has nothing to look at where all is solid', () => {
    const alpha = { data: new Uint8Array(100 * 70).fill(255), width: 100, height: 70 };
    expect([...new AlphaBlocks(alpha).borders()]).toEqual([]);
    expect(new AlphaBlocks(alpha).mixedWithin(0, 64)).toEqual([]);
  });
});
