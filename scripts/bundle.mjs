// Bundles a TypeScript entry for Node.js into dist/, with the packages it uses: finding and reading them one by one, as many as a thousand
// files, takes most of the time of a start. For tools of this house they stay outside.
import { existsSync, readdirSync, renameSync, statSync } from 'node:fs';
import path from 'node:path';
import { root } from './steps.mjs';

/** Packages that have native code or read files of their own, or that only a database or a queue needs. */
const OUTSIDE = [
  'sharp',
  'sqlite3',
  'sequelize',
  'bullmq',
  'ioredis',
  'next',
  'piscina',
  '@cwasm/webp',
  '@cornerstonejs/*',
  '@hyzyla/pdfium',
  'libheif-js',
  'heic-decode',
];

/** What packages of the older kind ask for when they are part of an ES module. */
const REQUIRE = [
  "import { createRequire as createRequireOf } from 'node:module';",
  "import { fileURLToPath as pathOfUrl } from 'node:url';",
  'const require = createRequireOf(import.meta.url);',
  "const __filename = pathOfUrl(import.meta.url), __dirname = pathOfUrl(new URL('.', import.meta.url));",
].join('\n');

/** The bundle appears whole: others may be about to run the one that is there. */
export async function bundle(entry, name, { format = 'esm', packages = 'bundle' } = {}) {
  const ending = format === 'esm' ? 'mjs' : 'cjs';
  const file = path.join(root, 'dist', `${name}.${ending}`);
  const temporary = path.join(root, 'dist', `.${name}-${process.pid}-${Date.now()}.${ending}`);
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: root,
    entryPoints: [path.join(root, entry)],
    outfile: temporary,
    bundle: true,
    ...(packages === 'external' ? { packages } : { external: OUTSIDE }),
    ...(format === 'esm' ? { banner: { js: REQUIRE } } : {}),
    platform: 'node',
    target: 'node20',
    format,
    // Names stay, for whoever reads where an error came from.
    minifyWhitespace: true,
    minifySyntax: true,
    lineLimit: 200,
    logLevel: 'error',
  });
  renameSync(temporary, file);
  return file;
}

/** What runs in threads, of the server and of the command line. */
export async function bundleWorkers() {
  await Promise.all([
    bundle('src/engine/node/core-thread.ts', 'core-thread', { format: 'cjs' }),
    bundle('src/engine/node/core-worker.ts', 'core-worker'),
    bundle('src/engine/node/helper-worker.ts', 'helper-worker'),
  ]);
}

/** The command line: what it is started with, and the commands that need a database or a queue. */
export async function bundleCommandLine() {
  await Promise.all([
    bundleWorkers(),
    bundle('src/cli/runs-main.ts', 'kenosis-runs'),
    bundle('src/cli/main.ts', 'kenosis'),
  ]);
}

const NAMES = ['core-thread.cjs', 'core-worker.mjs', 'helper-worker.mjs', 'kenosis-runs.mjs', 'kenosis.mjs'];
const ROOMS = [
  'src/cli',
  'src/core',
  'src/codec',
  'src/engine',
  'src/server',
  'src/storage',
  'package-lock.json',
];

/** When a file, or the newest one in a folder that is no test, was written. */
function newest(name) {
  const at = path.join(root, name);
  const { mtimeMs } = statSync(at);
  if (!statSync(at).isDirectory()) return name.endsWith('.test.ts') ? 0 : mtimeMs;
  return Math.max(0, ...readdirSync(at).map((entry) => newest(path.join(name, entry))));
}

/** The command line and its threads, bundled where sources are newer than what is there. */
export async function bundleWhatChanged() {
  const files = NAMES.map((name) => path.join(root, 'dist', name));
  const isThere = files.every((file) => existsSync(file));
  const oldest = isThere ? Math.min(...files.map((file) => statSync(file).mtimeMs)) : 0;
  if (oldest < Math.max(...ROOMS.map(newest))) await bundleCommandLine();
}
