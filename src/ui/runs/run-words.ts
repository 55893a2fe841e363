import { countOf } from '../../core/findings/counts';
import { counted } from '../../core/findings/finding';
import { timeLeftWords } from '../../core/time-left';
import { progressOf, type ItemState, type RunFacts, type RunItemFacts } from '../../bench/runs-api';

export const ITEM_WORDS: Readonly<Record<ItemState, string>> = {
  waiting: 'waiting',
  working: 'being cut',
  delivered: 'delivered',
  laid: 'settings laid',
  held: 'held back',
  skipped: 'left out',
  failed: 'failed',
  cancelled: 'cancelled',
};

const ORDER: readonly ItemState[] = [
  'delivered',
  'laid',
  'held',
  'skipped',
  'failed',
  'cancelled',
  'working',
  'waiting',
];

/** How many pictures of a run are in each state: `31 delivered, 7 held back`. */
export function tallyWords({ counts }: Pick<RunFacts, 'counts'>): string {
  return ORDER.flatMap((state) => (counts[state] ? [`${counts[state]} ${ITEM_WORDS[state]}`] : [])).join(
    ', ',
  );
}

/**
 * How far a run is and how long it will take: `12 of 40, about 2 min left`. `eachMs` is the time from one picture to the next as it was
 * seen; until that is known it is reckoned from what a picture takes.
 */
export function progressWords(run: RunFacts, slots: number, eachMs: number | null = null): string {
  const { done, all } = progressOf(run);
  const far = `${done} of ${all}`;
  if (run.state !== 'running' || done === all || (eachMs ?? run.meanMs) === null) return far;
  const reckoned = (run.meanMs ?? 0) / Math.max(1, Math.min(slots, all - done));
  return `${far}, ${timeLeftWords((eachMs ?? reckoned) * (all - done))}`;
}

/** What is to be said of a picture beside its state. */
export function itemNote({ message, findings, state, deliveries, accepted }: RunItemFacts): string {
  if (message !== '') return message;
  if (accepted && state === 'delivered') return `accepted by hand, ${counted(deliveries.length, 'file')}`;
  const found = findings ? countOf(findings) : 0;
  if (found > 0) return counted(found, 'finding');
  return state === 'delivered' ? counted(deliveries.length, 'file') : '';
}

/** A time that a picture took, in words. */
export function tookWords(ms: number | null): string {
  if (ms === null) return '';
  return ms < 10_000 ? `${(ms / 1000).toFixed(1)}\u00a0s` : `${Math.round(ms / 1000)}\u00a0s`;
}
