// npm run test:changed [-- BASE]: which tests cover what changed since BASE (the last commit), and runs the nearest of them: those that
// import a changed file, or something that does, within its room. Says how many more reach it from farther away.
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { root, run } from './steps.mjs';

const base = process.argv[2] ?? 'HEAD';
const git = (...args) =>
  execFileSync('git', args, { cwd: root, encoding: 'utf8' }).split('\n').filter(Boolean);
const changed = [
  ...git('diff', '--name-only', base),
  ...git('ls-files', '--others', '--exclude-standard'),
].filter((file) => /\.(ts|tsx)$/.test(file) && existsSync(path.join(root, file)));

const files = ['src', 'tests', 'yardstick', 'demo'].flatMap((folder) =>
  readdirSync(path.join(root, folder), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.(ts|tsx)$/.test(entry.name))
    .map((entry) => path.relative(root, path.join(entry.parentPath ?? entry.path, entry.name))),
);
const known = new Set(files);

/** file -> files that import it */
const importers = new Map(files.map((file) => [file, []]));
for (const file of files)
  for (const [, to] of readFileSync(path.join(root, file), 'utf8').matchAll(
    /(?:from|import\()\s*'(\.[^']*)'/g,
  )) {
    const place = path.join(path.dirname(file), to);
    const found = [`${place}.ts`, `${place}.tsx`, place].find((one) => known.has(one));
    if (found) importers.get(found).push(file);
  }

const isTest = (file) => /\.test\.tsx?$/.test(file);
/** How many imports away each file is that a change can reach. */
const away = new Map(changed.map((file) => [file, 0]));
for (const queue = [...away.keys()]; queue.length > 0;) {
  const file = queue.shift();
  for (const one of importers.get(file) ?? [])
    if (!away.has(one)) {
      away.set(one, away.get(file) + 1);
      queue.push(one);
    }
}
const tests = [...away.keys()].filter(isTest).sort((a, b) => away.get(a) - away.get(b));
const rooms = new Set(changed.map((file) => path.dirname(file)));
const isNear = (test) => away.get(test) <= 1 || (away.get(test) === 2 && rooms.has(path.dirname(test)));
const near = tests.filter((test) => isNear(test) && !test.startsWith('tests/browser/'));
console.log(`${changed.length} files changed; ${tests.length} test files reach them, nearest first:`);
for (const test of tests)
  console.log(`  ${near.includes(test) ? 'runs ' : '     '} ${away.get(test)}  ${test}`);
if (near.length === 0) process.exit(0);
const vitest = path.join(root, 'node_modules/vitest/vitest.mjs');
const { code } = await run(process.execPath, [
  vitest,
  'run',
  '--project',
  'core',
  '--project',
  'unit',
  ...near,
]);
console.log(`npm test runs the ${tests.length - near.length} others.`);
process.exit(code);
