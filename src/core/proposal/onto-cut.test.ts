import { describe, expect, it } from 'vitest';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import { factsOf } from '../stages/clear/clear';
import { besideTold, proposedAgain } from './onto-cut';

const cleared = (x: number, y = 5, change: Partial<Cut['clear']> = {}): Cut => ({
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', x, y, { rule: 'whole' })], ...change },
});
const toldOf = (cut: Cut) => JSON.stringify(factsOf(cut));

describe('what is proposed anew', () => {
  it('clears as is proposed, with what was told, and leaves every other stage alone', () => {
    const own = cleared(9, 40, { pockets: [{ x: 40, y: 40, keep: true }] });
    const before: Cut = { ...own, edge: { ...own.edge, spill: 40 } };
    expect(proposedAgain(before, cleared(3))).toEqual({
      ...before,
      clear: { ...cleared(3).clear, pockets: before.clear.pockets },
    });
  });

  it('is prepared as is proposed only where nobody prepared it', () => {
    const turned = (turn: 0 | 90 | 180) => ({
      ...cleared(3),
      prepare: { ...untouchedCut().prepare, turn },
    });
    expect(proposedAgain(turned(0), turned(90)).prepare.turn).toBe(90);
    expect(proposedAgain(turned(180), turned(90)).prepare.turn).toBe(180);
  });

  it('leaves a sample where it stands in its row, so that what was taken once comes out the same again', () => {
    expect(proposedAgain(cleared(9), cleared(3))).toEqual(cleared(9));
    expect(proposedAgain(cleared(9, 6), cleared(3))).toEqual(cleared(3));
  });
});

describe('a cut beside what was decided', () => {
  it.each([
    ['stays where nothing was', 3, [], 3],
    ['goes right from the left', 3, [3, 4], 5],
    ['goes left from the right', 97, [97, 96], 95],
    ['stays where all was', 3, Array.from({ length: 100 }, (_, x) => x), 3],
  ])('%s', (_, x, decided, to) => {
    const told = new Set(decided.map((one) => toldOf(cleared(one))));
    expect(besideTold(cleared(x), 100, (facts) => told.has(facts))).toEqual(cleared(to));
  });

  it('is the same where it has no sample to move: by ink', () => {
    const ink = { on: true, channel: 'luminance', black: 30, mid: 90, white: 220, speckPx: 0 } as const;
    const cut = cleared(3, 5, { samples: [], ink });
    expect(besideTold(cut, 100, () => true)).toBe(cut);
  });
});
