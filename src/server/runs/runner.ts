import { isKenosisError, isOutOfSpace } from '../../core/errors';
import { wordsOf } from '../../core/system-words';
import type { JobEngine } from '../../engine/node/jobs/job-engine';
import {
  isWaiting,
  recoverItems,
  setRunState,
  settleItem,
  takeItem,
  type Run,
  type RunItem,
} from '../../storage/runs';
import type { House } from '../rooms';
import { carryOutItem } from './carry-out-item';
import type { RunChange, Runs } from './runs';

type Needs = Omit<House, 'runs' | 'watches' | 'recovery' | 'isRecovering' | 'close'>;

interface Active {
  readonly runId: number;
  readonly abort: AbortController;
  readonly work: Promise<void>;
}

/** How long a machine is waited for that cannot write, before it is tried again. */
const AGAIN_MS = 10_000;

/**
 * Carries out the runs of a house: takes pictures that wait from the database, as many at a time as the engine can use, and
 * writes down what became of each. What a process was working on when it was killed waits again at the next start; what was
 * written down is never done again.
 */
export function createRuns(house: Needs, open: () => Promise<JobEngine>): Runs {
  const active = new Map<number, Active>();
  const listeners = new Set<(change: RunChange) => void>();
  let opened: Promise<JobEngine> | null = null;
  let engine: JobEngine | null = null;
  let trouble = '';
  let closing = false;
  let filling: Promise<void> | null = null;
  let again = false;

  const engineOnce = () =>
    (opened ??= open().then(
      (one) => {
        trouble = '';
        return (engine = one);
      },
      (error: unknown) => {
        // It may be there the next time.
        opened = null;
        trouble = isKenosisError(error) ? error.message : wordsOf(error);
        throw error;
      },
    ));
  const tell = (change: RunChange) => {
    for (const listener of listeners) listener(change);
  };

  function wake(): void {
    if (closing) return;
    again = true;
    filling ??= fill()
      .catch((error: unknown) => {
        console.error('Runs stand still:', isKenosisError(error) ? error.message : error);
        setTimeout(wake, AGAIN_MS).unref();
      })
      .finally(() => {
        filling = null;
        if (again) wake();
      });
  }

  async function fill(): Promise<void> {
    again = false;
    if (!(await isWaiting(house.database))) return;
    const { slots } = await engineOnce();
    while (!closing && active.size < slots) {
      const taken = await takeItem(house.database);
      if (!taken) return;
      const { item, run } = taken;
      tell({ runId: run.id, item });
      const abort = new AbortController();
      const work = perform(item, run, abort.signal).finally(() => {
        active.delete(item.id);
        wake();
      });
      active.set(item.id, { runId: run.id, abort, work });
    }
  }

  /** Never rejects: what goes wrong with a picture is written down and leaves the others alone. */
  async function perform(item: RunItem, run: Run, signal: AbortSignal): Promise<void> {
    try {
      const settled = await carryOutItem(house, await engineOnce(), item, run, signal);
      tell({ runId: run.id, item: settled });
    } catch (error) {
      // What was cancelled is written down already, and what a closing house leaves waits for the next start.
      if (signal.aborted || closing) return;
      if (isOutOfSpace(error)) return await pause(item, run, error);
      await fail(item, run, error).catch((trouble: unknown) => console.error(`Run ${run.id}:`, trouble));
    } finally {
      tell({ runId: run.id, item: null });
    }
  }

  async function fail(item: RunItem, run: Run, error: unknown): Promise<void> {
    if (!isKenosisError(error)) console.error(`"${item.name}" of run ${run.id}:`, error);
    // It was cancelled, or settled by somebody else.
    if (isKenosisError(error) && error.code === 'conflict' && item.tries < 3) {
      const waiting = await settleItem(house.database, item.id, {
        ...nothing('waiting', ''),
        ms: null,
      }).catch(() => null);
      if (waiting) tell({ runId: run.id, item: waiting });
      return;
    }
    const message = isKenosisError(error)
      ? error.message
      : `It failed inside Kenosis (${wordsOf(error)}). Nothing of it was delivered; the terminal shows the details.`;
    const failed = await settleItem(house.database, item.id, nothing('failed', message));
    tell({ runId: run.id, item: failed });
  }

  /** On a full disk all others would fail too: the run waits for somebody to make room. */
  async function pause(item: RunItem, run: Run, cause: unknown): Promise<void> {
    const message =
      'The disk is full, so the run was paused. What was delivered is safe and nothing is lost: free some space and resume.';
    console.error(`Run ${run.id} was paused:`, (cause as Error).message);
    try {
      await settleItem(house.database, item.id, nothing('waiting', ''));
      await setRunState(house.database, run.id, 'paused', message);
    } catch {
      // Not even that can be written: the picture waits until it can.
      setTimeout(() => void recoverIdle().then(wake, wake), AGAIN_MS).unref();
    }
  }

  /** What stands as worked on although nobody does. */
  async function recoverIdle(): Promise<void> {
    if (active.size === 0) await recoverItems(house.database);
  }

  return {
    async start() {
      await recoverItems(house.database);
      wake();
    },
    wake,
    stop(runId) {
      for (const one of active.values()) if (one.runId === runId) one.abort.abort();
    },
    tell,
    listen(listener) {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    engine: engineOnce,
    facts: () => ({ words: engine?.words ?? '', slots: engine?.slots ?? 0, trouble }),
    async close() {
      closing = true;
      for (const { abort } of active.values()) abort.abort();
      await filling;
      await Promise.allSettled([...active.values()].map(({ work }) => work));
      await engine?.close();
    },
  };
}

function nothing(state: 'failed' | 'waiting', message: string) {
  return { state, message, sure: null, findings: null, ms: null, laid: null, deliveries: [] } as const;
}
