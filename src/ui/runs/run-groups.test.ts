import { describe, expect, it } from 'vitest';
import type { ItemState, RunItemFacts } from '../../bench/runs-api';
import { groupsOf, rowsOf } from './run-groups';
import { itemNote, progressWords, tallyWords, tookWords } from './run-words';

const item = (number: number, state: ItemState, change: Partial<RunItemFacts> = {}): RunItemFacts => ({
  id: number,
  number,
  name: `kite-${number}.png`,
  pieceId: null,
  state,
  accepted: false,
  message: '',
  sure: null,
  findings: null,
  revision: null,
  before: null,
  deliveries: [],
  ms: null,
  ...change,
});

describe('the rows of a run', () => {
  const items = [
    item(1, 'delivered', { sure: true }),
    item(2, 'held', { sure: false }),
    item(3, 'failed'),
    item(4, 'working'),
    item(5, 'delivered', { sure: false }),
    item(6, 'delivered', { sure: false, accepted: true }),
    item(7, 'skipped', { sure: false }),
    item(8, 'cancelled'),
    item(9, 'waiting'),
    item(10, 'laid'),
  ];

  it('begin with what needs somebody, and hold every picture once', () => {
    const groups = groupsOf(items);
    expect(groups.map(({ title, items: some }) => [title, some.map(({ number }) => number)])).toEqual([
      ['To look at, 2', [2, 5]],
      ['Failed, 1', [3]],
      ['Not done yet, 2', [4, 9]],
      ['Done, 5', [1, 6, 7, 8, 10]],
    ]);
    expect(rowsOf(groups, new Set()).filter(({ kind }) => kind === 'item')).toHaveLength(items.length);
  });

  it('leave out groups without any, and pictures of those that are folded', () => {
    const groups = groupsOf(items.slice(0, 2));
    expect(groups.map(({ key }) => key)).toEqual(['look', 'rest']);
    const rows = rowsOf(groups, new Set(['rest'] as const));
    expect(rows.map((row) => (row.kind === 'title' ? row.group.key : row.item.number))).toEqual([
      'look',
      2,
      'rest',
    ]);
  });
});

describe('what is said of a run', () => {
  const run = (counts: Partial<Record<ItemState, number>>, change = {}) =>
    ({ counts, state: 'running', meanMs: 3000, ...change }) as unknown as Parameters<typeof progressWords>[0];
  it.each([
    [run({ delivered: 10, waiting: 30 }), 2, '10 of 40, about 45 s left'],
    // The last one is worked on by one of them, however many there are.
    [run({ delivered: 39, working: 1 }), 64, '39 of 40, about 3 s left'],
    [run({ delivered: 1, waiting: 3 }, { state: 'paused' }), 2, '1 of 4'],
    [run({ waiting: 4 }, { meanMs: null }), 2, '0 of 4'],
    [run({ delivered: 4 }, { state: 'done' }), 2, '4 of 4'],
  ])('is how far it is', (given, slots, words) =>
    expect(progressWords(given, slots).replaceAll('\u00a0', ' ')).toBe(words),
  );

  it('goes by the pace that was seen where one was', () => {
    expect(progressWords(run({ delivered: 10, waiting: 30 }), 64, 5000).replaceAll('\u00a0', ' ')).toBe(
      '10 of 40, about 3 min left',
    );
  });

  it('counts pictures by what became of them', () => {
    expect(tallyWords(run({ waiting: 1, held: 2, delivered: 3 }))).toBe(
      '3 delivered, 2 held back, 1 waiting',
    );
  });

  it.each([
    [item(1, 'held', { message: 'Not sure.' }), 'Not sure.'],
    [item(1, 'delivered', { findings: { speck: 2, alike: 1 }, deliveries: [1] }), '2 findings'],
    [item(1, 'delivered', { findings: {}, deliveries: [1, 2] }), '2 files'],
    [item(1, 'delivered', { accepted: true, deliveries: [4] }), 'accepted by hand, 1 file'],
    [item(1, 'waiting'), ''],
  ])('notes of a picture what matters', (given, words) => expect(itemNote(given)).toBe(words));

  it('says how long a picture took', () => {
    expect(
      [tookWords(null), tookWords(1234), tookWords(61_000)].map((words) => words.replaceAll('\u00a0', ' ')),
    ).toEqual(['', '1.2 s', '61 s']);
  });
});
