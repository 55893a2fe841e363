import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';

/** Whether a piece lies on the Shelf; one that was brought for a run alone does not. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const column = { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true };
  await tables.addColumn('pieces', 'shelved', column, { transaction });
}
