// npm run demo, npm start, npm run dev, kenosis: installs and builds what changed, starts the server, prints its address.
import { spawn } from 'node:child_process';
import { readFileSync, realpathSync } from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';
import { isInstalled, requireNode, requireWritable, root, step, stop, unpack } from './steps.mjs';

const HOST = '127.0.0.1';
const port = Number(process.env.PORT ?? 4680);
/** An installed program keeps data where it is started, a clone in itself. */
const dataFolder = isInstalled
  ? path.resolve(process.env.KENOSIS_DATA ?? 'kenosis-data')
  : path.resolve(root, process.env.KENOSIS_DATA ?? 'data');
const address = `http://${HOST}:${port}`;

/** Starts the server on the data folder, and ends with it. */
export async function launch({ demo, dev }) {
  requireNode();
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    stop(`PORT: expected a number from 1 to 65535, got ${process.env.PORT}`);
  await requireFreePort(demo);
  await requireFreeData();
  if (!isInstalled) await install(dev);

  const command = dev
    ? ['node_modules/next/dist/bin/next', 'dev', '-H', HOST, '-p', String(port)]
    : ['scripts/serve.mjs', String(port)];
  const server = spawn(
    process.execPath,
    command.map((part, k) => (k === 0 ? path.join(root, part) : part)),
    {
      cwd: root,
      env: {
        ...process.env,
        NEXT_TELEMETRY_DISABLED: '1',
        KENOSIS_DATA: dataFolder,
        KENOSIS_DEMO: demo ? '1' : '0',
        KENOSIS_ADDRESS: address,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    },
  );
  let printed = '';
  server.stdout.on('data', (chunk) => (printed = (printed + chunk).slice(-8000)));
  let explained = false;
  server.stderr.on('data', (chunk) => {
    // The server says in one sentence why it cannot start.
    explained ||= String(chunk).startsWith('Kenosis: ');
    process.stderr.write(chunk);
  });
  let asked = false;
  // All that it said has come by then.
  server.on('close', (code, signal) => {
    if (signal && !asked) stop(`the server was ended from outside (${signal}). What was saved is safe.`);
    if (code && !explained) process.stderr.write(printed);
    process.exit(signal ? 0 : (code ?? 1));
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      asked = true;
      server.kill(signal);
    });

  await step('starting', () => waitUntilReady(server, () => printed));
  console.log(`\nKenosis runs at ${address}\nData are in ${dataFolder}. Ctrl+C ends it.`);
}

/** Installs and builds what changed; the addon is compiled beside the build. */
async function install(dev) {
  requireWritable(root, 'the program folder');
  const compile = await unpack({ all: dev });
  const { buildAll, buildWorker } = await import('./build.mjs');
  await Promise.all([compile(), dev ? buildWorker() : buildAll()]);
}

async function requireFreePort(demo) {
  const free = await new Promise((resolve) => {
    const probe = createServer()
      .once('error', () => resolve(false))
      .once('listening', () => probe.close(() => resolve(true)))
      .listen(port, HOST);
  });
  if (free) return;
  const answer = await health();
  if (answer?.product === 'kenosis') stop(`is running already at ${address} (data in ${answer.dataFolder}).`);
  stop(
    `port ${port} is used by another program. End that one, or choose another port: PORT=4681 ${isInstalled ? `kenosis${demo ? ' demo' : ''}` : `npm ${demo ? 'run demo' : 'start'}`}`,
  );
}

/** Says so before anything is installed or built; the server itself holds a lock and cannot be mistaken. */
async function requireFreeData() {
  let open;
  try {
    open = JSON.parse(readFileSync(path.join(dataFolder, 'kenosis-open.json'), 'utf8')).address;
  } catch {
    return;
  }
  const answer = typeof open === 'string' ? await health(open) : null;
  if (answer?.product === 'kenosis' && answer.dataFolder === realpathSync(dataFolder))
    stop(
      `${dataFolder} is already open at ${open}. One Kenosis serves one data folder: use that one, or end it first.`,
    );
}

async function waitUntilReady(server, printed) {
  for (let tries = 0; tries < 600; tries++) {
    if ((await health())?.product === 'kenosis') return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  server.kill();
  process.stderr.write(printed());
  stop('the server did not answer within two minutes; its messages are above.');
}

async function health(where = address) {
  try {
    const response = await fetch(`${where}/api/health`);
    return await response.json();
  } catch {
    return null;
  }
}

if (process.argv[1] === path.join(root, 'scripts', 'launch.mjs'))
  await launch({ demo: process.argv.includes('--demo'), dev: process.argv.includes('--dev') });
