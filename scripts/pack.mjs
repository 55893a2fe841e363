// npm run pack: writes one tarball with the built application, which installs and starts without compiling TypeScript or building.
import {
  cpSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { root, run, step, stop, unpack } from './steps.mjs';

/** What only building needs, and what the build has put into the pages. */
const BUILDING =
  /^(esbuild|typescript|postcss.*|@types\/.*|@mantine\/.*|@tabler\/.*|@tanstack\/.*|@use-gesture\/.*|@fontsource-variable\/.*|recharts|react-is)$/;

const stage = path.join(root, 'dist', 'package');

/** Everything that the program reads when it runs. */
const PARTS = [
  'LICENSE',
  'README.md',
  'public',
  'grounds',
  'demo/pictures',
  'scripts/externals-hook.mjs',
  'scripts/kenosis-bin.mjs',
  'scripts/launch.mjs',
  'scripts/serve.mjs',
  'scripts/steps.mjs',
];

const BUNDLES = [
  'core-thread.cjs',
  'core-worker.mjs',
  'helper-worker.mjs',
  'front-door.mjs',
  'kenosis.mjs',
  'kenosis-runs.mjs',
];

await (
  await unpack()
)();
const { buildAll } = await import('./build.mjs');
await buildAll();
const { bundleCommandLine } = await import('./bundle.mjs');
await bundleCommandLine();
const { transform } = await import('esbuild');
rmSync(stage, { recursive: true, force: true });
mkdirSync(path.join(stage, 'dist'), { recursive: true });
for (const part of PARTS)
  cpSync(path.join(root, part), path.join(stage, part), {
    recursive: true,
    filter: (file) => !file.endsWith('.truth.png'),
  });
for (const name of BUNDLES) cpSync(path.join(root, 'dist', name), path.join(stage, 'dist', name));
// What the build leaves for the next build, and what development needs, stays behind.
cpSync(path.join(root, '.next'), path.join(stage, '.next'), {
  recursive: true,
  filter: (file) =>
    !/[\\/]\.next[\\/](cache|dev|types|trace.*|diagnostics|node_modules)($|[\\/])|\.map$/.test(file),
});
// Names that the build gave to packages outside of it, by links in a folder that no package can hold.
const links = path.join(root, '.next', 'node_modules');
const externals = Object.fromEntries(
  readdirSync(links, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isSymbolicLink())
    .map((entry) => {
      const link = path.join(entry.parentPath ?? entry.path, entry.name);
      const [, name] = /node_modules[\\/]((?:@[^\\/]+[\\/])?[^\\/]+)$/.exec(realpathSync(link));
      return [path.relative(links, link), name];
    }),
);
writeFileSync(path.join(stage, 'scripts', 'externals.json'), JSON.stringify(externals));
const config = readFileSync(path.join(root, 'next.config.ts'), 'utf8');
writeFileSync(path.join(stage, 'next.config.mjs'), (await transform(config, { loader: 'ts' })).code);
const { name, version, description, license, type, engines, bin, dependencies, allowScripts } = JSON.parse(
  readFileSync(path.join(root, 'package.json'), 'utf8'),
);
const own = Object.fromEntries(Object.entries(dependencies).filter(([name]) => !BUILDING.test(name)));
const scripts = { sqlite3: allowScripts.sqlite3 };
writeFileSync(
  path.join(stage, 'package.json'),
  `${JSON.stringify({ name, version, description, license, type, engines, bin, dependencies: own, allowScripts: scripts }, null, 2)}\n`,
);
// npm leaves out what begins with a dot unless it is named, and nothing here is to be left out.
writeFileSync(path.join(stage, '.npmignore'), '');
const { code, tail } = await step('packing', () =>
  run('npm', ['pack', stage, '--pack-destination', path.join(root, 'dist')], { quiet: true }),
);
if (code !== 0) {
  process.stderr.write(tail);
  stop('the package could not be written; the messages of npm are above.');
}
const file = `${name}-${version}.tgz`;
renameSync(path.join(root, 'dist', file), path.join(root, file));
rmSync(stage, { recursive: true });
console.log(
  `${file} is written. npx ./${file} opens the house; npm install -g ./${file} puts kenosis on the path.`,
);
