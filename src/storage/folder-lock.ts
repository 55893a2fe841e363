import path from 'node:path';
import type sqlite3 from 'sqlite3';
import { sqliteAddon } from './database-file';

/** A lock on a folder that the operating system lets go of when its process ends, however it ends. */
export interface FolderLock {
  release(): Promise<void>;
}

export const LOCK_FILE = 'kenosis.lock';

/**
 * Takes the lock on a folder; null where another process, or another part of this one, holds it. It is SQLite's
 * exclusive lock on an empty file, so that nothing has to be cleared away after a kill.
 */
export async function lockFolder(folder: string, file = LOCK_FILE): Promise<FolderLock | null> {
  const { Database } = await sqliteAddon();
  const database = await new Promise<sqlite3.Database>((resolve, reject) => {
    const opened: sqlite3.Database = new Database(path.join(folder, file), (error) =>
      error ? reject(error) : resolve(opened),
    );
  });
  const run = (sql: string) =>
    new Promise<void>((resolve, reject) =>
      database.exec(sql, (error) => (error ? reject(error) : resolve())),
    );
  const close = () => new Promise<void>((resolve) => database.close(() => resolve()));
  try {
    await run('PRAGMA busy_timeout = 0; PRAGMA journal_mode = OFF; BEGIN EXCLUSIVE');
  } catch (error) {
    await close();
    if (/SQLITE_BUSY|SQLITE_LOCKED/.test((error as Error).message)) return null;
    throw error;
  }
  return {
    async release() {
      await run('ROLLBACK').catch(() => undefined);
      await close();
    },
  };
}
