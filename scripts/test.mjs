// npm test: installs what is missing, then types, lint, unit tests, browser tests and a short attack campaign. Stops at the
// first that fails.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { requirePrograms } from './packages.mjs';
import { requireNode, root, run, step, stop, unpack } from './steps.mjs';

const bin = (name) => path.join(root, 'node_modules', ...name.split('/'));
const reports = mkdtempSync(path.join(tmpdir(), 'kenosis-reports-'));
process.on('exit', () => rmSync(reports, { recursive: true, force: true }));
const counts = { passed: 0, failed: 0 };

/** Runs commands at the same time. */
async function check(name, ...commands) {
  const ended = await step(name, () => Promise.all(commands.map((args) => run(process.execPath, args))));
  if (ended.some(({ code }) => code !== 0)) {
    console.log(`\n${counts.passed} passed, ${Math.max(1, counts.failed)} failed`);
    stop(`${name} failed; the messages are above.`);
  }
}

async function checkTypesAndLint() {
  await check('types of routes', [bin('next/dist/bin/next'), 'typegen']);
  await check(
    'types and lint',
    [bin('eslint/bin/eslint.js'), '--max-warnings', '0', '.'],
    [bin('typescript/bin/tsc'), '-p', 'tsconfig.json'],
    [bin('typescript/bin/tsc'), '-p', 'src/core/tsconfig.json'],
  );
}

async function checkTests(name, project, env) {
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
  if (code === 0 && result.numPassedTests > 0) return;
  console.log(`\n${counts.passed} passed, ${Math.max(1, counts.failed)} failed`);
  stop(`${name} failed; the messages are above.`);
}

/** The attack campaign in short, at most a minute for each part. */
async function checkAttack() {
  const attack = (...args) => [path.join(root, 'scripts/tool.mjs'), 'attack', '--seconds', '60', ...args];
  await check(
    'attack campaign, in short',
    attack('--only', 'pictures,formats,doors', '--most', '200'),
    attack('--only', 'kills,disk,clients,runs', '--most', '9'),
  );
  counts.passed += 7;
}

requireNode();
const compile = await unpack();
const checkCore = () => checkTests('unit tests of the core', 'core', {});
const [chromium] = await Promise.all([requirePrograms(), compile(), checkTypesAndLint().then(checkCore)]);
const { buildAll } = await import('./build.mjs');
await buildAll();
await checkTests('unit tests', 'unit', {});
await checkTests('browser tests', 'browser', { KENOSIS_CHROMIUM: chromium });
await checkAttack();
console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
