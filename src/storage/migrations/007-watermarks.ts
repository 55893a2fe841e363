import type { QueryInterface, Transaction } from 'sequelize';
import { date, numbered, text, whole } from './columns';

/** Watermarks with their steps, and the fonts that were brought for them. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const within = { transaction };
  await tables.createTable(
    'fonts',
    {
      sha256: { ...text(), primaryKey: true },
      name: text(),
      bytes: whole(),
      facts: text(),
      created_at: date(),
    },
    within,
  );
  await tables.createTable(
    'watermarks',
    {
      id: numbered(),
      name: text(),
      position: whole(),
      last_number: whole(),
      whole: { ...text(), defaultValue: '' },
      created_at: date(),
      changed_at: date(),
    },
    within,
  );
  await tables.createTable(
    'watermark_steps',
    {
      watermark_id: { ...whole(), primaryKey: true },
      number: { ...whole(), primaryKey: true },
      label: text(),
      content: text(),
    },
    within,
  );
}
