import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * Where a bundle that runs in a thread lies: beside the bundle that runs, or in `dist` below the folder that the process runs in;
 * null where it is in neither.
 */
export function bundlePath(name: string): string | null {
  const places = [
    path.dirname(fileURLToPath(import.meta.url)),
    path.join(/*turbopackIgnore: true*/ process.cwd(), 'dist'),
  ];
  return places.map((folder) => path.join(folder, name)).find((one) => existsSync(one)) ?? null;
}

/** A name of the program that computes: two that have the same make the same bytes. */
export async function nameProgram(): Promise<string> {
  const file = bundlePath('core-worker.mjs');
  const bytes = file === null ? new Uint8Array() : await readFile(file).catch(() => new Uint8Array());
  return createHash('sha256').update(bytes).digest('hex').slice(0, 12);
}
