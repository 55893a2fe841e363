import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';

/** What is to be said of a piece's picture: damage, what its decoder remarked, a name that was lost. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const column = { type: DataTypes.TEXT, allowNull: false, defaultValue: '[]' };
  await tables.addColumn('pieces', 'notes', column, { transaction });
}
