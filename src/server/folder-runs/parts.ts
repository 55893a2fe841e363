import { randomUUID } from 'node:crypto';
import { readdir, rm } from 'node:fs/promises';
import path from 'node:path';

/** `.kenosis-PID-UUID.part`, beside the file it becomes. */
const PART = /^\.kenosis-(\d+)-[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}\.part$/;

/** What stands before and after the letters that make such a name of this process the only one. */
export function partName(): { readonly before: string; readonly after: string } {
  return { before: `.kenosis-${process.pid}-`, after: '.part' };
}

/** A fresh name for a file that is being written. */
export function freshPart(): string {
  const { before, after } = partName();
  return `${before}${randomUUID()}${after}`;
}

/** The process that writes a file of such a name; null for all others. */
export function pidOfPart(name: string): number | null {
  const pid = PART.exec(name)?.[1];
  return pid === undefined ? null : Number(pid);
}

/** Removes what killed processes left half written in a folder: only regular files of our own, whose process is gone. */
export async function sweepParts(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const pid = pidOfPart(entry.name);
    if (pid !== null && entry.isFile() && !isRunning(pid))
      await rm(path.join(folder, entry.name), { force: true });
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
