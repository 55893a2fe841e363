import { DataTypes, type QueryInterface, type Transaction } from 'sequelize';

/** Deliveries in several formats with what was found of their files, and sets of outputs under a name. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  const format = { type: DataTypes.TEXT, allowNull: false, defaultValue: 'png' };
  await tables.addColumn('deliveries', 'format', format, { transaction });
  await tables.addColumn(
    'deliveries',
    'findings',
    { type: DataTypes.TEXT, allowNull: true },
    { transaction },
  );
  await tables.createTable(
    'sets',
    {
      name: { type: DataTypes.TEXT, allowNull: false, primaryKey: true },
      content: { type: DataTypes.TEXT, allowNull: false },
    },
    { transaction },
  );
}
