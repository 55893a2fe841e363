import { describe, expect, it } from 'vitest';
import type { ShelfPieceFacts } from '../../bench/api';
import { arranged, AS_THEY_CAME } from './arrange';

const piece = (name: string, day: number, change: Partial<ShelfPieceFacts> = {}) =>
  ({
    id: name,
    name,
    createdAt: `2026-03-${String(day).padStart(2, '0')}T08:00:00.000Z`,
    state: 'cut',
    findings: {},
    ...change,
  }) as ShelfPieceFacts;

const SHELF = [
  piece('Kite 10.jpg', 3, { findings: { speck: 4 } }),
  piece('kite 9.jpg', 1, { state: 'delivered', findings: { alike: 3 } }),
  piece('Badge.png', 2, { state: 'untouched', findings: null }),
  piece('Slide kite.png', 4, { findings: { pocket: 9, alike: 2 } }),
];
const names = (change: Partial<typeof AS_THEY_CAME>) =>
  arranged(SHELF, { ...AS_THEY_CAME, ...change }).map(({ name }) => name);

describe('arranged', () => {
  it.each([
    ['newest', ['Slide kite.png', 'Kite 10.jpg', 'Badge.png', 'kite 9.jpg']],
    ['oldest', ['kite 9.jpg', 'Badge.png', 'Kite 10.jpg', 'Slide kite.png']],
    ['name', ['Badge.png', 'kite 9.jpg', 'Kite 10.jpg', 'Slide kite.png']],
    ['findings', ['Slide kite.png', 'Kite 10.jpg', 'kite 9.jpg', 'Badge.png']],
  ] as const)('sorts by %s', (order, expected) => {
    expect(names({ order })).toEqual(expected);
  });

  it.each([
    ['untouched', ['Badge.png']],
    ['cut', ['Slide kite.png', 'Kite 10.jpg']],
    ['delivered', ['kite 9.jpg']],
    ['findings', ['Slide kite.png', 'Kite 10.jpg']],
    ['clean', ['kite 9.jpg']],
  ] as const)('shows only %s', (kind, expected) => {
    expect(names({ kind })).toEqual(expected);
  });

  it('finds names that hold every word, in any case and order', () => {
    expect(names({ search: ' KITE  jpg' })).toEqual(['Kite 10.jpg', 'kite 9.jpg']);
    expect(names({ search: 'kite slide' })).toEqual(['Slide kite.png']);
    expect(names({ search: 'moon' })).toEqual([]);
    expect(names({ search: 'kite', kind: 'findings', order: 'name' })).toEqual([
      'Kite 10.jpg',
      'Slide kite.png',
    ]);
  });

  it('leaves the list it was given as it is', () => {
    const before = [...SHELF];
    names({ order: 'name' });
    expect(SHELF).toEqual(before);
  });
});
