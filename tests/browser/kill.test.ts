import { readdir } from 'node:fs/promises';
import { request } from 'node:http';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { untouchedCut } from '../../src/core/cut/parse';
import { asSharp } from '../make/files';
import { freshFolder } from '../make/folder';
import { blotches } from '../make/pictures';
import { ask, startServer, type TestServer } from './server';
import { AS_NAMED } from '../../src/core/stages/deliver/settings';

let folder: string;
let server: TestServer;
let picture: Buffer;

beforeAll(async () => {
  folder = await freshFolder();
  picture = await asSharp(blotches(900, 700, 1))
    .png()
    .toBuffer();
  server = await startServer(folder);
});

afterAll(() => server.kill());

async function restart(): Promise<void> {
  await server.kill();
  server = await startServer(folder);
}

const pieces = async () =>
  (
    (await (await ask(server, '/api/pieces')).json()) as {
      pieces: { id: string; name: string; revision: number }[];
    }
  ).pieces;

async function bring(name: string, bytes: Buffer): Promise<string> {
  const response = await ask(server, `/api/pieces?name=${name}`, {
    method: 'POST',
    body: new Uint8Array(bytes),
  });
  return ((await response.json()) as { piece: { id: string } }).piece.id;
}

/** Sends only the first half of a file and keeps the line open. */
function sendHalf(bytes: Buffer): void {
  const { hostname, port } = new URL(server.address);
  const half = request({
    hostname,
    port,
    method: 'POST',
    path: '/api/pieces?name=half.png',
    headers: { origin: server.address, 'content-length': bytes.length },
  });
  half.on('error', () => undefined);
  half.write(bytes.subarray(0, bytes.length / 2));
}

const filesBelow = async (name: string) =>
  (await readdir(path.join(folder, name), { recursive: true, withFileTypes: true })).filter((entry) =>
    entry.isFile(),
  );

describe('when the server is killed', () => {
  it('during an import, the file that was coming in is gone and the pieces before it are whole', async () => {
    const id = await bring('before.png', picture);
    sendHalf(
      await asSharp(blotches(1200, 900, 2))
        .png()
        .toBuffer(),
    );
    await expect.poll(async () => (await filesBelow('incoming')).length, { timeout: 10_000 }).toBe(1);
    await restart();
    expect((await pieces()).map((piece) => piece.id)).toEqual([id]);
    expect(await filesBelow('incoming')).toEqual([]);
    const original = await ask(server, `/api/pieces/${id}/original`);
    expect(Buffer.from(await original.arrayBuffer()).equals(picture)).toBe(true);
  });

  it('keeps saved steps, and undo over the restart', async () => {
    const id = await bring('before.png', picture);
    const cut = { ...untouchedCut(), deliver: { ...AS_NAMED, fileName: 'kept.png', print: null } };
    const saved = await ask(server, `/api/pieces/${id}/revisions`, {
      method: 'POST',
      body: JSON.stringify({ after: 0, label: 'rename the file', cut }),
    });
    expect(saved.status).toBe(201);
    await restart();
    const { state } = (await (await ask(server, `/api/pieces/${id}`)).json()) as {
      state: { cut: unknown; undo: string };
    };
    expect(state).toMatchObject({ cut, undo: 'rename the file' });
    const undone = await ask(server, `/api/pieces/${id}/position`, {
      method: 'POST',
      body: '{"move":"undo"}',
    });
    expect(await undone.json()).toMatchObject({ cut: untouchedCut(), redo: 'rename the file' });
  });
});

describe('the server', () => {
  it('refuses other hosts and origins, and paths into the file system', async () => {
    const evil = await fetch(`${server.address}/api/pieces/${'0'.repeat(16)}`, {
      method: 'PATCH',
      headers: { origin: 'http://evil.example' },
      body: '{"backing":"checker"}',
    });
    expect(evil.status).toBe(403);
    expect(await statusWithHost('rebound.example', '/api/pieces')).toBe(403);
    expect(await statusWithHost('rebound.example', '/')).toBe(403);
    for (const bad of ['..%2f..%2fetc%2fpasswd', '....', 'ABCDEF0123456789']) {
      expect((await ask(server, `/api/pieces/${bad}/original`)).status).toBe(404);
    }
    expect((await ask(server, '/api/deliveries/..%2f1')).status).toBe(400);
  });

  it('sends a strict content policy with every page', async () => {
    const policy = (await ask(server, '/')).headers.get('content-security-policy') ?? '';
    expect(policy).toContain("default-src 'self'");
    expect(policy).toMatch(/script-src 'self' 'nonce-[^']+' 'strict-dynamic';/);
    expect(policy).not.toMatch(/script-src[^;]*unsafe-inline/);
  });

  it('refuses an upload that says it is over 200 MB before taking it', async () => {
    const status = await new Promise<number>((resolve) => {
      const { hostname, port } = new URL(server.address);
      const upload = request({
        hostname,
        port,
        method: 'POST',
        path: '/api/pieces?name=vast.png',
        headers: { origin: server.address, 'content-length': 300_000_000 },
      });
      upload.on('response', (response) => resolve(response.statusCode ?? 0)).on('error', () => resolve(0));
      upload.write(Buffer.alloc(1000));
    });
    expect(status).toBe(413);
  });

  it('takes a large upload whole', async () => {
    const noisy = await noisyPng(3600, 2400);
    expect(noisy.length).toBeGreaterThan(20_000_000);
    const response = await ask(server, '/api/pieces?name=noisy.png', {
      method: 'POST',
      body: new Uint8Array(noisy),
    });
    expect(response.status).toBe(201);
    const { piece } = (await response.json()) as { piece: { id: string } };
    const back = await (await ask(server, `/api/pieces/${piece.id}/original`)).arrayBuffer();
    expect(Buffer.from(back).equals(noisy)).toBe(true);
  });
});

async function statusWithHost(host: string, address: string): Promise<number> {
  const { hostname, port } = new URL(server.address);
  return new Promise((resolve, reject) => {
    request({ hostname, port, path: address, headers: { host } }, (response) => {
      response.resume();
      resolve(response.statusCode ?? 0);
    })
      .on('error', reject)
      .end();
  });
}

async function noisyPng(width: number, height: number): Promise<Buffer> {
  const { randomFillSync } = await import('node:crypto');
  const { default: sharp } = await import('sharp');
  const data = randomFillSync(Buffer.alloc(width * height * 3));
  return sharp(data, { raw: { width, height, channels: 3 } })
    .png({ compressionLevel: 0 })
    .toBuffer();
}
