import { FIRST_SETS, type OutputSet } from '../core/stages/deliver/sets';
import { parseSetText, setDocument } from '../core/stages/deliver/set-document';
import type { Database } from './database';
import { readable } from './unreadable';

/** All sets: those that were saved and can be read, and the first ones where none of theirs was saved under the same name. */
export async function listSets(database: Database): Promise<OutputSet[]> {
  const rows = await database.models.OutputSet.findAll({ order: [['name', 'ASC']] });
  const saved = readable(rows, ({ content }) => parseSetText(content));
  const names = new Set(saved.map(({ name }) => name));
  return [...FIRST_SETS.filter(({ name }) => !names.has(name)), ...saved];
}

/** Saves a set under its name; one of that name is replaced. */
export async function saveSet(database: Database, set: OutputSet): Promise<void> {
  await database.write(async (transaction) => {
    await database.models.OutputSet.upsert(
      { name: set.name, content: JSON.stringify(setDocument(set)) },
      { transaction },
    );
  });
}

/** Forgets a saved set; a first one of that name is there again. */
export async function removeSet(database: Database, name: string): Promise<void> {
  await database.write(async (transaction) => {
    await database.models.OutputSet.destroy({ where: { name }, transaction });
  });
}
