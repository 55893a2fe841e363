import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';

/** What the checks found last in a piece, and when it was thrown away. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const columns = {
    findings: DataTypes.TEXT,
    findings_revision: DataTypes.INTEGER,
    trashed_at: DataTypes.DATE,
  };
  for (const [name, type] of Object.entries(columns))
    await tables.addColumn('pieces', name, { type, allowNull: true }, { transaction });
}
