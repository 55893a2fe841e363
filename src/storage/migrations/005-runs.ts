import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';
import { date, numbered, text, whole } from './columns';

/** Routines, runs with the pictures of each, and folders that are watched. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const within = { transaction };
  await tables.createTable('routines', { name: { ...text(), primaryKey: true }, content: text() }, within);
  await tables.createTable(
    'runs',
    {
      id: numbered(),
      name: text(),
      routine: text(),
      purpose: text(),
      state: text(),
      message: { ...text(), defaultValue: '' },
      date: text(),
      created_at: date(),
      ended_at: { type: DataTypes.DATE, allowNull: true },
    },
    within,
  );
  await tables.createTable(
    'run_items',
    {
      id: numbered(),
      run_id: whole(),
      number: whole(),
      name: text(),
      piece_id: { type: DataTypes.TEXT, allowNull: true },
      state: text(),
      tries: { ...whole(), defaultValue: 0 },
      accepted: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      message: { ...text(), defaultValue: '' },
      sure: { type: DataTypes.BOOLEAN, allowNull: true },
      findings: { type: DataTypes.TEXT, allowNull: true },
      revision: { type: DataTypes.INTEGER, allowNull: true },
      before: { type: DataTypes.INTEGER, allowNull: true },
      deliveries: { ...text(), defaultValue: '[]' },
      ms: { type: DataTypes.INTEGER, allowNull: true },
    },
    within,
  );
  await tables.addIndex('run_items', ['run_id', 'number'], {
    ...within,
    unique: true,
    name: 'run_items_place',
  });
  await tables.addIndex('run_items', ['run_id', 'state'], { ...within, name: 'run_items_state' });
  await tables.createTable(
    'watches',
    {
      id: numbered(),
      folder: text(),
      out: text(),
      routine: text(),
      is_on: { type: DataTypes.BOOLEAN, allowNull: false },
      created_at: date(),
    },
    within,
  );
}
