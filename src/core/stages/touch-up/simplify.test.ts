import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../numeric/random';
import type { PathPlace } from './path';
import { simplified } from './simplify';

/** The farthest that any place lies from a line through others. */
function farthest(places: readonly PathPlace[], line: readonly PathPlace[]): number {
  return Math.max(
    ...places.map(([x, y]) =>
      Math.min(
        ...line.slice(1).map(([bx, by], k) => {
          const [ax, ay] = line[k]!;
          const length = (bx - ax) ** 2 + (by - ay) ** 2;
          const t =
            length > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0;
          return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay));
        }),
      ),
    ),
  );
}

describe('simplified', () => {
  it('keeps few places, its ends, and stays as near as it is told', () => {
    const random = seededRandom(4);
    const places: PathPlace[] = Array.from({ length: 600 }, (_, k) => [
      k / 3,
      40 + 25 * Math.sin(k / 60) + 0.1 * random(),
    ]);
    const few = simplified(places, 0.3);
    expect(few.length).toBeLessThan(60);
    expect(few[0]).toBe(places[0]);
    expect(few.at(-1)).toBe(places.at(-1));
    expect(farthest(places, few)).toBeLessThanOrEqual(0.3 + 1e-9);
  });

  it('leaves nothing of a straight line but its ends, unless the pen was pressed', () => {
    const straight = (pressure: (k: number) => number): PathPlace[] =>
      Array.from({ length: 50 }, (_, k) => [k, 2 * k, pressure(k)]);
    expect(
      simplified(
        straight(() => 0.5),
        0.2,
        20,
      ),
    ).toHaveLength(2);
    expect(
      simplified(
        straight((k) => (k === 25 ? 1 : 0.5)),
        0.2,
        20,
      ).length,
    ).toBeGreaterThan(3);
  });

  it('takes 10,000 places of which none can go', () => {
    const zigzag: PathPlace[] = Array.from({ length: 10_000 }, (_, k) => [k, k % 2 ? 5 : 0]);
    expect(simplified(zigzag, 0.2)).toHaveLength(10_000);
  });
});
