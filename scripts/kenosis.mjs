// The command line. Compiles it when its sources changed, which takes well under a second, then runs it.
import { existsSync, readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './steps.mjs';

const BUNDLE = path.join(root, 'dist', 'kenosis.mjs');
const ROOMS = ['src/cli', 'src/core', 'src/codec', 'src/engine', 'src/server', 'src/storage'];

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(path.join(root, folder), { withFileTypes: true })) {
    const name = path.join(folder, entry.name);
    latest = Math.max(latest, entry.isDirectory() ? newest(name) : statSync(path.join(root, name)).mtimeMs);
  }
  return latest;
}

if (!existsSync(BUNDLE) || statSync(BUNDLE).mtimeMs < Math.max(...ROOMS.map(newest))) {
  const { bundleCommandLine } = await import('./bundle.mjs');
  await bundleCommandLine();
}
await import(pathToFileURL(BUNDLE).href);
