import { execFileSync } from 'node:child_process';

/** The server's worker threads and the command line run from bundles; tests use the same ones. */
export function setup(): void {
  execFileSync(process.execPath, [
    '--input-type=module',
    '-e',
    "import { bundleWhatChanged } from './scripts/bundle.mjs'; await bundleWhatChanged();",
  ]);
}
