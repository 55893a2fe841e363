import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { lstat, mkdir, readdir, rename, rm, copyFile } from 'node:fs/promises';
import path from 'node:path';
import type sqlite3 from 'sqlite3';
import { KenosisError } from '../core/errors';
import { DATABASE_FILE, isDatabaseFile, isOwnDatabase, rowsOf, withConnection } from './database-file';
import { linkedFolder } from './file-store';
import { isRealFolder, isThere } from './own-files';

/** How many copies of the database are kept. */
export const BACKUPS = 7;

const FOLDER = 'backups';
const NAME = /^(?:kenosis|kept)-(\d{4}-\d{2}-\d{2}T\d{2}-\d{2}-\d{2})Z(-\d+)?\.sqlite$/;

/** A copy of the database, made at a moment. */
export interface Backup {
  readonly name: string;
  readonly path: string;
  /** In words: `2026-11-27 08:12:00 UTC`. */
  readonly when: string;
}

/** The copies that are kept, newest first. */
export async function listBackups(root: string): Promise<Backup[]> {
  const folder = path.join(root, FOLDER);
  if (!(await isRealFolder(folder))) return [];
  const entries = await readdir(folder, { withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile() && NAME.test(entry.name))
    .map(({ name }) => ({ name, path: path.join(folder, name), when: wordsOf(name) }))
    .sort((a, b) => (orderOf(a.name) < orderOf(b.name) ? 1 : -1));
}

/**
 * Copies the database while it is in use (SQLite's online backup), and lets go of the oldest copies. Where nothing changed
 * since the last copy, that one stands for this moment too, so that restarts do not push out older days.
 */
export async function backUp(root: string, now: Date): Promise<void> {
  const folder = path.join(root, FOLDER);
  if ((await isThere(folder)) && !(await isRealFolder(folder))) throw linkedFolder(folder);
  await mkdir(folder, { recursive: true });
  await sweepHalfCopies(folder);
  const temporary = path.join(folder, `.kenosis-${process.pid}.sqlite`);
  try {
    await withConnection(path.join(root, DATABASE_FILE), 'write', (connection) =>
      copyPages(connection, temporary),
    );
    // So that it can be read by itself, without files beside it.
    await withConnection(temporary, 'write', (copy) => rowsOf(copy, 'PRAGMA journal_mode = DELETE'));
    const [newest] = await listBackups(root);
    if (newest && (await hashOf(newest.path)) === (await hashOf(temporary))) return;
    await rename(temporary, await freeName(folder, now));
  } finally {
    await rm(temporary, { force: true });
  }
  const passing = (await listBackups(root)).filter(({ name }) => name.startsWith('kenosis-'));
  for (const old of passing.slice(BACKUPS)) await rm(old.path, { force: true });
}

/** Removes copies that a kill left half made. The folder's lock is held, so that nobody is making one. */
async function sweepHalfCopies(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true }))
    if (entry.isFile() && /^\.kenosis-\d+\.sqlite(-journal|-wal|-shm)?$/.test(entry.name))
      await rm(path.join(folder, entry.name), { force: true });
}

/** Keeps the newest copy for good, as that of a database which is gone now. Null where there is none. */
export async function keepNewest(root: string): Promise<Backup | null> {
  const [newest] = await listBackups(root);
  if (!newest || newest.name.startsWith('kept-')) return newest ?? null;
  const name = newest.name.replace(/^kenosis-/, 'kept-');
  const to = path.join(path.dirname(newest.path), name);
  await rename(newest.path, to);
  return { ...newest, name, path: to };
}

/**
 * Puts a copy in the place of the database; what stood there is kept beside the copies. `which` is the name of a copy, or
 * `latest` for the newest that is whole. Throws `not-found`. Returns the copy that was taken.
 */
export async function restoreBackup(root: string, which: string, now: Date): Promise<Backup> {
  const all = await listBackups(root);
  const wanted = which === 'latest' ? all : all.filter(({ name }) => name === which);
  for (const backup of wanted) {
    if (!(await isOwnDatabase(backup.path))) continue;
    // Copied beside first, so that a kill leaves either database whole.
    const whole = path.join(root, FOLDER, `.kenosis-${process.pid}.sqlite`);
    await copyFile(backup.path, whole);
    const aside = path.join(root, FOLDER, `replaced-${stampOf(now)}.sqlite`);
    for (const ending of ['', '-wal', '-shm']) {
      const file = path.join(root, DATABASE_FILE + ending);
      if (await isThere(file)) await rename(file, aside + ending);
    }
    await rename(whole, path.join(root, DATABASE_FILE));
    return backup;
  }
  const there = all.map(({ name }) => name).join(', ') || 'none';
  throw new KenosisError(
    'not-found',
    `KENOSIS_RESTORE: expected latest or the name of a whole copy in ${path.join(root, FOLDER)}, got ${which}. There: ${there}. Nothing was changed.`,
  );
}

/** Moves what belonged to a database that is gone or empty out of the way, so that a new one does not begin on it. */
export async function clearRemains(root: string, now: Date): Promise<void> {
  const file = path.join(root, DATABASE_FILE);
  if ((await isDatabaseFile(file)) || ((await isThere(file)) && (await lstat(file)).size > 0)) return;
  for (const ending of ['-wal', '-shm', '-journal']) {
    if (!(await isThere(file + ending))) continue;
    await mkdir(path.join(root, FOLDER), { recursive: true });
    await rename(file + ending, path.join(root, FOLDER, `remains-${stampOf(now)}.sqlite${ending}`));
  }
}

function copyPages(connection: sqlite3.Database, to: string): Promise<void> {
  return new Promise((resolve, reject) => {
    // The types know no backups; the method is documented in the package's own API.
    const backup = (
      connection as unknown as { backup(to: string, done: (error: Error | null) => void): Copying }
    ).backup(to, (error) => {
      if (error) return reject(error);
      backup.step(-1, (failed) => (failed ? reject(failed) : backup.finish(() => resolve())));
    });
  });
}

interface Copying {
  step(pages: number, done: (error: Error | null) => void): void;
  finish(done: () => void): void;
}

async function freeName(folder: string, now: Date): Promise<string> {
  for (let n = 1; ; n++) {
    const file = path.join(folder, `kenosis-${stampOf(now)}${n === 1 ? '' : `-${n}`}.sqlite`);
    if (!(await isThere(file))) return file;
  }
}

function stampOf(date: Date): string {
  return `${date.toISOString().slice(0, 19).replaceAll(':', '-')}Z`;
}

/** Copies of one second are told apart by a number, which counts from 2. */
function orderOf(name: string): string {
  const [, stamp, number] = NAME.exec(name)!;
  return `${stamp} ${(number ?? '-1').slice(1).padStart(6, '0')}`;
}

function wordsOf(name: string): string {
  const [day, time] = NAME.exec(name)![1]!.split('T');
  return `${day} ${time!.replaceAll('-', ':')} UTC`;
}

/** Bytes of a database's header that change with every opening: counters, versions and the token in `user_version`. */
const RESTLESS = [
  [24, 28],
  [60, 64],
  [92, 100],
] as const;

/** SHA-256 of all that a database says. */
async function hashOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  let isHead = true;
  for await (const chunk of createReadStream(file) as AsyncIterable<Buffer>) {
    if (isHead) for (const [from, to] of RESTLESS) chunk.fill(0, from, to);
    isHead = false;
    hash.update(chunk);
  }
  return hash.digest('hex');
}
