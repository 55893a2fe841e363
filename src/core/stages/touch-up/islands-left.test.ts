import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { piecesLeft } from './islands-left';

describe('the pieces that are left', () => {
  it('are told in reading order, with a pixel of each, without what is small beside them', () => {
    const boxes = [
      [60, 10, 30, 20],
      [10, 12, 30, 20],
      [20, 60, 50, 25],
      [95, 95, 2, 2],
    ] as const;
    const sheet = paint(100, 100, (x, y) =>
      boxes.some(([u, v, w, h]) => x >= u && y >= v && x < u + w && y < v + h) ? [9, 9, 9] : [0, 0, 0, 0],
    );
    const pieces = piecesLeft(sheet);
    expect(pieces.map(({ x, y, width, height }) => [x, y, width, height])).toEqual([
      [10, 12, 30, 20],
      [60, 10, 30, 20],
      [20, 60, 50, 25],
    ]);
    for (const { at } of pieces) expect(sheet.data[(at.y * 100 + at.x) * 4 + 3]).toBe(255);
    expect(piecesLeft(paint(9, 9, () => [0, 0, 0, 0]))).toEqual([]);
  });
});
