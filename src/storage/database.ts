import { stat } from 'node:fs/promises';
import path from 'node:path';
import PQueue from 'p-queue';
import { QueryTypes, Sequelize, Transaction } from 'sequelize';
import { Umzug, type UmzugStorage } from 'umzug';
import { isOutOfSpace, KenosisError } from '../core/errors';
import { DATABASE_FILE, isDatabaseFile, rowsOf, sqliteAddon, withConnection } from './database-file';
import * as pieces from './migrations/001-pieces';
import * as findingsAndTrash from './migrations/002-findings-and-trash';
import * as notes from './migrations/003-notes';
import * as outputs from './migrations/004-outputs';
import * as runs from './migrations/005-runs';
import * as proofs from './migrations/006-proofs';
import * as watermarks from './migrations/007-watermarks';
import * as reasons from './migrations/008-reasons';
import * as watermarksOnce from './migrations/009-watermarks-once';
import * as shelved from './migrations/010-shelved';
import { defineModels, type Models } from './models';
import { isThere } from './own-files';

/** The open database. All writing goes through `write`, one transaction after another. */
export interface Database {
  readonly sequelize: Sequelize;
  readonly models: Models;
  /** Whether it was made just now, since there was none or an empty file. */
  readonly isNew: boolean;
  /** The number by which the data folder knows it again (SQLite's `user_version`). */
  token(): Promise<number>;
  setToken(token: number): Promise<void>;
  /** Runs `work` in an immediate transaction of its own, after all those asked for before. */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

const MIGRATIONS = [
  { name: '001-pieces', up: pieces.up },
  { name: '002-findings-and-trash', up: findingsAndTrash.up },
  { name: '003-notes', up: notes.up },
  { name: '004-outputs', up: outputs.up },
  { name: '005-runs', up: runs.up },
  { name: '006-proofs', up: proofs.up },
  { name: '007-watermarks', up: watermarks.up },
  { name: '008-reasons', up: reasons.up },
  { name: '009-watermarks-once', up: watermarksOnce.up },
  { name: '010-shelved', up: shelved.up },
];

/**
 * Opens (or makes) the database in `folder` and brings its tables up to date. Where one that is there has to be changed for that,
 * `copy` is called first, and whatever it throws leaves the database as it was. Throws `damaged-database` and `newer-database`
 * before anything is changed, and `no-space` where the disk is full.
 */
export async function openDatabase(
  folder: string,
  copy: () => Promise<void> = () => Promise.resolve(),
): Promise<Database> {
  const file = path.join(folder, DATABASE_FILE);
  const isNew = !(await isThere(file)) || (await stat(file)).size === 0;
  const done = isNew ? [] : await migrationsOf(file);
  try {
    if (!isNew && done.length < MIGRATIONS.length) await copy();
    return await openSound(folder, isNew);
  } catch (cause) {
    if (!isOutOfSpace(cause)) throw cause;
    throw new KenosisError(
      'no-space',
      `The disk with ${folder} is full, so that the database cannot be opened. Nothing was changed. Free some space and start again.`,
      { cause },
    );
  }
}

/**
 * Reads the whole database without changing it. Returns the names of the migrations that were applied to it. Throws
 * `damaged-database`, and `newer-database` where one of them is not known here.
 */
async function migrationsOf(file: string): Promise<string[]> {
  const damaged = (why: string, cause?: unknown) =>
    new KenosisError('damaged-database', `The database ${file} is damaged (${why}).`, { cause });
  if (!(await isDatabaseFile(file))) throw damaged('it does not start as a database does');
  let names: string[];
  try {
    names = await withConnection(file, 'write', async (connection) => {
      const [check] = await rowsOf<{ quick_check: string }>(connection, 'PRAGMA quick_check(1)');
      if (check?.quick_check !== 'ok')
        throw damaged(check?.quick_check.split('\n').pop() ?? 'it cannot be read');
      const [table] = await rowsOf(
        connection,
        "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'migrations'",
      );
      if (!table) return [];
      return (await rowsOf<{ name: string }>(connection, 'SELECT name FROM migrations')).map(
        ({ name }) => name,
      );
    });
  } catch (error) {
    if (isOutOfSpace(error) || !/SQLITE_(CORRUPT|NOTADB|IOERR|ERROR)/.test((error as Error).message))
      throw error;
    throw damaged((error as Error).message, error);
  }
  const unknown = names.find((name) => !MIGRATIONS.some((known) => known.name === name));
  if (unknown !== undefined)
    throw new KenosisError(
      'newer-database',
      `The database ${file} was written by a newer Kenosis (it knows "${unknown}"). Nothing was changed. Start that version.`,
    );
  return names;
}

async function openSound(folder: string, isNew: boolean): Promise<Database> {
  const sequelize = new Sequelize({
    dialect: 'sqlite',
    dialectModule: await sqliteAddon(),
    storage: path.join(folder, DATABASE_FILE),
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
    isNew,
    write,
    async token() {
      const [row] = await sequelize.query<{ user_version: number }>('PRAGMA user_version', {
        type: QueryTypes.SELECT,
      });
      return row!.user_version;
    },
    async setToken(token) {
      await write((transaction) =>
        sequelize.query(`PRAGMA user_version = ${Math.trunc(token)}`, { transaction }),
      );
    },
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
