import { KenosisError } from '../errors';

/** How far a piece of work is: `done` of `total`, in units of its own. */
export interface Progress {
  /** What is done, in a word that can be shown: `clearing`. */
  readonly doing: string;
  readonly done: number;
  readonly total: number;
}

/** What asks a long computation to stop; an `AbortSignal` fits. */
export interface Cancel {
  readonly aborted: boolean;
}

/**
 * Work that pauses every few milliseconds. The caller decides when to go on and may drop it; the result does not
 * depend on the pauses.
 */
export type Steps<T> = Generator<Progress, T, void>;

/** Ends work before its time: what it holds, such as the help of other threads, is let go. */
export function giveUp(steps: Steps<unknown>): void {
  steps.return(undefined);
}

/** Does all the work at once. Throws `aborted` as soon as `cancel.aborted` is seen between two steps. */
export function runToEnd<T>(steps: Steps<T>, cancel?: Cancel, onProgress?: (progress: Progress) => void): T {
  for (;;) {
    if (cancel?.aborted) {
      giveUp(steps);
      throw new KenosisError('aborted', 'The work was cancelled; nothing was changed.');
    }
    const next = steps.next();
    if (next.done) return next.value;
    onProgress?.(next.value);
  }
}
