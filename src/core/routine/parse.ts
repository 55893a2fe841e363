import { sameColorway } from '../cut/colorway-name';
import { checkDocument, readDocument, type DocumentKind } from '../document';
import { KenosisError } from '../errors';
import { ROUTINE_VERSION, routineSchema, type Routine } from './settings';
import { ROUTINE_STEPS } from './upgrade';

const ROUTINE: DocumentKind<Routine> = {
  noun: 'routine',
  version: ROUTINE_VERSION,
  steps: ROUTINE_STEPS,
  schema: routineSchema,
  bad: 'bad-routine',
  newer: 'newer-routine',
};

/**
 * Checks a routine that came from outside. Throws `bad-routine` with the field's path, and `newer-routine` for one that a later
 * Kenosis wrote.
 */
export function parseRoutine(value: unknown): Routine {
  return withDistinctColorways(checkDocument(ROUTINE, value));
}

/** Reads the text of a routine file. Text that is not JSON throws `bad-routine`. */
export function parseRoutineText(text: string): Routine {
  return withDistinctColorways(readDocument(ROUTINE, text));
}

function withDistinctColorways(routine: Routine): Routine {
  const colorways = routine.ink?.colorways ?? [];
  const twice = colorways.find(
    ({ name }, k) => colorways.findIndex((one) => sameColorway(one.name, name)) < k,
  );
  if (twice)
    throw new KenosisError('bad-routine', `routine.ink.colorways: the name ${twice.name} occurs twice`);
  return routine;
}
