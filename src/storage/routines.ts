import { KenosisError } from '../core/errors';
import { FIRST_ROUTINES } from '../core/routine/first-routines';
import { parseRoutineText } from '../core/routine/parse';
import type { Routine } from '../core/routine/settings';
import type { Database } from './database';
import { readable } from './unreadable';

/** All routines: those that were saved and can be read, and the first ones where none of theirs was saved under the same name. */
export async function listRoutines(database: Database): Promise<Routine[]> {
  const rows = await database.models.Routine.findAll({ order: [['name', 'ASC']] });
  const saved = readable(rows, ({ content }) => parseRoutineText(content));
  const names = new Set(saved.map(({ name }) => name));
  return [...FIRST_ROUTINES.filter(({ name }) => !names.has(name)), ...saved];
}

/** The routine of that name; throws `not-found`. */
export async function getRoutine(database: Database, name: string): Promise<Routine> {
  const all = await listRoutines(database);
  const found = all.find((one) => one.name === name);
  if (found) return found;
  const names = all.map((one) => one.name).join(', ');
  throw new KenosisError('not-found', `There is no routine "${name}". There are: ${names}.`);
}

/** Saves a routine under its name; one of that name is replaced. */
export async function saveRoutine(database: Database, routine: Routine): Promise<void> {
  const row = { name: routine.name, content: JSON.stringify(routine) };
  await database.write((transaction) => database.models.Routine.upsert(row, { transaction }));
}

/** Forgets a saved routine; a first one of that name is there again. */
export async function removeRoutine(database: Database, name: string): Promise<void> {
  await database.write((transaction) => database.models.Routine.destroy({ where: { name }, transaction }));
}
