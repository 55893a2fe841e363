import { giveUp, type Progress, type Steps } from '../../core/numeric/steps';

/** Work ahead that is to be done: it is begun once for a key, and given up where another comes before it. */
export interface Job {
  /** What it makes and of what: equal where it need not be begun anew. */
  readonly key: string;
  /** Whether its progress is told. */
  readonly isTold: boolean;
  begin(): Steps<unknown>;
  done(result: unknown): void;
}

/** A job whose result has a type. */
export function jobOf<T>(job: {
  readonly key: string;
  readonly isTold?: boolean;
  readonly begin: () => Steps<T>;
  readonly done: (result: T) => void;
}): Job {
  return { isTold: true, ...job, done: (result) => job.done(result as T) };
}

/** Does the first of what is to be done, a few steps at a time. */
export class Scheduler {
  private current: { readonly job: Job; readonly steps: Steps<unknown> } | null = null;
  /** What was told last. */
  private shown = '';

  constructor(
    private readonly now: () => number,
    private readonly onProgress: (progress: Progress) => void,
  ) {}

  /** Works on a job until that time, going on where it is the one that was begun. Says whether it is done. */
  work(job: Job, until: number): boolean {
    if (this.current?.job.key !== job.key) {
      this.drop();
      this.shown = '';
      this.current = { job, steps: job.begin() };
    }
    const { steps } = this.current;
    do {
      const next = steps.next();
      if (next.done) {
        this.current = null;
        job.done(next.value);
        return true;
      }
      if (job.isTold) this.tell(next.value);
    } while (this.now() < until);
    return false;
  }

  /** Tells progress where it shows: in words and whole percents. */
  private tell(progress: Progress): void {
    const shown = `${progress.doing} ${Math.round((100 * progress.done) / progress.total)}`;
    if (shown === this.shown) return;
    this.shown = shown;
    this.onProgress(progress);
  }

  /** Gives up what was begun. */
  drop(): void {
    if (this.current) giveUp(this.current.steps);
    this.current = null;
  }
}
