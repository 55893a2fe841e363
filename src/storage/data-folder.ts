import { randomInt, randomUUID } from 'node:crypto';
import { chmod, lstat, mkdir, open, readdir, readFile, realpath, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { KenosisError } from '../core/errors';
import { isOwnDatabase, DATABASE_FILE } from './database-file';
import { LOCK_FILE, lockFolder, type FolderLock } from './folder-lock';

/** The file by which a data folder is known to be one. */
export const MARKER_FILE = 'kenosis-data.json';

/** What the process that has the folder open says of itself, and which database it opened. */
const OPEN_FILE = 'kenosis-open.json';

const MARKER_VERSION = 1;

const markerSchema = z.object({
  format: z.literal('kenosis-data'),
  version: z.int().min(1),
  id: z.uuid(),
  created: z.iso.datetime(),
});

const openSchema = z.object({
  pid: z.int(),
  address: z.string().nullable(),
  /** The token of the database that was opened last, and the one that replaces it while the folder is being opened. */
  token: z.int().nullable(),
  next: z.int().nullable(),
});

type OpenNote = z.infer<typeof openSchema>;

/** An open data folder, held by this process alone. */
export interface DataFolder {
  readonly root: string;
  readonly id: string;
  /** Whether a database that carries `token` is the one that was open here last; 0 is carried by none. */
  wasOpenLast(token: number): boolean;
  /**
   * Gives the database, which carries `token` now, another one by `write`, so that it will be known again. Whatever moment
   * a kill comes at, the database carries a token that is noted here.
   */
  remember(token: number, write: (next: number) => Promise<void>): Promise<void>;
  close(): Promise<void>;
}

/** What systems put into folders by themselves. */
const STRAY = new Set([
  'lost+found',
  '.DS_Store',
  'Thumbs.db',
  'desktop.ini',
  LOCK_FILE,
  `${LOCK_FILE}-journal`,
]);

/**
 * Opens a data folder, or makes one where there is nothing. Throws `foreign-folder` for a folder that holds other things,
 * `folder-in-use` where another process has it open, and `newer-database` for one of a later version. Nothing that was
 * there is changed then. A folder from before there were markers is known by its database; `adopt` takes one without.
 */
export async function openDataFolder(
  folder: string,
  options: { readonly address?: string | null; readonly adopt?: boolean } = {},
): Promise<DataFolder> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const root = await realpath(folder);
  const known = await readMarker(root);
  if (!known) await assertOursToTake(root, options.adopt ?? false);
  const lock = await lockFolder(root);
  if (!lock) throw inUse(root, (await readOpenNote(root))?.address ?? null);
  try {
    const id = (known ?? (await readMarker(root)) ?? (await writeMarker(root))).id;
    await closeToOthers(root);
    await sweepHalfNotes(root);
    return await held(root, id, lock, options.address ?? null);
  } catch (error) {
    await lock.release();
    throw error;
  }
}

async function held(root: string, id: string, lock: FolderLock, address: string | null): Promise<DataFolder> {
  const last = await readOpenNote(root);
  const note = (token: number | null, next: number | null): Promise<void> =>
    writeWhole(path.join(root, OPEN_FILE), { pid: process.pid, address, token, next } satisfies OpenNote);
  await note(last?.token ?? null, last?.next ?? null);
  return {
    root,
    id,
    wasOpenLast: (token) => token !== 0 && (token === last?.token || token === last?.next),
    async remember(token, write) {
      const next = randomInt(1, 2 ** 31);
      await note(token, next);
      await write(next);
      await note(next, null);
    },
    close: () => lock.release(),
  };
}

async function readMarker(root: string): Promise<z.infer<typeof markerSchema> | null> {
  const file = path.join(root, MARKER_FILE);
  const facts = await lstat(file).catch(() => null);
  if (!facts) return null;
  const text = facts.isFile() ? await readFile(file, 'utf8') : '';
  const marker = markerSchema.safeParse(jsonOf(text));
  if (!marker.success)
    throw new KenosisError(
      'foreign-folder',
      `${file} is not the marker of a data folder (${marker.error.issues[0]!.path.join('.') || 'no JSON'}). Nothing was touched. If these are your data, delete that one file: the folder is known by its database then.`,
    );
  if (marker.data.version > MARKER_VERSION)
    throw new KenosisError(
      'newer-database',
      `${root} was written by a newer Kenosis (data version ${marker.data.version}, this one knows ${MARKER_VERSION}). Nothing was touched. Start that version.`,
    );
  return marker.data;
}

async function assertOursToTake(root: string, adopt: boolean): Promise<void> {
  const names = (await readdir(root)).filter(
    (name) => !STRAY.has(name) && !name.startsWith(`.${MARKER_FILE}.`),
  );
  if (names.length === 0 || adopt || (await isOwnDatabase(path.join(root, DATABASE_FILE)))) return;
  const some = names.slice(0, 3).join(', ') + (names.length > 3 ? ', ...' : '');
  throw new KenosisError(
    'foreign-folder',
    `${root} is not empty (${some}) and is no data folder of Kenosis: it has no ${MARKER_FILE}. Nothing was touched. Point KENOSIS_DATA at an empty folder, or, where these are your pieces and their database is lost, start once with KENOSIS_ADOPT=1.`,
  );
}

function inUse(root: string, address: string | null): KenosisError {
  return new KenosisError(
    'folder-in-use',
    `${root} is already open ${address ? `at ${address}` : 'by another process'}. One Kenosis serves one data folder: use that one, or end it first.`,
  );
}

async function writeMarker(root: string) {
  const marker = {
    format: 'kenosis-data' as const,
    version: MARKER_VERSION,
    id: randomUUID(),
    created: new Date().toISOString(),
  };
  await writeWhole(path.join(root, MARKER_FILE), marker);
  return marker;
}

async function readOpenNote(root: string): Promise<OpenNote | null> {
  const text = await readFile(path.join(root, OPEN_FILE), 'utf8').catch(() => '');
  const note = openSchema.safeParse(jsonOf(text));
  return note.success ? note.data : null;
}

/** Removes notes that a kill left half written. */
async function sweepHalfNotes(root: string): Promise<void> {
  for (const entry of await readdir(root, { withFileTypes: true }))
    if (entry.isFile() && /^\.kenosis-(data|open)\.json\.[0-9a-f-]{36}$/.test(entry.name))
      await rm(path.join(root, entry.name), { force: true });
}

/** Takes the rights of other users away from the folder and the files at its top, where they have any. */
async function closeToOthers(root: string): Promise<void> {
  const narrow = async (file: string, mode: number) => {
    const facts = await lstat(file).catch(() => null);
    const isOurs = facts !== null && (facts.isFile() || facts.isDirectory());
    if (isOurs && (facts.mode & 0o077) !== 0) await chmod(file, mode).catch(() => undefined);
  };
  await narrow(root, 0o700);
  for (const ending of ['', '-wal', '-shm']) await narrow(path.join(root, DATABASE_FILE + ending), 0o600);
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** Writes a small file so that it is whole or as it was. */
async function writeWhole(file: string, value: unknown): Promise<void> {
  const temporary = path.join(path.dirname(file), `.${path.basename(file)}.${randomUUID()}`);
  try {
    const handle = await open(temporary, 'wx', 0o600);
    try {
      await handle.writeFile(`${JSON.stringify(value, null, 2)}\n`);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(temporary, file);
  } finally {
    await rm(temporary, { force: true });
  }
}
