import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Redis } from 'ioredis';

/** A Redis of the test's own on loopback, with a password. */
export interface TestRedis {
  readonly url: string;
  /** The same without the right password. */
  readonly wrongUrl: string;
  /** Bytes that its data take. */
  usedBytes(): Promise<number>;
  /** Names of everything in it. */
  keys(): Promise<string[]>;
  close(): Promise<void>;
}

/** Starts `redis-server`, which has to be installed: `npm test` sees to it. */
export async function startRedis(): Promise<TestRedis> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-redis-'));
  const port = await freePort();
  const password = crypto.randomUUID();
  const child = spawn(
    'redis-server',
    [
      '--bind',
      '127.0.0.1',
      '--port',
      String(port),
      '--requirepass',
      password,
      '--save',
      '',
      '--appendonly',
      'no',
      '--dir',
      folder,
    ],
    { stdio: 'ignore' },
  );
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  let missing: Error | null = null;
  child.once('error', (error) => (missing = error));
  const client = new Redis({
    host: '127.0.0.1',
    port,
    password,
    maxRetriesPerRequest: null,
    retryStrategy: () => 100,
  });
  client.on('error', () => undefined);
  for (let tries = 0; ; tries++) {
    if (missing || tries > 100) {
      client.disconnect();
      throw new Error(
        'redis-server could not be started. Install it (on Debian: apt-get install redis-server).',
        { cause: missing },
      );
    }
    const answer = await Promise.race([client.ping(), new Promise((resolve) => setTimeout(resolve, 100))]);
    if (answer === 'PONG') break;
  }
  return {
    url: `redis://:${password}@127.0.0.1:${port}`,
    wrongUrl: `redis://:wrong@127.0.0.1:${port}`,
    usedBytes: async () => Number(/used_memory_dataset:(\d+)/.exec(await client.info('memory'))![1]),
    keys: () => client.keys('*'),
    async close() {
      client.disconnect();
      child.kill('SIGKILL');
      await ended;
      await rm(folder, { recursive: true, force: true });
    },
  };
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}
