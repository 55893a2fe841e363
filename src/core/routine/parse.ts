import { sameColorway } from '../cut/colorway-name';
import { KenosisError } from '../errors';
import { ROUTINE_VERSION, routineSchema, type Routine } from './settings';

/**
 * Checks a routine that came from outside. Throws `bad-routine` with the field's path, and `newer-routine` for one that a later
 * Kenosis wrote.
 */
export function parseRoutine(value: unknown): Routine {
  const version = (value as { readonly version?: unknown } | null)?.version;
  if (typeof version === 'number' && version > ROUTINE_VERSION)
    throw new KenosisError(
      'newer-routine',
      `routine.version: expected ${ROUTINE_VERSION}, got ${version}; it was written by a newer Kenosis. Nothing was changed. Use that one, or write the routine out of it again.`,
    );
  const result = routineSchema.safeParse(value);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    const place = issue.path
      .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
      .join('');
    const extra =
      issue.code === 'unrecognized_keys' ? `unknown field ${issue.keys.join(', ')}` : issue.message;
    throw new KenosisError('bad-routine', `routine${place}: ${extra}`);
  }
  const routine = result.data;
  const colorways = routine.ink?.colorways ?? [];
  const twice = colorways.find(
    ({ name }, k) => colorways.findIndex((one) => sameColorway(one.name, name)) < k,
  );
  if (twice)
    throw new KenosisError('bad-routine', `routine.ink.colorways: the name ${twice.name} occurs twice`);
  return routine;
}

/** Reads the text of a routine file. Text that is not JSON throws `bad-routine`. */
export function parseRoutineText(text: string): Routine {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (cause) {
    throw new KenosisError('bad-routine', 'routine: expected a JSON document', { cause });
  }
  return parseRoutine(value);
}
