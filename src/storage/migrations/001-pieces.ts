import type { QueryInterface, Transaction } from 'sequelize';
import { date, number, numbered, text, whole } from './columns';

const pieceId = () => ({ ...text(), references: { model: 'pieces', key: 'id' }, onDelete: 'CASCADE' });

/** Pieces, their revisions, their deliveries, and settings of the data folder. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  await tables.createTable(
    'pieces',
    {
      id: { ...text(), primaryKey: true },
      sha256: { ...text(), unique: true },
      name: text(),
      format: text(),
      bytes: whole(),
      width: whole(),
      height: whole(),
      dpi: number(),
      backing: text(),
      position: whole(),
      last_number: whole(),
      created_at: date(),
    },
    { transaction },
  );
  await tables.createTable(
    'revisions',
    {
      piece_id: { ...pieceId(), primaryKey: true },
      number: { ...whole(), primaryKey: true },
      label: text(),
      cut: text(),
      created_at: date(),
    },
    { transaction },
  );
  await tables.createTable(
    'deliveries',
    {
      id: numbered(),
      piece_id: pieceId(),
      revision: whole(),
      cut: text(),
      file_name: text(),
      sha256: text(),
      pixel_sha256: text(),
      bytes: whole(),
      width: whole(),
      height: whole(),
      dpi: number(),
      transparent: whole(),
      partly: whole(),
      opaque: whole(),
      created_at: date(),
    },
    { transaction },
  );
  await tables.addIndex('deliveries', ['piece_id'], { transaction });
  await tables.createTable(
    'settings',
    { key: { ...text(), primaryKey: true }, value: text() },
    { transaction },
  );
}
