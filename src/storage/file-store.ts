import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { access, lstat, mkdir, readdir, rename, rm, rmdir } from 'node:fs/promises';
import path from 'node:path';
import { badArgument, KenosisError } from '../core/errors';
import {
  halfWritten,
  isOwnName,
  isRealFolder,
  isThere,
  KINDS,
  ownFiles,
  shardOf,
  type OwnFile,
  type Shelfmark,
} from './own-files';
import { syncFolder } from './sync-folder';

/**
 * Large files, beside the database. Originals, deliveries, grounds, fonts and the cutouts of marks (`materials`) are named by the SHA-256 of their bytes; decisions by
 * piece and time of its import; thumbnails by these and revision; packed cutouts by these and the program that made them. A file appears under its name only when it is whole: it is written to `incoming`, synced, and
 * renamed. Only regular files with names of our own, in real folders, are ever moved or removed.
 */
export interface FileStore {
  readonly root: string;
  /** A fresh name in `incoming`, which is made anew where it went; whoever takes it writes the file and then keeps or drops it. */
  incomingPath(): Promise<string>;
  /** Where a kept file lies. `key` is hex digits, with hyphens allowed for what belongs to a piece. */
  pathOf(kind: Shelfmark, key: string): string;
  /** Moves a synced file from `incoming` to its place; replaces one of that name. */
  keep(incoming: string, kind: Shelfmark, key: string): Promise<void>;
  has(kind: Shelfmark, key: string): Promise<boolean>;
  drop(incoming: string): Promise<void>;
  /** Removes a kept file for good; nothing happens where it is not there, or is not ours. */
  remove(kind: Shelfmark, key: string): Promise<void>;
  /** Removes for good all files of that kind of a piece, but for one that is to stay. */
  removeOf(kind: 'thumbnails' | 'cutouts' | 'decisions', pieceId: string, but?: string): Promise<void>;
  /** Removes for good the oldest files of a kind until those that are left have at most so many bytes. */
  removeOldest(kind: 'cutouts', mostBytes: number): Promise<void>;
  /** The keys of all kept files of a kind. */
  keysOf(kind: Shelfmark): Promise<string[]>;
  /**
   * Lays kept files that no row names, and that came after `since`, into today's folder of `quarantine`, and brings those
   * back that are named again. Returns how many went.
   */
  setAside(kind: Shelfmark, isNamed: (key: string) => boolean, since: Date): Promise<number>;
  /** Removes what has lain in `quarantine` for longer than QUARANTINE_DAYS. Returns how many files went. */
  clearQuarantine(): Promise<number>;
  /** What lies in `quarantine`. */
  quarantined(): Promise<Quarantined>;
}

export interface Quarantined {
  readonly folder: string;
  readonly files: number;
  readonly bytes: number;
  /** How many days they stay at least. */
  readonly days: number;
}

/** How long a file that no row names stays in `quarantine` at least. */
export const QUARANTINE_DAYS = 7;

const DAY_MS = 86_400_000;

