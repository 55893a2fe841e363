import { lstat, readdir } from 'node:fs/promises';
import path from 'node:path';

export type Shelfmark =
  'originals' | 'deliveries' | 'thumbnails' | 'cutouts' | 'decisions' | 'grounds' | 'fonts' | 'materials';

/** What large files are kept as, each kind in a folder of that name. */
export const KINDS: readonly Shelfmark[] = [
  'originals',
  'deliveries',
  'thumbnails',
  'cutouts',
  'decisions',
  'grounds',
  'fonts',
  'materials',
];

/** The names that Kenosis gives to files of its own; nothing else is ever moved or removed. */
const NAMES: Readonly<Record<Shelfmark, RegExp>> = {
  originals: /^[0-9a-f]{64}$/,
  deliveries: /^[0-9a-f]{64}$/,
  grounds: /^[0-9a-f]{64}$/,
  fonts: /^[0-9a-f]{64}$/,
  materials: /^[0-9a-f]{64}$/,
  thumbnails: /^[0-9a-f]{16}(-[0-9a-f]{1,16}){1,2}$/,
  cutouts: /^[0-9a-f]{16}(-[0-9a-f]{1,16}){3}$/,
  decisions: /^[0-9a-f]{16}-[0-9a-f]{1,16}$/,
};

const INCOMING = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Whether a name in the folder of a kind is one that Kenosis gives. */
export function isOwnName(kind: Shelfmark, name: string): boolean {
  return NAMES[kind].test(name);
}

/** Under which name something of a piece is kept: with the time it came in, so that one that was deleted and came again has nothing of before. */
export function pieceKey({ id, createdAt }: { readonly id: string; readonly createdAt: string }): string {
  return `${id}-${Date.parse(createdAt).toString(16)}`;
}

/** The folder below that of its kind in which a file lies. */
export function shardOf(key: string): string {
  return key.slice(0, 2);
}

/** A file of ours, where it lies. */
export interface OwnFile {
  readonly key: string;
  readonly path: string;
  readonly bytes: number;
  readonly modifiedMs: number;
}

/** The files of a kind below `folder`: regular files with our names in real folders, each in the shard of its name. */
export async function* ownFiles(folder: string, kind: Shelfmark): AsyncGenerator<OwnFile> {
  for (const shard of await readdir(folder, { withFileTypes: true })) {
    if (!shard.isDirectory() || !/^[0-9a-f]{2}$/.test(shard.name)) continue;
    for (const entry of await readdir(path.join(folder, shard.name), { withFileTypes: true })) {
      if (!entry.isFile() || !isOwnName(kind, entry.name) || shardOf(entry.name) !== shard.name) continue;
      const file = path.join(folder, shard.name, entry.name);
      const facts = await lstat(file).catch(() => null);
      if (facts?.isFile())
        yield { key: entry.name, path: file, bytes: facts.size, modifiedMs: facts.mtimeMs };
    }
  }
}

/** The half-written files in `incoming`: regular files with the names that are given out there. */
export async function halfWritten(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { withFileTypes: true });
  return entries
    .filter((entry) => entry.isFile() && INCOMING.test(entry.name))
    .map(({ name }) => path.join(folder, name));
}

/** Whether a path is a folder itself, not a link to one. */
export async function isRealFolder(folder: string): Promise<boolean> {
  return (await lstat(folder).catch(() => null))?.isDirectory() ?? false;
}

/** Whether anything has that name, be it a link that leads nowhere. */
export async function isThere(file: string): Promise<boolean> {
  return (await lstat(file).catch(() => null)) !== null;
}
