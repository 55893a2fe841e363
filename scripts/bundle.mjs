// Bundles a TypeScript entry for Node.js into dist/. Packages stay outside.
import { build } from 'esbuild';
import path from 'node:path';
import { root } from './steps.mjs';

export async function bundle(entry, name) {
  await build({
    absWorkingDir: root,
    entryPoints: [path.join(root, entry)],
    outfile: path.join(root, 'dist', `${name}.mjs`),
    bundle: true,
    packages: 'external',
    platform: 'node',
    target: 'node20',
    format: 'esm',
    sourcemap: 'inline',
    logLevel: 'error',
  });
  return path.join(root, 'dist', `${name}.mjs`);
}
