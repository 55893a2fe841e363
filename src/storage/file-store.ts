import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { access, mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { badArgument } from '../core/errors';

export type Shelfmark = 'originals' | 'deliveries' | 'thumbnails';

/**
 * Large files, beside the database. Originals and deliveries are named by the SHA-256 of their bytes; thumbnails by
 * piece and revision. A file appears under its name only when it is whole: it is written to `incoming`, synced, and
 * renamed.
 */
export interface FileStore {
  readonly root: string;
  /** A fresh name in `incoming`; whoever takes it writes the file and then keeps or drops it. */
  incomingPath(): string;
  /** Where a kept file lies. `key` is hex digits, with hyphens allowed for thumbnails. */
  pathOf(kind: Shelfmark, key: string): string;
  /** Moves a synced file from `incoming` to its place; replaces an equal one that is there already. */
  keep(incoming: string, kind: Shelfmark, key: string): Promise<void>;
  has(kind: Shelfmark, key: string): Promise<boolean>;
  drop(incoming: string): Promise<void>;
  /** Removes a kept file; nothing happens where it is not there. */
  remove(kind: Shelfmark, key: string): Promise<void>;
  /** Removes half-written files, and kept files that no row names. */
  sweep(kind: Shelfmark, isNamed: (key: string) => boolean): Promise<number>;
}

const KINDS: readonly Shelfmark[] = ['originals', 'deliveries', 'thumbnails'];

/** Opens the store below `root`, makes its folders, and empties `incoming` of what a killed process left. */
export async function openFileStore(root: string): Promise<FileStore> {
  const incoming = path.join(root, 'incoming');
  await rm(incoming, { recursive: true, force: true });
  await mkdir(incoming, { recursive: true });
  for (const kind of KINDS) await mkdir(path.join(/*turbopackIgnore: true*/ root, kind), { recursive: true });
  const pathOf = (kind: Shelfmark, key: string) => {
    if (!/^[0-9a-f]{4}[0-9a-f-]{0,100}$/.test(key)) throw badArgument('file key', 'hex digits', key);
    return path.join(root, kind, key.slice(0, 2), key);
  };
  return {
    root,
    incomingPath: () => path.join(incoming, randomUUID()),
    pathOf,
    async keep(from, kind, key) {
      const to = pathOf(kind, key);
      await mkdir(path.dirname(to), { recursive: true });
      await rename(from, to);
      await syncFolder(path.dirname(to));
    },
    has: (kind, key) => exists(pathOf(kind, key)),
    drop: (from) => rm(from, { force: true }),
    remove: (kind, key) => rm(pathOf(kind, key), { force: true }),
    async sweep(kind, isNamed) {
      let removed = 0;
      for (const entry of await readdir(path.join(root, kind), { recursive: true, withFileTypes: true })) {
        if (!entry.isFile() || isNamed(entry.name)) continue;
        await rm(path.join(entry.parentPath, entry.name), { force: true });
        removed++;
      }
      return removed;
    },
  };
}

async function exists(file: string): Promise<boolean> {
  try {
    await access(file, constants.R_OK);
    return true;
  } catch {
    return false;
  }
}

/** Makes a rename survive a power cut; folders cannot be synced on every system, which is no reason to fail. */
async function syncFolder(folder: string): Promise<void> {
  try {
    const handle = await open(folder, 'r');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
  } catch {
    // Not supported here; the file itself was synced.
  }
}
