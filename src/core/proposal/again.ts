import type { Cut } from '../cut/schema';
import { factsOf } from '../stages/clear/clear';
import type { Clear } from '../stages/clear/settings';
import { AS_IT_CAME } from '../stages/prepare/settings';
import { same } from '../stages/stage';
import { withProposed } from '../routine/lay';

/**
 * What is proposed anew on a cut that a piece has already: how it clears is the proposal's, with the pockets and marks that were
 * told; how it is prepared is too where nobody prepared it; every other stage stays. `width` is that of the original. `isTold` says whether something was decided
 * for facts, as JSON: the sample then stands so many pixels beside that it is decided now, and what was decided before stays.
 */
export function proposedAgain(
  cut: Cut,
  proposed: Cut,
  width: number,
  isTold: (facts: string) => boolean,
): Cut {
  const prepare = same(cut.prepare, AS_IT_CAME) ? proposed.prepare : cut.prepare;
  const again = withProposed(cut, { prepare, clear: proposed.clear });
  if (again.clear.samples.length === 0) return again;
  for (let away = 0; away < width; away++) {
    const beside: Cut = { ...again, clear: movedBeside(again.clear, away, width) };
    if (!isTold(JSON.stringify(factsOf(beside)))) return beside;
  }
  return again;
}

/** With its first sample so many pixels beside, towards the middle. */
function movedBeside(clear: Clear, away: number, width: number): Clear {
  const [first, ...others] = clear.samples;
  if (!first || away === 0) return clear;
  const x = first.x < width / 2 ? first.x + away : first.x - away;
  return { ...clear, samples: [{ ...first, x }, ...others] };
}
