import type { JobEngine } from '../../engine/node/jobs/job-engine';
import type { RunItem } from '../../storage/runs';

/** What changed of a run: one of its pictures, or the run itself where `item` is null. */
export interface RunChange {
  readonly runId: number;
  readonly item: RunItem | null;
}

/** What carries runs out, one for each house. */
export interface Runs {
  /** Takes up what a killed process left, and goes on. */
  start(): Promise<void>;
  /** Looks for pictures that wait. */
  wake(): void;
  /** Ends what is worked on of a run: it was cancelled. */
  stop(runId: number): void;
  /** Tells of a change that was made elsewhere. */
  tell(change: RunChange): void;
  /** Calls back at every change. Returns what calls it off. */
  listen(listener: (change: RunChange) => void): () => void;
  /** Carries one picture out at once, for a preview. */
  engine(): Promise<JobEngine>;
  /** What carries out, in a few words, how many pictures at a time, and why nothing goes on where it does not. */
  facts(): { readonly words: string; readonly slots: number; readonly trouble: string };
  close(): Promise<void>;
}
