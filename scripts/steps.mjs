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

/** Ends the script with a message that a person can act on. */
export function stop(message) {
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
    let tail = '';
    const take = (target) => (chunk) => {
      if (!quiet) target.write(chunk);
      tail = (tail + chunk).slice(-20_000);
    };
    child.stdout.on('data', take(process.stdout));
    child.stderr.on('data', take(process.stderr));
    child.on('error', (error) => resolve({ code: 127, tail: String(error) }));
    child.on('close', (code) => resolve({ code: code ?? 1, tail }));
  });
}

/** Shows a step with its time while it runs. */
export async function step(name, work) {
  const start = Date.now();
  const seconds = () => `${Math.round((Date.now() - start) / 1000)} s`;
  const live = process.stdout.isTTY;
  const timer = live ? setInterval(() => process.stdout.write(`\r  ${name} ... ${seconds()} `), 500) : null;
  if (!live) process.stdout.write(`  ${name} ...\n`);
  try {
    return await work();
  } finally {
    if (timer) clearInterval(timer);
    process.stdout.write(`${live ? '\r' : ''}  ${name}: ${seconds()}          \n`);
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

/** Installs the packages when the lock file changed or they are missing. */
export async function install() {
  const stamp = 'node_modules/.kenosis-installed';
  const wanted = `${fingerprint(['package-lock.json'])} ${process.version} ${process.platform}-${process.arch}`;
  if (readStamp(stamp) === wanted) return;
  const { code, tail } = await step('installing packages (a few minutes the first time)', () =>
    run('npm', ['ci', '--no-audit', '--no-fund'], { quiet: true }),
  );
  if (code !== 0) {
    process.stderr.write(tail);
    if (/gyp|make|g\+\+|python/i.test(tail)) {
      stop(
        'the SQLite addon could not be compiled. It needs python3, make and a C++ compiler (on Debian: apt-get install python3 make g++).',
      );
    }
    stop('npm ci failed; its messages are above.');
  }
  writeStamp(stamp, wanted);
}
