import {
  answerItem,
  getItem,
  getRun,
  retryItems,
  setRunState,
  shelveRun,
  undoRun,
  type Run,
  type RunItem,
} from '../../storage/runs';
import type { House } from '../rooms';

export type RunAction = 'pause' | 'resume' | 'cancel' | 'retry' | 'undo' | 'shelve';

/** A run after something was done with it, and what undoing did. */
export interface ChangedRun {
  readonly run: Run;
  readonly undone?: { readonly undone: number; readonly changed: readonly string[] };
}

/** Does something with a run. Throws `not-found` and `conflict`; then nothing was changed. */
export async function changeRun(house: House, id: number, action: RunAction): Promise<ChangedRun> {
  const { database, runs } = house;
  if (action === 'pause') await setRunState(database, id, 'paused');
  else if (action === 'resume') await setRunState(database, id, 'running');
  else if (action === 'shelve') await shelveRun(database, id);
  else if (action === 'retry') await retryItems(database, id);
  else if (action === 'cancel') {
    await setRunState(database, id, 'cancelled');
    runs.stop(id);
  }
  const undone = action === 'undo' ? await undoRun(database, id) : null;
  runs.wake();
  runs.tell({ runId: id, item: null });
  return { run: await getRun(database, id), ...(undone ? { undone } : {}) };
}

/** What somebody says of a picture that was held back. Throws `not-found` and `conflict`. */
export async function answerHeld(
  house: House,
  runId: number,
  number: number,
  answer: 'accept' | 'skip',
): Promise<RunItem> {
  await answerItem(house.database, runId, number, answer);
  const item = await getItem(house.database, runId, number);
  house.runs.tell({ runId, item });
  house.runs.wake();
  return item;
}
