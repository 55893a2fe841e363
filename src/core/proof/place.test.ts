import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import { FIRST_GROUNDS, firstPlacement, sizeOfSource } from './first-proof';
import {
  anchoredAt,
  boxOf,
  cornersOf,
  heldAt,
  pulledTo,
  snapped,
  turnOf,
  type PlacedBox,
  type Surface,
} from './place';
import { anchorSchema, placementSchema } from './settings';

const A4: Surface = { width: 210, height: 297, line: null };
const WITH_LINE: Surface = { ...A4, line: { x: 25, y: 205, width: 70 } };

const near = (one: PlacedBox, other: PlacedBox) => {
  for (const key of ['x', 'y', 'width', 'height'] as const) expect(one[key]).toBeCloseTo(other[key], 2);
};

describe('placing', () => {
  it.each([
    ['right 20, bottom 40', { anchor: 'bottom-right', x: 20, y: 40, width: 52 }, { x: 138, y: 231 }],
    ['in the middle', { anchor: 'center', x: 0, y: 0, width: 52 }, { x: 79, y: 135.5 }],
    ['above the middle of the lower edge', { anchor: 'bottom', x: 5, y: 10, width: 52 }, { x: 84, y: 261 }],
    ['from the upper left', { anchor: 'top-left', x: 3, y: 4, width: 52 }, { x: 3, y: 4 }],
  ] as const)('measures from its anchor inward: %s', (_name, held, at) => {
    near(boxOf(held, 0.5, A4), { ...at, width: 52, height: 26 });
  });

  it('lies on the line, and where there is none as people sign', () => {
    const held = { anchor: 'line', x: 3, y: -2, width: 50 } as const;
    near(boxOf(held, 0.4, WITH_LINE), { x: 28, y: 187, width: 50, height: 20 });
    near(boxOf(held, 0.4, A4), { x: 140, y: 237, width: 50, height: 20 });
  });

  it('keeps its place whatever it is held by', () => {
    const random = seededRandom(5);
    for (let k = 0; k < 200; k++) {
      const box = { x: random() * 300 - 40, y: random() * 300, width: 5 + random() * 90, height: 0 };
      const aspect = 0.2 + random();
      const whole = { ...box, height: box.width * aspect };
      const surface = k % 2 ? A4 : WITH_LINE;
      for (const anchor of anchorSchema.options) {
        near(boxOf(heldAt(whole, anchor, surface), aspect, surface), whole);
        const other = anchorSchema.options[k % 10]!;
        near(
          boxOf(anchoredAt(heldAt(whole, anchor, surface), other, aspect, surface), aspect, surface),
          whole,
        );
      }
    }
  });

  it('turns clockwise about the middle, by any angle', () => {
    const box = { x: 10, y: 20, width: 40, height: 10 };
    for (const angle of [-180, -135, -90, -30, 0, 12.5, 90, 150, 180]) {
      const radians = (angle * Math.PI) / 180;
      expect(turnOf(angle).sine).toBeCloseTo(Math.sin(radians), 10);
      expect(turnOf(angle).cosine).toBeCloseTo(Math.cos(radians), 10);
    }
    const [upperLeft, upperRight] = cornersOf(box, 90);
    for (const [found, x, y] of [
      [upperLeft!, 35, 5],
      [upperRight!, 35, 45],
    ] as const) {
      expect(found.x).toBeCloseTo(x, 6);
      expect(found.y).toBeCloseTo(y, 6);
    }
  });

  it('keeps its shape and the corner that is not pulled', () => {
    const random = seededRandom(9);
    for (let k = 0; k < 100; k++) {
      const box = { x: random() * 50, y: random() * 50, width: 20 + random() * 40, height: 12 };
      const angle = random() * 360 - 180;
      const [, , lowerRight] = cornersOf(box, angle);
      const pulled = pulledTo(
        box,
        angle,
        { across: -1, down: -1 },
        { x: random() * 90, y: random() * 90 },
        1,
      );
      expect(pulled.height / pulled.width).toBeCloseTo(box.height / box.width, 8);
      expect(pulled.width).toBeGreaterThanOrEqual(1);
      const [, , still] = cornersOf(pulled, angle);
      expect(still!.x).toBeCloseTo(lowerRight!.x, 6);
      expect(still!.y).toBeCloseTo(lowerRight!.y, 6);
    }
    // Pulled to where its corner is, nothing changes.
    const box = { x: 5, y: 6, width: 30, height: 12 };
    near(pulledTo(box, 25, { across: 1, down: 1 }, cornersOf(box, 25)[2]!, 1), box);
  });

  it('catches at edges, margins, the middle and the line, and at nothing far from them', () => {
    const box = { x: 78.4, y: 134, width: 52, height: 26 };
    expect(snapped(box, A4, 2)).toMatchObject({
      box: { x: 79, y: 135.5 },
      caught: [
        { axis: 'x', at: 105 },
        { axis: 'y', at: 148.5 },
      ],
    });
    expect(snapped(box, A4, 0.3)).toEqual({ box, caught: [] });
    const near = snapped({ ...box, x: 26, y: 178 }, WITH_LINE, 2);
    expect(near).toMatchObject({ box: { x: 25, y: 179 }, caught: [{ at: 25 }, { at: 205 }] });
  });

  it('lays pieces of any shape first where they lie within the ground', () => {
    for (const source of FIRST_GROUNDS)
      for (const aspect of [0.1, 0.4, 1, 3]) {
        const { unit, width, height } = sizeOfSource(source)!;
        const surface = { width, height, line: null };
        const placed = firstPlacement(source, unit, surface, aspect, { id: 'p1', piece: 'a'.repeat(16) });
        expect(placementSchema.parse(placed)).toEqual(placed);
        const box = boxOf(placed, aspect, surface);
        expect(box.x).toBeGreaterThanOrEqual(0);
        expect(box.y).toBeGreaterThanOrEqual(0);
        expect(box.x + box.width).toBeLessThanOrEqual(width);
        expect(box.y + box.height).toBeLessThanOrEqual(height);
      }
  });
});
