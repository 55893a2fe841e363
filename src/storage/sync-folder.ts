import { open } from 'node:fs/promises';

/** Makes a rename survive a power cut; folders cannot be synced on every system, which is no reason to fail. */
export async function syncFolder(folder: string): Promise<void> {
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
