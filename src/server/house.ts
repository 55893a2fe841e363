import AsyncLock from 'async-lock';
import path from 'node:path';
import { isKenosisError, isOutOfSpace, KenosisError } from '../core/errors';
import { wordsOf } from '../core/system-words';
import { createCorePool, type CorePool } from '../engine/node/pool';
import { nameProgram } from '../engine/node/bundles';
import { POOL_THREADS } from '../engine/node/pool-threads';
import { backUp, clearRemains, keepNewest, listBackups, restoreBackup } from '../storage/backups';
import { openDataFolder, type DataFolder } from '../storage/data-folder';
import { openDatabase } from '../storage/database';
import { openFileStore } from '../storage/file-store';
import { forgetOtherCutouts } from './cutouts';
import { setAsideUnnamed } from './housekeeping';
import { createOriginals } from './originals';
import type { House } from './rooms';
import { createWatches } from './folder-runs/create-watches';
import { openEngine } from './runs/engine-of-house';
import { createRuns } from './runs/runner';
import { beginRecovery, continueRecovery } from './recover-pieces';

const held = globalThis as { kenosisHouse?: Promise<House> };

/** The house of this process, opened at the first call. */
export function getHouse(): Promise<House> {
  held.kenosisHouse ??= openHouse(dataFolder(), {
    address: process.env.KENOSIS_ADDRESS ?? null,
    adopt: process.env.KENOSIS_ADOPT === '1',
    restore: process.env.KENOSIS_RESTORE ?? null,
  });
  return held.kenosisHouse;
}

export interface OpenOptions {
  /** Where the server is reached, for whoever finds the folder in use. */
  readonly address?: string | null;
  /** Take a folder that has neither marker nor database. */
  readonly adopt?: boolean;
  /** The copy of the database to go back to: its name, or `latest`. */
  readonly restore?: string | null;
  /** Threads that other houses use as well, and that outlive this one; it has its own otherwise. */
  readonly pool?: CorePool;
}

const DAY_MS = 86_400_000;

/**
 * Opens the data folder: takes its lock, opens files and database, copies the database, and sets aside what a killed
 * process left unnamed. Where the database is not the one that was open last (it is new, or a copy was put in its place)
 * nothing is set aside; originals that it does not name become pieces again, in the background. Throws the codes of
 * `openDataFolder` and `openDatabase`; then nothing is held and nothing was removed.
 */
export async function openHouse(folder: string, options: OpenOptions = {}): Promise<House> {
  // What is written from here on is for this user alone.
  if (typeof process.umask === 'function') process.umask(0o077);
  const data = await openDataFolder(folder, options);
  try {
    return await openHeld(data, options);
  } catch (error) {
    await data.close();
    throw error;
  }
}

async function openHeld(data: DataFolder, { restore = null, pool: shared }: OpenOptions): Promise<House> {
  const { root } = data;
  const notices: string[] = [];
  const files = await openFileStore(root);
  if (restore !== null) {
    const backup = await restoreBackup(root, restore, new Date());
    notices.push(
      `The database of ${backup.when} was put in the place of the one that was there, which is kept in ${path.dirname(backup.path)}.`,
    );
  }
  await clearRemains(root, new Date());
  const database = await openDatabase(root, () => copyBeforeChanging(root)).catch((error: unknown) =>
    offeringBackups(root, error),
  );
  try {
    const token = await database.token();
    const isTrusted = restore === null && data.wasOpenLast(token);
    const pool = shared ?? createCorePool(POOL_THREADS);
    const rooms = {
      dataFolder: root,
      database,
      files,
      pool,
      originals: createOriginals(files),
      program: await nameProgram(),
      locks: new AsyncLock({ maxPending: 100_000 }),
      notices,
    };
    const runs = createRuns(rooms, () => openEngine(process.env, rooms.program, `house-${data.id}`));
    const watches = createWatches({ ...rooms, runs });
    const house = { ...rooms, runs, watches };
    await forgetOtherCutouts(house);
    if (isTrusted) await setAsideUnnamed(house);
    else await beginRecovery(database);
    if (database.isNew) {
      const copy = await keepNewest(root);
      if (copy)
        notices.push(
          `The database is missing. A copy of ${copy.when} is there: KENOSIS_RESTORE=${copy.name} npm start goes back to it.`,
        );
    }
    await data.remember(token, (next) => database.setToken(next));
    await backUp(root, new Date()).catch((error: unknown) =>
      notices.push(`The database could not be copied (${(error as Error).message}).`),
    );
    const { notice, over } = await continueRecovery(house);
    if (notice) notices.push(notice);
    const recovery = over.catch((error: unknown) => {
      if (!closing) console.error('Rebuilding pieces was interrupted and goes on at the next start:', error);
    });
    let closing = false;
    let recovering = notice !== null;
    void recovery.then(() => (recovering = false));
    const daily = setInterval(() => void backUp(root, new Date()).catch(console.error), DAY_MS);
    daily.unref();
    return {
      ...house,
      recovery,
      isRecovering: () => recovering,
      async close() {
        closing = true;
        clearInterval(daily);
        await watches.close();
        await runs.close();
        if (!shared) await pool.close();
        await database.close();
        await data.close();
      },
    };
  } catch (error) {
    await database.close();
    throw error;
  }
}

/** The database as the Kenosis before wrote it is kept for good. Throws `no-backup` where it cannot be, `no-space` on a full disk. */
async function copyBeforeChanging(root: string): Promise<void> {
  try {
    await backUp(root, new Date());
    await keepNewest(root);
  } catch (cause) {
    if (isOutOfSpace(cause)) throw cause;
    throw new KenosisError(
      'no-backup',
      `The database in ${root} was written by an older Kenosis and has to be brought up to date, but it could not be copied first (${isKenosisError(cause) ? cause.message : wordsOf(cause)}). Nothing was changed. Make ${path.join(root, 'backups')} a folder that you can write to, and start again.`,
      { cause },
    );
  }
}

async function offeringBackups(root: string, error: unknown): Promise<never> {
  if (!isKenosisError(error) || error.code !== 'damaged-database') throw error;
  const [newest] = await listBackups(root);
  const way = newest
    ? `The newest copy is of ${newest.when}: KENOSIS_RESTORE=latest npm start puts it in its place and keeps the damaged one.`
    : 'There is no copy of it: move it away, and pieces are rebuilt from their originals at the next start.';
  throw new KenosisError(error.code, `${error.message} Nothing was changed. ${way}`, { cause: error });
}

function dataFolder(): string {
  return path.resolve(/*turbopackIgnore: true*/ process.env.KENOSIS_DATA ?? 'data');
}