/** Opens the store below `root`, makes its folders, and empties `incoming` of what a killed process left. */
export async function openFileStore(root: string, now: () => Date = () => new Date()): Promise<FileStore> {
  const incoming = path.join(root, 'incoming');
  const quarantine = path.join(root, 'quarantine');
  const folderOf = (kind: Shelfmark) => path.join(/*turbopackIgnore: true*/ root, kind);
  const folders = [incoming, quarantine, ...KINDS.map((kind) => folderOf(kind))];
  for (const folder of folders)
    if ((await isThere(folder)) && !(await isRealFolder(folder))) throw linkedFolder(folder);
  for (const folder of folders) await mkdir(folder, { recursive: true });
  for (const file of await halfWritten(incoming)) await rm(file, { force: true });
  const pathOf = (kind: Shelfmark, key: string) => {
    if (!/^[0-9a-f]{4}[0-9a-f-]{0,100}$/.test(key)) throw badArgument('file key', 'hex digits', key);
    return path.join(root, kind, shardOf(key), key);
  };
  const isOurs = async (kind: Shelfmark, key: string) => {
    const file = pathOf(kind, key);
    if (!isOwnName(kind, key)) return false;
    const real = (await isRealFolder(folderOf(kind))) && (await isRealFolder(path.dirname(file)));
    return real && ((await lstat(file).catch(() => null))?.isFile() ?? false);
  };
  const remove: FileStore['remove'] = async (kind, key) => {
    if (await isOurs(kind, key)) await rm(pathOf(kind, key), { force: true });
  };
  return {
    root,
    async incomingPath() {
      await mkdir(incoming, { recursive: true });
      return path.join(incoming, randomUUID());
    },
    pathOf,
    async keep(from, kind, key) {
      const to = pathOf(kind, key);
      const folder = path.dirname(to);
      await mkdir(folder, { recursive: true });
      if (!(await isRealFolder(folder))) throw linkedFolder(folder);
      await rename(from, to);
      await syncFolder(folder);
    },
    has: (kind, key) => exists(pathOf(kind, key)),
    drop: (from) => rm(from, { force: true }),
    remove,
    async removeOf(kind, pieceId, but) {
      const folder = path.dirname(pathOf(kind, pieceId));
      const names = await readdir(folder).catch(() => []);
      for (const name of names)
        if (name !== but && name.startsWith(`${pieceId}-`) && isOwnName(kind, name)) await remove(kind, name);
    },
    async removeOldest(kind, mostBytes) {
      const files: OwnFile[] = [];
      for await (const file of ownFiles(folderOf(kind), kind)) files.push(file);
      let left = files.reduce((sum, { bytes }) => sum + bytes, 0);
      for (const { key, bytes } of files.sort((one, other) => one.modifiedMs - other.modifiedMs)) {
        if (left <= mostBytes) return;
        await remove(kind, key);
        left -= bytes;
      }
    },
    async keysOf(kind) {
      const keys: string[] = [];
      for await (const { key } of ownFiles(folderOf(kind), kind)) keys.push(key);
      return keys;
    },
    async setAside(kind, isNamed, since) {
      for (const day of await daysIn(quarantine))
        for await (const { key, path: file } of filesAside(day, kind))
          if (isNamed(key) && !(await exists(pathOf(kind, key)))) {
            await mkdir(path.dirname(pathOf(kind, key)), { recursive: true });
            await rename(file, pathOf(kind, key));
          }
      let moved = 0;
      for await (const { key, path: file, modifiedMs } of ownFiles(folderOf(kind), kind)) {
        if (isNamed(key) || modifiedMs < since.getTime()) continue;
        const to = path.join(quarantine, dayOf(now()), kind, shardOf(key));
        await mkdir(to, { recursive: true });
        await rename(file, path.join(to, key));
        moved++;
      }
      return moved;
    },
    async clearQuarantine() {
      let removed = 0;
      const latest = dayOf(new Date(now().getTime() - (QUARANTINE_DAYS + 1) * DAY_MS));
      for (const day of await daysIn(quarantine)) {
        if (path.basename(day) > latest) continue;
        for (const kind of KINDS)
          for await (const { path: file } of filesAside(day, kind)) {
            await rm(file, { force: true });
            removed++;
          }
        await removeEmpty(day);
      }
      return removed;
    },
    async quarantined() {
      let files = 0;
      let bytes = 0;
      for (const day of await daysIn(quarantine))
        for (const kind of KINDS)
          for await (const file of filesAside(day, kind)) {
            files++;
            bytes += file.bytes;
          }
      return { folder: quarantine, files, bytes, days: QUARANTINE_DAYS };
    },
  };
}

/** The refusal of a folder of ours that is not a real one. */
export function linkedFolder(folder: string): KenosisError {
  return new KenosisError(
    'foreign-folder',
    `${folder} is not a folder but a link or a file. Kenosis keeps and clears away files in real folders only. Nothing was touched. Put a real folder there, or point KENOSIS_DATA at the place itself.`,
  );
}

/** The day of a date in coordinated universal time, as its folder in `quarantine` is called. */
function dayOf(date: Date): string {
  return date.toISOString().slice(0, 10);
}

async function daysIn(quarantine: string): Promise<string[]> {
  if (!(await isRealFolder(quarantine))) return [];
  const entries = await readdir(quarantine, { withFileTypes: true });
  return entries
    .filter((entry) => entry.isDirectory() && /^\d{4}-\d{2}-\d{2}$/.test(entry.name))
    .map(({ name }) => path.join(quarantine, name));
}

async function* filesAside(day: string, kind: Shelfmark) {
  const folder = path.join(day, kind);
  if (await isRealFolder(folder)) yield* ownFiles(folder, kind);
}

/** Removes folders that hold nothing but empty folders; one that holds anything stays. */
async function removeEmpty(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true }))
    if (entry.isDirectory()) await removeEmpty(path.join(folder, entry.name));
  await rmdir(folder).catch(() => undefined);
}

async function exists(file: string): Promise<boolean> {
  try {
    await access(file, constants.R_OK);
    return true;
  } catch {
    return false;
  }
}
