import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';

/**
 * Why a piece was cut as it was proposed. The first databases have no such column; for a while the first migration made it, so
 * that others have it already.
 */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const [columns] = await tables.sequelize.query('PRAGMA table_info(pieces)', { transaction });
  if ((columns as { readonly name: string }[]).some(({ name }) => name === 'reason')) return;
  const column = { type: DataTypes.TEXT, allowNull: false, defaultValue: '' };
  await tables.addColumn('pieces', 'reason', column, { transaction });
}
