import type { Cut } from '../core/cut/schema';
import { ApiError, type api, type CutStateFacts } from './api';

/** What the queue tells of its work. */
export interface SaveReport {
  readonly state: 'saved' | 'saving' | 'failed';
  readonly error: ApiError | null;
}

/** How a document's steps are sent to the server, which answers with its state. */
export interface SavePort<D, S> {
  add(after: number, label: string, document: D): Promise<S>;
  move(to: 'undo' | 'redo'): Promise<S>;
  /** The number of the step in force. */
  numberOf(state: S): number;
}

/** The steps of a piece's cut. */
export function cutPort(
  pieceId: string,
  { addRevision, move }: Pick<typeof api, 'addRevision' | 'move'>,
): SavePort<Cut, CutStateFacts> {
  return {
    add: (after, label, cut) => addRevision(pieceId, after, label, cut),
    move: (to) => move(pieceId, to),
    numberOf: ({ revision }) => revision,
  };
}

/**
 * Sends the steps of a document to the server one behind another, so that quick ones never overtake each other. After a
 * failure they wait; `retry` sends them again. `onState` is told `replace` when the document that is shown has to give way to
 * the one that undo or redo brought.
 */
export function createSaveQueue<D, S>(
  number: number,
  port: SavePort<D, S>,
  onState: (state: S, replace: boolean) => void,
  onReport: (report: SaveReport) => void,
) {
  type Job = { readonly document: D; readonly label: string } | 'undo' | 'redo';
  const jobs: Job[] = [];
  let current = number;
  /** What the last step answered, where that was undo or redo. */
  let newest: S | null = null;
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
          typeof job === 'string' ? await port.move(job) : await port.add(current, job.label, job.document);
        current = port.numberOf(state);
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

export type SaveQueue = ReturnType<typeof createSaveQueue<Cut, CutStateFacts>>;
