import type { FindingKind } from '../cut/schema';

/** Kinds that are only good to know and call for nothing. */
const NOTES: readonly FindingKind[] = ['alike', 'idle-sample', 'hidden-color'];

/** How many findings call for a look, by the counts of each kind. */
export function countOf(counts: Readonly<Record<string, number>>): number {
  return Object.entries(counts).reduce(
    (sum, [kind, count]) => sum + (NOTES.includes(kind as FindingKind) ? 0 : count),
    0,
  );
}
