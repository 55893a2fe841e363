#!/usr/bin/env node
// kenosis: without a command it opens the house; `kenosis demo` with demo pieces; everything else is the command line.
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { isInstalled, requireNode, root } from './steps.mjs';

requireNode();
const [command] = process.argv.slice(2);
if (command === '--version') {
  console.log(JSON.parse(readFileSync(path.join(root, 'package.json'), 'utf8')).version);
} else if (command === undefined || command === 'demo') {
  const { launch } = await import('./launch.mjs');
  await launch({ demo: command === 'demo', dev: false });
} else if (isInstalled) {
  await import(pathToFileURL(path.join(root, 'dist', 'kenosis.mjs')).href);
} else {
  const packages = path.join(root, 'node_modules');
  if (!existsSync(packages)) {
    const { unpack } = await import('./steps.mjs');
    await (
      await unpack()
    )();
  }
  await import('./kenosis.mjs');
}
