import { readFile } from 'node:fs/promises';
import { badArgument, isKenosisError, KenosisError } from '../core/errors';
import { FIRST_ROUTINES } from '../core/routine/first-routines';
import { parseRoutineText } from '../core/routine/parse';
import type { Routine } from '../core/routine/settings';
import { wordsOf } from '../core/system-words';

/** The routine of that name, or in that file. Throws `bad-argument`, `bad-routine` and `newer-routine`. */
export async function loadRoutine(name: string): Promise<Routine> {
  const first = FIRST_ROUTINES.find((one) => one.name === name);
  if (first) return first;
  const names = FIRST_ROUTINES.map((one) => one.name).join(', ');
  if (!/[./\\]/.test(name)) throw badArgument('ROUTINE', `one of ${names}, or a file of one`, name);
  try {
    return parseRoutineText(await readFile(name, 'utf8'));
  } catch (error) {
    if (isKenosisError(error))
      throw new KenosisError(error.code, `"${name}": ${error.message}`, { cause: error });
    throw new KenosisError('bad-argument', `ROUTINE: "${name}" cannot be read: ${wordsOf(error)}.`, {
      cause: error,
    });
  }
}
