import { open } from 'node:fs/promises';

/** Sees to it that a file's bytes lie on the disk. */
export async function syncFile(path: string): Promise<void> {
  const file = await open(path, 'r+');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}
