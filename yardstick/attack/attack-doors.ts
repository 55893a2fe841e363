import { readFile } from 'node:fs/promises';
import { mkdtemp, rm } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { asSharp } from '../../tests/make/files';
import { disc } from '../../tests/make/pictures';
import { startServer, type TestServer } from '../../tests/browser/server';
import { piecesOn, upload } from './pieces-of-server';
import { Tally, type Limits, type PartReport } from './report';

const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'TRACE'];
const READING = new Set(['GET', 'HEAD']);

/** Origins of pages that are not ours; `own` stands for the server's own. */
const ORIGINS = [
  'own',
  null,
  'null',
  'http://evil.example',
  'https://127.0.0.1',
  'http://127.0.0.1:1',
  'http://127.0.0.1.evil.example',
  'http://localhost.evil.example',
  'file://',
  'http://evil.example, http://127.0.0.1',
];

/** Hosts under which a page of others may reach a server on this machine; `own` stands for the right one. */
const HOSTS = [
  'own',
  'evil.example',
  'rebound.example:4680',
  '127.0.0.1.evil.example',
  'localhost.evil.example',
  '0.0.0.0',
  '127.0.0.2',
  '192.168.0.1',
  '[::]',
  '[::ffff:127.0.0.1]',
  '127.1',
  '2130706433',
  'LOCALHOST.evil',
  'localhost@evil.example',
  'evil.example#localhost',
  '127.0.0.1:999999',
];

/** Ids, numbers and names that are none. */
const FORGED = [
  '%',
  '%2e%2e%2f%2e%2e%2fetc%2fpasswd',
  '..%2f..%2fkenosis.sqlite',
  '%00',
  'ABCDEF0123456789',
  '0123456789abcdef',
  '-1',
  '1e9',
  '99999999999999999999',
  '%F0%9F%AA%81',
  'a'.repeat(4000),
  '%E2%80%AE',
  "'%20OR%201=1",
];

/** One in so many is asked where time is short. */
const SPARSELY = 9;

/** Forged hosts, origins, methods, ids and names on every route that the router itself lists. */
export async function attackDoors(limits: Limits): Promise<PartReport> {
  const tally = new Tally('doors');
  const root = await mkdtemp(path.join(tmpdir(), 'kenosis-attack-'));
  const server = await startServer(path.join(root, 'data'));
  try {
    const { body } = await upload(server, 'here.png', await asSharp(disc(60, 12)).png().toBuffer());
    const before = await stateOf(server);
    const routes = await routesOfBuild();
    tally.figure(`${routes.length} routes: ${routes.join(' ')}`);
    let hurried = 0;
    for (const route of routes) {
      // No route is left out where the time is up: each is asked less.
      const every = Date.now() > limits.until ? SPARSELY : 1;
      if (every > 1) hurried++;
      await forgeHeaders(server, addressOf(route, body.piece!.id), every, tally);
      await forgeAddresses(server, route, every, tally);
    }
    if (hurried > 0) tally.figure(`${hurried} routes were asked one in ${SPARSELY}`);
    tally.expect((await stateOf(server)) === before, 'something was changed by a forged request');
  } finally {
    await server.kill();
    await rm(root, { recursive: true, force: true });
  }
  return tally.report();
}

/** What no forged request may change; findings are counted by the server itself. */
async function stateOf(server: TestServer): Promise<string> {
  const pieces = await piecesOn(server);
  return JSON.stringify(pieces.map(({ id, name, revision, notes }) => ({ id, name, revision, notes })));
}

/** Every page and every route handler, as the built application has them. */
async function routesOfBuild(): Promise<string[]> {
  const manifest = JSON.parse(
    await readFile(path.join(process.cwd(), '.next', 'app-path-routes-manifest.json'), 'utf8'),
  ) as Record<string, string>;
  return [...new Set(Object.values(manifest))].filter((route) => !route.startsWith('/_')).sort();
}

function addressOf(route: string, id: string): string {
  return route
    .replace('[id]', id)
    .replace('[...rest]', 'nothing/here')
    .replaceAll(/\[[^\]]+\]/g, '1');
}

async function forgeHeaders(server: TestServer, address: string, every: number, tally: Tally): Promise<void> {
  const own = new URL(server.address);
  let turn = 0;
  for (const method of METHODS)
    for (const host of HOSTS) {
      if (turn++ % every !== 0) continue;
      const asked = ORIGINS.map(async (origin) => {
        const status = await statusOf(server, method, address, {
          host: host === 'own' ? own.host : host,
          origin: origin === 'own' ? own.origin : origin,
        });
        tally.count('headers forged');
        const told = `${method} ${address} host ${host} origin ${origin}: ${status}`;
        if (host !== 'own') return tally.expect(status === 403 || status === 400, told);
        if (READING.has(method)) return tally.expect(status < 500 && status !== 403, told);
        if (origin !== 'own') return tally.expect(status === 403 || status === 405 || status === 404, told);
        return undefined;
      });
      await Promise.all(asked);
    }
}

async function forgeAddresses(server: TestServer, route: string, every: number, tally: Tally): Promise<void> {
  const own = new URL(server.address);
  const head = { host: own.host, origin: own.origin };
  const forged = route.includes('[')
    ? FORGED.map((id) => route.replace(/\[[^\]]+\]/, id))
    : FORGED.map((name) => `${route}?name=${name}&revision=${name}&damaged=${name}`);
  let turn = 0;
  for (const address of forged)
    for (const method of METHODS) {
      if (turn++ % every !== 0) continue;
      // An upload under a forged name is an upload; its body here is empty, so that nothing comes of it.
      const status = await statusOf(server, method, address, head);
      tally.count('addresses forged');
      tally.expect(status >= 200 && status < 500, `${method} ${address.slice(0, 80)}: ${status}`);
    }
}

function statusOf(
  server: TestServer,
  method: string,
  address: string,
  headers: { readonly host: string; readonly origin: string | null },
): Promise<number> {
  const { hostname, port } = new URL(server.address);
  return new Promise((resolve) => {
    const { host, origin } = headers;
    const asked = httpRequest(
      {
        hostname,
        port,
        method,
        path: address,
        agent: false,
        headers: { host, ...(origin === null ? {} : { origin }) },
      },
      (response) => {
        response.resume();
        response.on('end', () => resolve(response.statusCode ?? 0));
        response.on('error', () => resolve(response.statusCode ?? 0));
      },
    );
    asked.setTimeout(15_000, () => asked.destroy());
    asked.on('error', () => resolve(0));
    asked.end();
  });
}
