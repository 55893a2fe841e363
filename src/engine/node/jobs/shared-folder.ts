import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { copyFile, link, lstat, mkdir, readdir, rename, rm, rmdir } from 'node:fs/promises';
import path from 'node:path';
import { syncFile } from '../../../codec/sync-file';
import { KenosisError } from '../../../core/errors';

/** How the pictures and results of one sender lie on a folder that all machines see. */
export interface SharedArea {
  /** Where a picture lies that was put there. */
  picture(sha256: string): string;
  /** Where a font or a cutout lies that jobs name. */
  material(sha256: string): string;
  /** Where the results of a job lie; each try has a folder of its own in it. */
  results(jobId: string): string;
}

const HEX = /^[0-9a-f]{64}$/;
const JOB = /^[a-z0-9-]{1,120}$/;

/** The area of a sender. Throws `foreign-folder` for names that could lead elsewhere. */
export function sharedArea(root: string, sender: string): SharedArea {
  const within = (kind: string, name: string, allowed: RegExp) => {
    if (!allowed.test(name) || !JOB.test(sender))
      throw new KenosisError('foreign-folder', `"${sender}/${name}" is no name in the shared folder.`);
    return path.join(root, sender, kind, name);
  };
  return {
    picture: (sha256) => within('pictures', sha256, HEX),
    material: (sha256) => within('materials', sha256, HEX),
    results: (jobId) => within('results', jobId, JOB),
  };
}

/** Puts a copy of a file at a place, whole or not at all; nothing happens where it is there already. */
export async function putCopy(from: string, to: string): Promise<void> {
  if (await lstat(to).catch(() => null)) return;
  const folder = path.dirname(to);
  await mkdir(folder, { recursive: true });
  const half = path.join(folder, `.${randomUUID()}.part`);
  try {
    await copyFile(from, half, constants.COPYFILE_EXCL);
    await syncFile(half);
    await rename(half, to);
  } finally {
    await rm(half, { force: true });
  }
}

/** Gives a whole file a second name that is free, on another disk a copy; the first one stays. */
export async function takeCopy(from: string, to: string): Promise<void> {
  try {
    await link(from, to);
  } catch (error) {
    if (!/^(EXDEV|EPERM|ENOTSUP|EMLINK)$/.test((error as NodeJS.ErrnoException).code ?? '')) throw error;
    await copyFile(from, to, constants.COPYFILE_EXCL);
    await syncFile(to);
  }
}

/** Removes the results of a job: folders of its tries with the files that were made there, and nothing else. */
export async function removeResults(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
    if (!entry.isDirectory() || !/^[0-9a-f-]{36}$/.test(entry.name)) continue;
    await rm(path.join(folder, entry.name), { recursive: true, force: true });
  }
  await rm(folder, { recursive: true, force: true });
}

/** Removes the folders of a sender where nothing is left in them. */
export async function removeEmpty(folder: string): Promise<void> {
  for (const kind of ['pictures', 'materials', 'results', '.'])
    await rmdir(path.join(folder, kind)).catch(() => undefined);
}
