import type { QueryInterface, Transaction } from 'sequelize';

/** Watermarks were kept a second time with their fonts and cutouts in them; these lie in the file store now. */
export async function up(tables: QueryInterface, transaction: Transaction): Promise<void> {
  await tables.sequelize.query('ALTER TABLE watermarks DROP COLUMN "whole"', { transaction });
}
