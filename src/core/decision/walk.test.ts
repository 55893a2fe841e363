import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import { FIXED, walked, type Walk } from './walk';

/** A plane of equal ties in which nothing is known. */
function even(width: number, height: number): Walk {
  const plane = (value: number) => new Float32Array(width * height).fill(value);
  return { width, height, across: plane(1), down: plane(1), likely: plane(0.5), trust: plane(0) };
}

function fix({ likely, trust }: Walk, i: number, answer: number): void {
  likely[i] = answer;
  trust[i] = FIXED;
}

/** The same energy lowered by plain relaxation until nothing moves: slow, and beyond doubt. */
function slowly({ width, height, across, down, likely, trust }: Walk): Float64Array {
  const answers = Float64Array.from(likely);
  for (let round = 0; round < 20_000; round++) {
    let most = 0;
    for (let i = 0; i < answers.length; i++) {
      if (trust[i]! >= FIXED) continue;
      const x = i % width;
      const ties: [number, number][] = [];
      if (x > 0) ties.push([across[i - 1]!, i - 1]);
      if (x < width - 1) ties.push([across[i]!, i + 1]);
      if (i >= width) ties.push([down[i - width]!, i - width]);
      if (i < width * (height - 1)) ties.push([down[i]!, i + width]);
      const weight = ties.reduce((sum, [tie]) => sum + tie, trust[i]!);
      const sum = ties.reduce((all, [tie, j]) => all + tie * answers[j]!, trust[i]! * likely[i]!);
      most = Math.max(most, Math.abs(sum / weight - answers[i]!));
      answers[i] = sum / weight;
    }
    if (most < 1e-7) break;
  }
  return answers;
}

describe('walked', () => {
  it('falls evenly between two known ends', () => {
    const walk = even(41, 6);
    for (let y = 0; y < 6; y++) {
      fix(walk, y * 41, 1);
      fix(walk, y * 41 + 40, 0);
    }
    const answers = walked(walk);
    for (let x = 0; x <= 40; x++) expect(answers[2 * 41 + x]).toBeCloseTo(1 - x / 40, 1);
  });

  it('agrees with slow relaxation where ties and trust differ', () => {
    const random = seededRandom(5);
    const walk = even(30, 22);
    for (let i = 0; i < 660; i++) {
      walk.across[i] = 0.05 + random();
      walk.down[i] = 0.05 + random();
      walk.likely[i] = random();
      walk.trust[i] = 0.05 * random();
    }
    for (let y = 4; y < 9; y++) fix(walk, y * 30 + 5, 1);
    for (let y = 10; y < 18; y++) fix(walk, y * 30 + 24, 0);
    const slow = slowly(walk);
    const off = walked(walk).map((value, i) => Math.abs(value - slow[i]!));
    expect(Math.max(...off)).toBeLessThan(0.05);
  });

  it('changes where a tie is weak, and says the opposite of the opposite', () => {
    const walk = even(32, 32);
    for (let y = 0; y < 32; y++) walk.across[y * 32 + 19] = 0.0005;
    fix(walk, 16 * 32 + 2, 1);
    fix(walk, 16 * 32 + 29, 0);
    const answers = walked(walk);
    expect(answers[5 * 32 + 17]).toBeGreaterThan(0.85);
    expect(answers[5 * 32 + 22]).toBeLessThan(0.15);
    const turned = walked({ ...walk, likely: walk.likely.map((value) => 1 - value) });
    answers.forEach((value, i) => expect(turned[i]).toBeCloseTo(1 - value, 4));
  });
});
