import type { Database } from './database';

/** A fact about the data folder, null where it was never set. */
export async function getSetting(database: Database, key: string): Promise<string | null> {
  return (await database.models.Setting.findByPk(key))?.value ?? null;
}

export async function setSetting(database: Database, key: string, value: string): Promise<void> {
  await database.write((transaction) => database.models.Setting.upsert({ key, value }, { transaction }));
}

export async function removeSetting(database: Database, key: string): Promise<void> {
  await database.write((transaction) => database.models.Setting.destroy({ where: { key }, transaction }));
}
