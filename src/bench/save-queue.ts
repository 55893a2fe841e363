import type { Cut } from '../core/cut/schema';
import { type api, ApiError, type CutStateFacts } from './api';

/** What the queue tells of its work. */
export interface SaveReport {
  readonly state: 'saved' | 'saving' | 'failed';
  readonly error: ApiError | null;
}

/** What a queue needs of the server; the bench's `api` fits. */
export type SavePort = Pick<typeof api, 'addRevision' | 'move'>;

/**
 * Sends a piece's changes to the server one behind another, so that quick steps never overtake each other. After a
 * failure the changes wait; `retry` sends them again. `onState` is told `replace` when the cut on the bench has to give
 * way to the one that undo or redo brought.
 */
export function createSaveQueue(
  pieceId: string,
  revision: number,
  port: SavePort,
  onState: (state: CutStateFacts, replace: boolean) => void,
  onReport: (report: SaveReport) => void,
) {
  type Job = { readonly cut: Cut; readonly label: string } | 'undo' | 'redo';
  const jobs: Job[] = [];
  let current = revision;
  /** What the last step answered, where that was undo or redo. */
  let newest: CutStateFacts | null = null;
  let running = false;
  let idle: (() => void)[] = [];

  async function run(): Promise<void> {
    if (running) return;
    running = true;
    onReport({ state: 'saving', error: null });
    while (jobs.length > 0) {
      const job = jobs[0]!;
      try {
        const state =
          typeof job === 'string'
            ? await port.move(pieceId, job)
            : await port.addRevision(pieceId, current, job.label, job.cut);
        current = state.revision;
        jobs.shift();
        newest = typeof job === 'string' ? state : null;
        onState(state, newest !== null && jobs.length === 0);
      } catch (error) {
        if (error instanceof ApiError && error.code.startsWith('nothing-to-')) {
          jobs.shift();
          // The steps before it went through without a word, since this one stood behind them.
          if (newest && jobs.length === 0) onState(newest, true);
          continue;
        }
        running = false;
        onReport({
          state: 'failed',
          error: error instanceof ApiError ? error : new ApiError('unexpected', String(error)),
        });
        return;
      }
    }
    running = false;
    onReport({ state: 'saved', error: null });
    for (const done of idle.splice(0)) done();
  }

  return {
    push(job: Job): void {
      jobs.push(job);
      void run();
    },
    retry: () => void run(),
    /** Resolves when everything is saved. */
    whenSaved: (): Promise<void> =>
      jobs.length === 0 && !running
        ? Promise.resolve()
        : new Promise((resolve) => (idle = [...idle, resolve])),
    get revision() {
      return current;
    },
  };
}

export type SaveQueue = ReturnType<typeof createSaveQueue>;
