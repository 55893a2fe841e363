// Builds the server's worker bundle and the application, when something that goes into them changed.
import { fingerprint, readStamp, root, run, step, stop, writeStamp } from './steps.mjs';
import path from 'node:path';

const INPUTS = ['src', 'next.config.ts', 'postcss.config.mjs', 'tsconfig.json', 'package-lock.json'];
const STAMP = '.next/kenosis-built';

/** Bundles what runs beside the application: the worker threads' entry, and what looks at requests first. */
export async function buildWorker() {
  const { bundle, bundleWorkers } = await import('./bundle.mjs');
  await Promise.all([bundleWorkers(), bundle('src/server/front-door.ts', 'front-door')]);
}

export async function buildAll() {
  await buildWorker();
  const wanted = fingerprint(INPUTS);
  if (readStamp(STAMP) === wanted) return;
  const { code, tail } = await step('building (about two minutes the first time)', () =>
    run(process.execPath, [path.join(root, 'node_modules/next/dist/bin/next'), 'build'], { quiet: true }),
  );
  if (code !== 0) {
    process.stderr.write(tail);
    stop('the build failed; its messages are above.');
  }
  writeStamp(STAMP, wanted);
}

if (process.argv[1] === path.join(root, 'scripts/build.mjs')) await buildAll();
