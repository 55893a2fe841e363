import { link, lstat, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { syncFolder } from '../../storage/sync-folder';
import { hashFile } from '../../engine/node/hash-file';

/** A file that is whole under a name that nobody looks for, and the name that it is to have. */
export interface ToPlace {
  readonly made: string;
  readonly name: string;
  readonly sha256: string;
}

/**
 * Names for files in a folder that nothing there has, and none of `taken`, which they are added to: those of a name that is there
 * get a number. What was being placed when a process was killed keeps the names it was given then.
 */
export async function freeNames<T extends ToPlace>(
  folder: string,
  files: readonly T[],
  taken: Set<string>,
  placedBefore: readonly ToPlace[] = [],
): Promise<T[]> {
  const named: T[] = [];
  const left = [...placedBefore];
  for (const file of files) {
    const at = left.findIndex(
      (one) => one.sha256 === file.sha256 && stemOf(one.name).startsWith(stemOf(file.name)),
    );
    const name = at < 0 ? await freeName(folder, file.name, taken) : left.splice(at, 1)[0]!.name;
    taken.add(name.toLowerCase());
    named.push({ ...file, name });
  }
  return named;
}

async function freeName(folder: string, wanted: string, taken: ReadonlySet<string>): Promise<string> {
  const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(wanted)!;
  let name = wanted;
  for (let n = 2; taken.has(name.toLowerCase()) || (await isThere(path.join(folder, name))); n++)
    name = `${stem}-${n}${ending ?? ''}`;
  return name;
}

function stemOf(name: string): string {
  return name.replace(/\.[^.]*$/, '');
}

/**
 * Gives whole files their names in a folder. Nothing is written over: one that stands there already with the same bytes was placed
 * before a kill, and stays.
 */
export async function placeFiles(folder: string, files: readonly ToPlace[]): Promise<void> {
  for (const { made, name, sha256 } of files) {
    const from = path.join(folder, made);
    const to = path.join(folder, name);
    if (!(await isThere(to))) await giveName(from, to);
    else if ((await hashFile(to)).sha256 !== sha256)
      throw Object.assign(new Error(`${to} was put there meanwhile`), { code: 'EEXIST' });
    await rm(from, { force: true });
  }
  await syncFolder(folder);
}

/** A second name where the disk knows such, which fails where something has it; a new one elsewhere. */
async function giveName(from: string, to: string): Promise<void> {
  try {
    await link(from, to);
  } catch (error) {
    if (!/^(EPERM|ENOTSUP|EOPNOTSUPP|EMLINK|ENOSYS)$/.test((error as NodeJS.ErrnoException).code ?? ''))
      throw error;
    await rename(from, to);
  }
}

/** Moves a file into a folder, under a name that is free there. Returns the name. */
export async function moveInto(folder: string, file: string): Promise<string> {
  const name = await freeName(folder, path.basename(file), new Set());
  await rename(file, path.join(folder, name));
  await syncFolder(folder);
  return name;
}

async function isThere(file: string): Promise<boolean> {
  return (await lstat(file).catch(() => null)) !== null;
}
