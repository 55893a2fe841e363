import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { benchBrowser } from './browser';
import { benchCore } from './core';

/** npm run bench: everything in one run, so that the ratios compare like with like. `--no-core` and `--no-browser` leave a part out. */
const core = process.argv.includes('--no-core') ? null : await benchCore([2, 12, 24]);
const browser = process.argv.includes('--no-browser') ? null : await benchBrowser(24);
await mkdir('dist', { recursive: true });
await writeFile(path.join('dist', 'bench.json'), JSON.stringify({ core, browser }, null, 2));
