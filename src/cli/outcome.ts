import { isKenosisError } from '../core/errors';
import { wordsOf } from '../core/system-words';

/** The exit code of a cut that was to be sure, or to ask, and is not sure. */
export const NOT_SURE = 4;

/** The exit code of a command that failed. */
export const FAILED = 1;

/** The exit code of wrong arguments. */
export const WRONG = 2;

/** How a command ended that did not do what was asked, in one line. */
export interface Failure {
  readonly exit: typeof FAILED | typeof WRONG | typeof NOT_SURE;
  readonly message: string;
}

/** What an error means to whoever called the command. */
export function failureOf(error: unknown): Failure {
  if (!isKenosisError(error)) {
    const inside = (error as NodeJS.ErrnoException).code ? wordsOf(error) : (error as Error).name;
    return { exit: FAILED, message: `it failed inside (${inside}). Nothing that was there was changed.` };
  }
  const hint = error.wayOut === 'accept-damaged' ? ' (--damaged accept)' : '';
  const message = error.message.replaceAll('\n', ' ') + hint;
  if (error.code === 'bad-argument') return { exit: WRONG, message };
  return { exit: error.code === 'not-sure' ? NOT_SURE : FAILED, message };
}
