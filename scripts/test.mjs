// npm test: installs what is missing, then types, lint, unit tests, browser tests and a short attack campaign, as much of it side by
// side as the processors have room for. What fails is told at once; the rest is not begun then.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { requirePrograms } from './packages.mjs';
import { requireNode, root, run, step, stop, unpack } from './steps.mjs';

const bin = (name) => path.join(root, 'node_modules', ...name.split('/'));
const reports = mkdtempSync(path.join(tmpdir(), 'kenosis-reports-'));
process.on('exit', () => rmSync(reports, { recursive: true, force: true }));
const counts = { passed: 0, failed: 0 };

function fail(name) {
  console.log(`\n${counts.passed} passed, ${Math.max(1, counts.failed)} failed`);
  stop(`${name} failed; the messages are above.`);
}

/** Runs commands at the same time. */
async function check(name, ...commands) {
  const ended = await step(name, () => Promise.all(commands.map((args) => run(process.execPath, args))));
  if (ended.some(({ code }) => code !== 0)) fail(name);
}

const checkTypes = async () => {
  await check('types of routes', [bin('next/dist/bin/next'), 'typegen']);
  await check('types', [bin('typescript/bin/tsc'), '-p', 'tsconfig.json']);
  await check('types of the core', [bin('typescript/bin/tsc'), '-p', 'src/core/tsconfig.json']);
};

const checkLint = () => check('lint', [bin('oxlint/bin/oxlint'), '--deny-warnings']);

async function checkTests(name, project, env = {}) {
  const file = path.join(reports, `${project}.json`);
  const vitest = [bin('vitest/vitest.mjs'), 'run', '--project', project];
  const { code } = await step(name, () =>
    run(process.execPath, [...vitest, '--reporter=default', '--reporter=json', `--outputFile.json=${file}`], {
      env,
    }),
  );
  const result = JSON.parse(readFileSync(file, 'utf8'));
  counts.passed += result.numPassedTests;
  counts.failed += result.numFailedTests;
  if (code !== 0 || result.numPassedTests === 0) fail(name);
}

/** Half of the attack campaign in short, at most half a minute for each part. */
async function checkAttack(name, only, most) {
  const attack = [path.join(root, 'scripts/tool.mjs'), 'attack', '--seconds', '30', '--only', only];
  await check(`attack campaign in short: ${name}`, [...attack, '--most', most]);
  counts.passed += only.split(',').length;
}

requireNode();
const compile = await unpack({ all: true });
const { buildAll } = await import('./build.mjs');
const { bundleWhatChanged } = await import('./bundle.mjs');
const chromium = requirePrograms();
// What needs no processor of its own goes beside something that does; tests have both, since more of them at a time only wait longer.
await Promise.all([compile(), checkTypes().then(() => buildAll()), checkLint()]);
await bundleWhatChanged();
await checkTests('unit tests of the core', 'core');
await checkTests('unit tests', 'unit');
await checkTests('browser tests', 'browser', { KENOSIS_CHROMIUM: await chromium });
await Promise.all([
  checkAttack('what comes in', 'pictures,formats,doors', '100'),
  checkAttack('what breaks', 'kills,disk,clients,runs', '5'),
]);
console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
