// Bundles a TypeScript entry for Node.js into dist/. Packages stay outside.
import { build } from 'esbuild';
import { renameSync } from 'node:fs';
import path from 'node:path';
import { root } from './steps.mjs';

/** The bundle appears whole: others may be about to run the one that is there. */
export async function bundle(entry, name, format = 'esm') {
  const ending = format === 'esm' ? 'mjs' : 'cjs';
  const file = path.join(root, 'dist', `${name}.${ending}`);
  const temporary = path.join(root, 'dist', `.${name}-${process.pid}-${Date.now()}.${ending}`);
  await build({
    absWorkingDir: root,
    entryPoints: [path.join(root, entry)],
    outfile: temporary,
    bundle: true,
    packages: 'external',
    platform: 'node',
    target: 'node20',
    format,
    sourcemap: 'inline',
    logLevel: 'error',
  });
  renameSync(temporary, file);
  return file;
}

/** What runs in threads, of the server and of the command line. */
export async function bundleWorkers() {
  await Promise.all([
    bundle('src/engine/node/core-thread.ts', 'core-thread', 'cjs'),
    bundle('src/engine/node/core-worker.ts', 'core-worker'),
    bundle('src/engine/node/helper-worker.ts', 'helper-worker'),
  ]);
}

/** The command line: what it is started with, and the commands that need a database or a queue. */
export async function bundleCommandLine() {
  await Promise.all([
    bundleWorkers(),
    bundle('src/cli/runs-main.ts', 'kenosis-runs'),
    bundle('src/cli/main.ts', 'kenosis'),
  ]);
}
