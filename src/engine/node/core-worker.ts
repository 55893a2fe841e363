import { stepBehind } from './behind';
import { isKenosisError, isOutOfSpace } from '../../core/errors';
import { TASKS, type Task } from './tasks';

stepBehind();

/** The entry of a worker thread. Errors with a code are returned, since a thread's border strips them of it. */
export default async function work({ kind, input }: Task) {
  try {
    const perform = TASKS[kind] as (given: typeof input) => Promise<unknown>;
    return { result: await perform(input) };
  } catch (error) {
    if (isKenosisError(error))
      return { refused: { code: error.code, message: error.message, wayOut: error.wayOut } };
    if (isOutOfSpace(error)) return { refused: { code: 'no-space', message: '', wayOut: null } };
    throw error;
  }
}
