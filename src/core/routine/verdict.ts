import { countOf } from '../findings/counts';
import { counted } from '../findings/finding';
import type { Doubt, Routine } from './settings';

/** What is known of a piece that a routine was carried out on. */
export interface Seen {
  /** What the proposal says, where it proposed nothing although something stands there. */
  readonly noProposal: string | null;
  /** Enclosed areas of the question about the picture: it is not sure whether they are background, and it matters. */
  readonly openAreas: number;
  /** Open findings by their kinds. */
  readonly findings: Readonly<Record<string, number>>;
}

/** Whether the decision on a piece can be relied on, and what becomes of it. */
export interface Verdict {
  readonly sure: boolean;
  readonly outcome: Doubt;
  /** Why it is held back or left out, or what is not sure of it; empty where there is nothing to say. */
  readonly why: string;
}

/**
 * Decides what a routine does with a piece. A subject that seems to have lost a part counts as not sure: a cutout that lost its
 * subject is worse than one that kept some background.
 */
export function judge(
  { noProposal, openAreas, findings }: Seen,
  routine: Pick<Routine, 'notSure' | 'findings'>,
): Verdict {
  const { missing = 0, ...others } = findings;
  const doubts = [
    noProposal,
    openAreas > 0 &&
      `Not sure of ${counted(openAreas, 'area')} that ${openAreas === 1 ? 'looks' : 'look'} like the background.`,
    missing > 0 && 'A part of the subject may be missing.',
  ].filter((doubt) => typeof doubt === 'string');
  if (doubts.length > 0) return { sure: false, outcome: routine.notSure, why: doubts.join(' ') };
  const count = countOf(others);
  if (count > 0 && routine.findings !== 'deliver')
    return { sure: true, outcome: routine.findings, why: `${counted(count, 'finding')} to look at.` };
  return { sure: true, outcome: 'deliver', why: '' };
}
