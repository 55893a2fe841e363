import { lstat, realpath, stat } from 'node:fs/promises';
import path from 'node:path';
import { KenosisError } from '../core/errors';
import { STANDARD } from './output';

/** A file that a command names, with the option that names it. */
export interface NamedFile {
  readonly option: string;
  readonly file: string;
}

/**
 * Throws `bad-argument` where a file that is to be written is one that is read, or is written twice: by whatever path, link,
 * case or name.
 */
export async function assertDistinct(
  read: readonly NamedFile[],
  written: readonly NamedFile[],
): Promise<void> {
  const known: (NamedFile & { readonly places: readonly string[]; readonly isRead: boolean })[] = [];
  for (const [named, isRead] of [
    ...read.map((one) => [one, true] as const),
    ...written.map((one) => [one, false] as const),
  ]) {
    const places = await placesOf(named.file, isRead);
    const other = known.find((one) => one.places.some((place) => places.includes(place)));
    // Reading one file in two roles harms nothing, but standard input can be read only once.
    if (other && !(isRead && other.isRead && named.file !== STANDARD)) throw refused(named, other);
    known.push({ ...named, places, isRead });
  }
}

function refused(named: NamedFile, other: NamedFile & { readonly isRead: boolean }): KenosisError {
  const why = other.isRead
    ? `"${named.file}" is the file that ${other.option} reads`
    : `"${named.file}" is the file that ${other.option} writes`;
  return new KenosisError(
    'bad-argument',
    `${named.option}: expected a file of its own, but ${why}. Nothing was written.`,
  );
}

/** Every way in which a file may be told to be the same as another. */
async function placesOf(file: string, isRead: boolean): Promise<string[]> {
  if (file === STANDARD) return [isRead ? 'standard input' : 'standard output'];
  const full = path.resolve(file);
  const places = [await realPlace(full)];
  const facts = await stat(full).catch(() => null);
  // Pipes and devices may be named twice: what is written there replaces nothing.
  if (facts && !facts.isFile()) return [];
  if (facts) places.push(`inode ${facts.dev} ${facts.ino}`);
  const own = await lstat(full).catch(() => null);
  if (own?.isSymbolicLink()) places.push(`inode ${own.dev} ${own.ino}`);
  return places;
}

/** The real path, in one case, since some disks know no other; of a file that is not there yet that of its folder. */
async function realPlace(full: string): Promise<string> {
  const real = await realpath(full).catch(async () => {
    const folder = await realpath(path.dirname(full)).catch(() => path.dirname(full));
    return path.join(folder, path.basename(full));
  });
  return real.normalize('NFC').toLowerCase();
}
