import { describe, expect, it } from 'vitest';
import { sineAndCosineOfDegrees, degreesOf } from './exact';
import { apply, IDENTITY, inUnits, inverse, multiply, squareToQuad, type Matrix3 } from './matrix3';
import { seededRandom } from './random';

const someMatrix = (random: () => number): Matrix3 =>
  [
    1 + random(),
    random(),
    30 * random(),
    random(),
    1 + random(),
    20 * random(),
    random() / 500,
    random() / 500,
    1,
  ] as const;

describe('projective matrices', () => {
  it('are undone by their inverse', () => {
    const random = seededRandom(5);
    for (let k = 0; k < 50; k++) {
      const m = someMatrix(random);
      const product = multiply(m, inverse(m)!);
      product.forEach((value, i) => expect(value / product[8]).toBeCloseTo(IDENTITY[i]!, 9));
    }
    expect(inverse([1, 2, 3, 2, 4, 6, 0, 0, 1])).toBeNull();
  });

  it('apply the second first', () => {
    const random = seededRandom(9);
    const one = someMatrix(random);
    const other = someMatrix(random);
    const first = apply(other, 3, 4);
    const both = apply(one, first.x, first.y);
    const at = apply(multiply(one, other), 3, 4);
    expect(at.x).toBeCloseTo(both.x, 9);
    expect(at.y).toBeCloseTo(both.y, 9);
  });

  it('carry the corners of a square to those of a quadrangle, and halved units to halved places', () => {
    const quad = [
      { x: 10, y: 12 },
      { x: 205, y: 30 },
      { x: 190, y: 160 },
      { x: 22, y: 140 },
    ] as const;
    const m = squareToQuad(quad)!;
    const corners = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const;
    corners.forEach(([x, y], k) => {
      const at = apply(m, x, y);
      expect(at.x).toBeCloseTo(quad[k]!.x, 9);
      expect(at.y).toBeCloseTo(quad[k]!.y, 9);
    });
    const full = apply(m, 0.3, 0.7);
    const half = apply(inUnits(m, 2), 0.15, 0.35);
    expect(half.x).toBeCloseTo(full.x / 2, 9);
    expect(half.y).toBeCloseTo(full.y / 2, 9);
    expect(squareToQuad([quad[0], quad[1], quad[1], quad[1]])).toBeNull();
  });
});

describe('angles', () => {
  it('have the sines and cosines of the math library', () => {
    for (let deg = -90; deg <= 90; deg += 0.37) {
      const { sine, cosine } = sineAndCosineOfDegrees(deg);
      expect(sine).toBeCloseTo(Math.sin((deg * Math.PI) / 180), 12);
      expect(cosine).toBeCloseTo(Math.cos((deg * Math.PI) / 180), 12);
    }
  });

  it('are read from directions', () => {
    expect(degreesOf(10, 0)).toBeCloseTo(0, 2);
    expect(degreesOf(10, 10)).toBeCloseTo(45, 2);
    expect(degreesOf(10, -10)).toBeCloseTo(-45, 2);
    expect(degreesOf(-10, 0.001)).toBeCloseTo(180, 1);
  });
});
