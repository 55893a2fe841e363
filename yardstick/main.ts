import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { benchBrowser } from './browser';
import { benchChanges } from './changes';
import { benchCore } from './core';
import { benchPage } from './page';
import { benchMany } from './many';
import { benchProofs } from './proofs';
import { benchRuns } from './runs';
import { benchSet } from './sets';
import { benchGrowth, benchSpeed } from './speed';
import { benchWatermarks } from './watermarks';

/**
 * npm run bench: everything in one run, so that the ratios compare like with like. `--no-core`, `--no-speed`, `--no-growth`,
 * `--no-many`, `--no-changes`, `--no-set`, `--no-proofs`, `--no-watermarks`, `--no-runs`, `--no-page` and `--no-browser` leave a part out; `--runs PARTS` takes some of
 * large, memory, workers and slider; `--practice FOLDER` has practice pictures.
 */
const at = process.argv.indexOf('--practice');
const practice = at < 0 ? null : (process.argv[at + 1] ?? null);
const core = process.argv.includes('--no-core') ? null : await benchCore([2, 12, 24]);
const speed = process.argv.includes('--no-speed') ? null : await benchSpeed(practice);
const growth = process.argv.includes('--no-growth') ? null : await benchGrowth();
const many = process.argv.includes('--no-many') ? null : await benchMany();
const changes = process.argv.includes('--no-changes') ? null : await benchChanges();
const set = process.argv.includes('--no-set') ? null : await benchSet();
const proofs = process.argv.includes('--no-proofs') ? null : await benchProofs();
const watermarks = process.argv.includes('--no-watermarks') ? null : await benchWatermarks();
const runsAt = process.argv.indexOf('--runs');
const runs = process.argv.includes('--no-runs')
  ? null
  : await benchRuns(runsAt < 0 ? [] : (process.argv[runsAt + 1] ?? '').split(','));
const page = process.argv.includes('--no-page') ? null : await benchPage();
const browser = process.argv.includes('--no-browser') ? null : await benchBrowser(24);
await mkdir('dist', { recursive: true });
await writeFile(
  path.join('dist', 'bench.json'),
  JSON.stringify(
    { core, speed, growth, many, changes, set, proofs, watermarks, runs, page, browser },
    null,
    2,
  ),
);
