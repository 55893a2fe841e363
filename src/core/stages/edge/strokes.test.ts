import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../numeric/random';
import { markStrokes } from './strokes';

const AROUND = { x: 7, y: 3, width: 40, height: 30 };

/** Every pixel center is measured against every piece of the line. */
function slowly(
  radius: number,
  points: readonly (readonly [number, number])[],
  reduction: number,
): Uint8Array {
  const scale = 1 << reduction;
  return Uint8Array.from({ length: AROUND.width * AROUND.height }, (_, i) => {
    const x = AROUND.x + (i % AROUND.width) + 0.5;
    const y = AROUND.y + Math.floor(i / AROUND.width) + 0.5;
    const near = points.some(([px, py], k) => {
      const [qx, qy] = points[Math.max(0, k - 1)]!;
      const [wx, wy] = [(px - qx) / scale, (py - qy) / scale];
      const length = wx * wx + wy * wy;
      const along =
        length === 0 ? 0 : Math.min(1, Math.max(0, ((x - qx / scale) * wx + (y - qy / scale) * wy) / length));
      const far = (x - qx / scale - along * wx) ** 2 + (y - qy / scale - along * wy) ** 2;
      return far <= Math.max(0.5, radius / scale) ** 2;
    });
    return near ? 1 : 0;
  });
}

describe('markStrokes', () => {
  it('marks what a slow look at every pixel marks, at any size, also beyond the part', () => {
    const random = seededRandom(21);
    for (let round = 0; round < 40; round++) {
      const reduction = Math.floor(random() * 3);
      const points = Array.from({ length: 1 + Math.floor(random() * 5) }, (): [number, number] => [
        Math.round((random() * 70 - 10) * (1 << reduction) * 10) / 10,
        Math.round((random() * 60 - 10) * (1 << reduction) * 10) / 10,
      ]);
      const radiusPx = 1 + random() * 12;
      const marks = new Uint8Array(AROUND.width * AROUND.height);
      markStrokes([{ radiusPx, points }], reduction, AROUND, marks);
      expect(marks, `round ${round}`).toEqual(slowly(radiusPx, points, reduction));
    }
  });

  it('adds to what is marked', () => {
    const marks = new Uint8Array(AROUND.width * AROUND.height);
    marks[0] = 1;
    markStrokes([{ radiusPx: 2, points: [[30, 20]] }], 0, AROUND, marks);
    expect(marks[0]).toBe(1);
    expect(marks[17 * 40 + 23]).toBe(1);
  });
});
