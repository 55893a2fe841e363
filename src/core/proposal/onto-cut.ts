import type { Cut } from '../cut/schema';
import { factsOf } from '../stages/clear/clear';
import { AS_IT_CAME } from '../stages/prepare/settings';
import { same } from '../stages/stage';

/**
 * What was proposed, on a cut that has settings of its own: what a proposal decides about is its, together with pockets and marks of
 * the piece. Every other stage, whichever there are, stays as the piece has it.
 */
export function withProposed(cut: Cut, { prepare, clear }: Pick<Cut, 'prepare' | 'clear'>): Cut {
  const own = cut.clear;
  return {
    ...cut,
    prepare: { ...cut.prepare, ...prepare },
    clear: {
      ...clear,
      on: true,
      pockets: [...own.pockets, ...clear.pockets],
      marks: [...own.marks, ...clear.marks],
    },
  };
}

/**
 * What is proposed anew on a cut that a piece has already. How it is prepared is the proposal's only where nobody prepared it; a
 * sample that differs from the piece's in nothing but where it stands in its row stays there.
 */
export function proposedAgain(cut: Cut, proposed: Cut): Cut {
  const prepare = same(cut.prepare, AS_IT_CAME) ? proposed.prepare : cut.prepare;
  const again = withProposed(cut, { prepare, clear: proposed.clear });
  const [own] = cut.clear.samples;
  const [first, ...others] = again.clear.samples;
  if (!own || !first || !same({ ...own, x: first.x }, first)) return again;
  return { ...again, clear: { ...again.clear, samples: [own, ...others] } };
}

/**
 * The cut with its first sample so many pixels beside, towards the middle, that nothing was decided for it before: what was decided
 * there stays. `width` is that of the original; `isTold` says of facts, as JSON, whether anything was decided for them.
 */
export function besideTold(cut: Cut, width: number, isTold: (facts: string) => boolean): Cut {
  const [first, ...others] = cut.clear.samples;
  if (!first) return cut;
  const inwards = first.x < width / 2 ? 1 : -1;
  for (let away = 0; away < width / 2; away++) {
    const samples = [{ ...first, x: first.x + away * inwards }, ...others];
    const beside: Cut = { ...cut, clear: { ...cut.clear, samples } };
    if (!isTold(JSON.stringify(factsOf(beside)))) return beside;
  }
  return cut;
}
