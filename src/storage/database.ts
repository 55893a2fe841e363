import path from 'node:path';
import PQueue from 'p-queue';
import { Sequelize, Transaction } from 'sequelize';
import sqlite3 from 'sqlite3';
import { Umzug, type UmzugStorage } from 'umzug';
import * as pieces from './migrations/001-pieces';
import * as findingsAndTrash from './migrations/002-findings-and-trash';
import { defineModels, type Models } from './models';

/** The open database. All writing goes through `write`, one transaction after another. */
export interface Database {
  readonly sequelize: Sequelize;
  readonly models: Models;
  /** Runs `work` in an immediate transaction of its own, after all those asked for before. */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

const MIGRATIONS = [
  { name: '001-pieces', up: pieces.up },
  { name: '002-findings-and-trash', up: findingsAndTrash.up },
];

/** Opens (or makes) the database in `folder` and brings its tables up to date. */
export async function openDatabase(folder: string): Promise<Database> {
  const sequelize = new Sequelize({
    dialect: 'sqlite',
    dialectModule: sqlite3,
    storage: path.join(folder, 'kenosis.sqlite'),
    logging: false,
  });
  await sequelize.query('PRAGMA journal_mode = WAL');
  await sequelize.query('PRAGMA synchronous = FULL');
  const models = defineModels(sequelize);
  const queue = new PQueue({ concurrency: 1 });
  const write: Database['write'] = (work) =>
    queue.add(() => sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work));
  await migrate(sequelize, write);
  return {
    sequelize,
    models,
    write,
    async close() {
      await queue.onIdle();
      await sequelize.close();
    },
  };
}

async function migrate(sequelize: Sequelize, write: Database['write']): Promise<void> {
  const tables = sequelize.getQueryInterface();
  await sequelize.query('CREATE TABLE IF NOT EXISTS migrations (name TEXT PRIMARY KEY)');
  const storage: UmzugStorage = {
    // The name is recorded inside the migration's own transaction, below.
    logMigration: () => Promise.resolve(),
    unlogMigration: () => Promise.resolve(),
    async executed() {
      const [rows] = await sequelize.query('SELECT name FROM migrations ORDER BY name');
      return (rows as { name: string }[]).map((row) => row.name);
    },
  };
  const umzug = new Umzug({
    storage,
    logger: undefined,
    migrations: MIGRATIONS.map(({ name, up }) => ({
      name,
      up: () =>
        write(async (transaction) => {
          await up(tables, transaction);
          await sequelize.query('INSERT INTO migrations (name) VALUES (?)', {
            replacements: [name],
            transaction,
          });
        }),
    })),
  });
  await umzug.up();
}
