import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';
import { date, numbered, text, whole } from './columns';

/** Proofs with their steps and what was handed over of them, and the PDFs that were brought as grounds. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const within = { transaction };
  await tables.createTable(
    'grounds',
    { sha256: { ...text(), primaryKey: true }, name: text(), bytes: whole(), created_at: date() },
    within,
  );
  await tables.createTable(
    'proofs',
    {
      id: numbered(),
      name: text(),
      is_template: { type: DataTypes.BOOLEAN, allowNull: false },
      position: whole(),
      last_number: whole(),
      seen: { ...text(), defaultValue: '{}' },
      created_at: date(),
      changed_at: date(),
    },
    within,
  );
  await tables.createTable(
    'proof_steps',
    {
      proof_id: { ...whole(), primaryKey: true },
      number: { ...whole(), primaryKey: true },
      label: text(),
      content: text(),
    },
    within,
  );
  await tables.createTable(
    'proof_files',
    {
      id: numbered(),
      proof_id: whole(),
      ground: text(),
      file_name: text(),
      format: text(),
      sha256: text(),
      bytes: whole(),
      width: whole(),
      height: whole(),
      findings: text(),
      created_at: date(),
    },
    within,
  );
  await tables.addIndex('proof_files', ['proof_id'], { ...within, name: 'proof_files_proof' });
}
