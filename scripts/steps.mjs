// What the other scripts share. Uses nothing but Node.js, since it runs before anything is installed.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

/** Whether this is the package, built and without its sources. */
export const isInstalled = !existsSync(path.join(root, 'src'));

const children = new Set();

/** Ends the script, and what it started, with a message that a person can act on. */
export function stop(message) {
  for (const child of children) child.kill();
  process.stderr.write(`\nKenosis: ${message}\n`);
  process.exit(1);
}

export function requireNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 9)) {
    stop(
      `needs Node.js 20.9 or newer; this is ${process.versions.node}. Install a newer Node.js and start again.`,
    );
  }
}

export function requireWritable(folder, what) {
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch (error) {
    stop(
      `cannot write to ${what} ${folder} (${error.code}). Give yourself the right to write there, or choose another folder.`,
    );
  }
}

/** Runs a program to its end. Resolves to its exit code and the end of what it printed. */
export function run(command, args, { env = {}, quiet = false } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: root,
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    children.add(child);
    let tail = '';
    const take = (target) => (chunk) => {
      if (!quiet) target.write(chunk);
      tail = (tail + chunk).slice(-20_000);
    };
    child.stdout.on('data', take(process.stdout));
    child.stderr.on('data', take(process.stderr));
    child.on('error', (error) => resolve({ code: 127, tail: String(error) }));
    child.on('close', (code) => {
      children.delete(child);
      resolve({ code: code ?? 1, tail });
    });
  });
}

const running = new Map();
let ticking = null;

/** Shows a step with its time while it runs; several may run side by side. */
export async function step(name, work) {
  const start = Date.now();
  const seconds = () => `${name}: ${Math.round((Date.now() - start) / 1000)} s`;
  const live = process.stdout.isTTY;
  if (live) {
    running.set(name, seconds);
    ticking ??= setInterval(
      () => process.stdout.write(`\r\x1b[K  ${[...running.values()].map((say) => say()).join(', ')} `),
      500,
    );
  } else process.stdout.write(`  ${name} ...\n`);
  try {
    return await work();
  } finally {
    running.delete(name);
    if (running.size === 0) {
      clearInterval(ticking);
      ticking = null;
    }
    process.stdout.write(`${live ? '\r\x1b[K' : ''}  ${seconds()}\n`);
  }
}

/** SHA-256 over the contents of files and folders, in a fixed order. */
export function fingerprint(entries) {
  const hash = createHash('sha256');
  const visit = (file) => {
    if (!existsSync(file)) return;
    if (statSync(file).isDirectory())
      for (const name of readdirSync(file).sort()) visit(path.join(file, name));
    else hash.update(path.relative(root, file)).update('\0').update(readFileSync(file));
  };
  for (const entry of entries) visit(path.join(root, entry));
  return hash.digest('hex');
}

export function readStamp(file) {
  return existsSync(path.join(root, file)) ? readFileSync(path.join(root, file), 'utf8') : null;
}

export function writeStamp(file, value) {
  mkdirSync(path.dirname(path.join(root, file)), { recursive: true });
  writeFileSync(path.join(root, file), value);
}

/** Compilers run on all processors. */
const COMPILING = { JOBS: 'max', npm_config_jobs: 'max' };

const INSTALLED = 'node_modules/.kenosis-installed';

function installWanted() {
  return `${fingerprint(['package-lock.json'])} ${process.version} ${process.platform}-${process.arch}`;
}

/**
 * Downloads the packages when the lock file changed or they are missing: those that the demo needs, or all that tests need. What
 * comes back compiles what has to be compiled, the SQLite addon, which takes a minute or two; all that opens no database can be done
 * meanwhile, building too.
 */
export async function unpack({ all: forTests = false } = {}) {
  const wanted = installWanted();
  const there = readStamp(INSTALLED);
  // Where packages of tests are, they stay.
  const all = forTests || there?.endsWith(' all') === true;
  if (there === `${wanted} all` || (there === wanted && !all)) return () => Promise.resolve();
  const stamp = all ? `${wanted} all` : wanted;
  const npm = async (name, args) => {
    const { code, tail } = await step(name, () =>
      run('npm', [...args, '--no-audit', '--no-fund'], { quiet: true, env: COMPILING }),
    );
    if (code === 0) return;
    process.stderr.write(tail);
    if (/gyp|make|g\+\+|python/i.test(tail)) {
      stop(
        'the SQLite addon could not be compiled. It needs python3, make and a C++ compiler (on Debian: apt-get install python3 make g++).',
      );
    }
    stop(`npm ${args[0]} failed; its messages are above.`);
  };
  if (there === wanted) {
    // What is compiled stays.
    await npm('installing packages for tests', ['install', '--ignore-scripts', '--no-save', '--include=dev']);
    return () => Promise.resolve(writeStamp(INSTALLED, stamp));
  }
  await npm('installing packages', ['ci', '--ignore-scripts', ...(all ? [] : ['--omit=dev'])]);
  return async () => {
    await npm('compiling the SQLite addon (a minute or two the first time)', ['rebuild']);
    writeStamp(INSTALLED, stamp);
  };
}
