import { execFileSync } from 'node:child_process';

/** The server's worker threads run from a bundle; tests use the same one. */
export function setup(): void {
  execFileSync(process.execPath, [
    '--input-type=module',
    '-e',
    "import { buildWorker } from './scripts/build.mjs'; await buildWorker();",
  ]);
}
