import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import path from 'node:path';

/** A Kenosis server of the test's own, on the built application. */
export interface TestServer {
  readonly address: string;
  readonly process: ChildProcess;
  /** Ends it as a power cut would. */
  kill(): Promise<void>;
}

/** Starts a server on a data folder. The application must have been built. */
export async function startServer(
  dataFolder: string,
  options: { demo?: boolean; signal?: AbortSignal; port?: number } = {},
): Promise<TestServer> {
  const port = options.port ?? (await freePort());
  const child = spawn(process.execPath, [path.join(process.cwd(), 'scripts/serve.mjs'), String(port)], {
    env: {
      ...process.env,
      NODE_ENV: 'production',
      KENOSIS_DATA: dataFolder,
      KENOSIS_DEMO: options.demo ? 'few' : '0',
    },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  options.signal?.addEventListener('abort', () => child.kill('SIGKILL'), { once: true });
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  const address = `http://127.0.0.1:${port}`;
  for (let tries = 0; ; tries++) {
    const answer = await fetch(`${address}/api/health`).catch(() => null);
    if (answer?.ok) break;
    if (tries > 1500 || child.exitCode !== null || child.signalCode !== null)
      throw new Error(`The server did not start. ${said}`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return {
    address,
    process: child,
    async kill() {
      child.kill('SIGKILL');
      await ended;
    },
  };
}

/** Asks the server as its own page would. */
export function ask(server: TestServer, address: string, init: RequestInit = {}): Promise<Response> {
  return fetch(server.address + address, { ...init, headers: { origin: server.address, ...init.headers } });
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
