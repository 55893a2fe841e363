import { describe, expect, it } from 'vitest';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import { factsOf } from '../stages/clear/clear';
import { proposedAgain } from './again';

const cleared = (x: number, change: Partial<Cut['clear']> = {}): Cut => ({
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', x, 5, { rule: 'whole' })], ...change },
});
const never = () => false;

describe('what is proposed anew', () => {
  it('clears as is proposed, with what was told, and leaves every other stage alone', () => {
    const own = cleared(9, { pockets: [{ x: 40, y: 40, keep: true }] });
    const before: Cut = { ...own, edge: { ...own.edge, spill: 40 } };
    const again = proposedAgain(before, cleared(3), 100, never);
    expect(again).toEqual({
      ...before,
      clear: { ...cleared(3).clear, pockets: before.clear.pockets },
    });
  });

  it('is prepared as is proposed only where nobody prepared it', () => {
    const turned = (turn: 0 | 90 | 180) => ({
      ...cleared(3),
      prepare: { ...untouchedCut().prepare, turn },
    });
    expect(proposedAgain(turned(0), turned(90), 100, never).prepare.turn).toBe(90);
    expect(proposedAgain(turned(180), turned(90), 100, never).prepare.turn).toBe(180);
  });

  it.each([
    [3, 5],
    [97, 95],
  ])('stands beside where it was decided before: at %i it goes to %i', (x, to) => {
    const told = new Set(
      [x, (x + to) / 2].map((one) =>
        JSON.stringify(factsOf(proposedAgain(cleared(9), cleared(one), 100, never))),
      ),
    );
    const again = proposedAgain(cleared(9), cleared(x), 100, (facts) => told.has(facts));
    expect(again.clear.samples.map((sample) => sample.x)).toEqual([to]);
  });

  it('has no sample to move where it clears by ink', () => {
    const ink = { on: true, channel: 'luminance', black: 30, mid: 90, white: 220, speckPx: 0 } as const;
    const proposed = cleared(3, { samples: [], ink });
    expect(proposedAgain(cleared(9), proposed, 100, () => true).clear).toEqual(proposed.clear);
  });
});
