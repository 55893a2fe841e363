import { spawn } from 'node:child_process';
import { mkdir, readdir, rm, truncate, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../make/files';
import { freshFolder } from '../make/folder';
import { blotches, disc } from '../make/pictures';
import { openPage, startBrowser } from './browser';
import { ask, startServer, type TestServer } from './server';

let folder: string;
let server: TestServer;
let browser: Browser;
let page: Page;
let picture: Buffer;
const problems: string[] = [];

beforeAll(async () => {
  folder = path.join(await freshFolder(), 'data');
  picture = await asSharp(disc(121, 40)).png().toBuffer();
  server = await startServer(folder);
  browser = await startBrowser();
  page = await openPage(browser, problems);
  await page.goto(server.address);
});

afterAll(async () => {
  await browser.close();
  await server.kill();
});

afterEach(() => {
  expect(problems.splice(0)).toEqual([]);
});

const bring = async (name: string, buffer: Buffer) => {
  await page.locator('input[type=file]').setInputFiles({ name, mimeType: 'image/png', buffer });
};
/** Ends the server; a page that is left open would ask it for what it finds. */
const end = async () => {
  await page.goto('about:blank');
  await server.kill();
};
const restart = async () => {
  await end();
  server = await startServer(folder);
  await page.goto(server.address);
};

describe('the Shelf', () => {
  it('refuses half a JPEG, offers to take what can be read, and notes that on the piece', async () => {
    const jpeg = await asSharp(blotches(400, 300, 2))
      .jpeg()
      .toBuffer();
    await bring('half.jpg', Buffer.concat([jpeg.subarray(0, jpeg.length >> 1), Buffer.from([0xff, 0xd9])]));
    await page.getByText('"half.jpg" is damaged').waitFor();
    await page.getByRole('button', { name: 'Take what can be read of half.jpg' }).click();
    await page.getByText('is on the Shelf. Damaged: only what could be read was taken.').waitFor();
    expect(await page.getByText('"half.jpg" is damaged').count()).toBe(0);
    await page.getByLabel('Note: Damaged: only what could be read was taken.').waitFor();
    await page.getByRole('link', { name: 'half.jpg' }).first().click();
    await page.getByLabel('Piece').getByText('Damaged: only what could be read was taken.').waitFor();
    await page.goto(server.address);
  });

  it('says on the Bench that an original was cut short, and is whole when its file comes again', async () => {
    await bring('disc.png', picture);
    await page.getByText('disc.png is on the Shelf.').waitFor();
    const { pieces } = (await (await ask(server, '/api/pieces')).json()) as {
      pieces: { id: string; name: string; sha256: string }[];
    };
    const { id, sha256 } = pieces.find(({ name }) => name === 'disc.png')!;
    await truncate(path.join(folder, 'originals', sha256.slice(0, 2), sha256), 200);
    await page.goto(`${server.address}/bench/${id}`);
    await page
      .getByRole('alert')
      .getByText(/was cut short in the data folder: 200 of \d+ bytes/)
      .waitFor();
    await page.getByRole('link', { name: 'Go to the Shelf' }).click();
    await bring('disc-again.png', picture);
    await page.getByText('is whole again').waitFor();
    expect((await ask(server, `/api/pieces/${id}/master`)).status).toBe(200);
  });

  it('names in the trash what no piece names any more', async () => {
    await mkdir(path.join(folder, 'originals', 'dd'), { recursive: true });
    await writeFile(path.join(folder, 'originals', 'dd', 'd'.repeat(64)), 'orphan');
    await restart();
    await page.getByRole('button', { name: 'Trash' }).click();
    await page.getByText(/1 file that no piece names lies aside in/).waitFor();
    expect(await readdir(path.join(folder, 'originals', 'dd'))).toEqual([]);
  });

  it('shows pieces that are rebuilt from their originals, as they come, and offers the copy', async () => {
    await end();
    for (const ending of ['', '-wal', '-shm'])
      await rm(path.join(folder, `kenosis.sqlite${ending}`), { force: true });
    server = await startServer(folder);
    await page.goto(server.address);
    await page.getByText(/Pieces are being rebuilt from 2 originals/).waitFor();
    await page.getByText(/KENOSIS_RESTORE=kept-\S+ npm start goes back to it/).waitFor();
    await expect.poll(() => page.getByRole('link', { name: /^recovered-/ }).count()).toBe(2);
    await page.getByRole('button', { name: 'Dismiss these notes' }).click();
  });
});

describe('the server', () => {
  /** Starts one that is expected to end at once. */
  const failing = (data: string) =>
    new Promise<{ code: number | null; said: string }>((resolve) => {
      const child = spawn(process.execPath, ['scripts/serve.mjs', '4999'], {
        env: { ...process.env, NODE_ENV: 'production', KENOSIS_DATA: data },
        stdio: ['ignore', 'ignore', 'pipe'],
      });
      let said = '';
      child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
      child.on('exit', (code) => resolve({ code, said }));
    });

  it('ends with one sentence and 1 where the folder is open, is somebody else’s, or its database is damaged', async () => {
    const open = await failing(folder);
    expect(open).toEqual({
      code: 1,
      said: expect.stringMatching(
        /^Kenosis: .* is already open at http:\/\/127\.0\.0\.1:\d+\. .*\n$/,
      ) as string,
    });
    const other = await freshFolder();
    await mkdir(path.join(other, 'originals'));
    await writeFile(path.join(other, 'originals', 'holiday.jpg'), 'theirs');
    const foreign = await failing(other);
    expect(foreign).toEqual({
      code: 1,
      said: expect.stringMatching(/^Kenosis: .* is not empty \(originals\).*\n$/) as string,
    });
    expect(await readdir(path.join(other, 'originals'))).toEqual(['holiday.jpg']);
    await end();
    await writeFile(path.join(folder, 'kenosis.sqlite'), 'scribble');
    const damaged = await failing(folder);
    expect(damaged).toEqual({
      code: 1,
      said: expect.stringMatching(
        /^Kenosis: The database .* is damaged .*KENOSIS_RESTORE=latest npm start.*\n$/,
      ) as string,
    });
    await rm(path.join(folder, 'kenosis.sqlite'));
    server = await startServer(folder);
  });

  it('answers every address and method in words, with a content policy', async () => {
    const answer = (method: string, address: string) =>
      new Promise<{ status: number; policy: string }>((resolve, reject) => {
        const { hostname, port } = new URL(server.address);
        request(
          { hostname, port, method, path: address, headers: { origin: server.address } },
          (response) => {
            response.resume();
            const policy = String(response.headers['content-security-policy'] ?? '');
            resolve({ status: response.statusCode ?? 0, policy });
          },
        )
          .on('error', reject)
          .end();
      });
    for (const [method, address, status, policy] of [
      ['GET', '/api/pieces/%', 400, "default-src 'none'"],
      ['TRACE', '/api/pieces', 405, "default-src 'none'"],
      ['OPTIONS', '/api/pieces', 405, "default-src 'none'"],
      ['POST', '/', 405, "default-src 'none'"],
      ['GET', '/api/nothing/here', 404, "default-src 'none'"],
      ['GET', '/nothing', 404, "default-src 'self'"],
    ] as const)
      expect(await answer(method, address), `${method} ${address}`).toEqual({
        status,
        policy: expect.stringContaining(policy) as string,
      });
  });

  it('takes no JSON over 4 MB, said or unsaid', async () => {
    const body = JSON.stringify({ ids: ['x'.repeat(5_000_000)], trashed: true });
    expect((await ask(server, '/api/trash', { method: 'PUT', body })).status).toBe(413);
    const stream = new Blob([body]).stream();
    const unsaid = await ask(server, '/api/trash', {
      method: 'PUT',
      body: stream,
      duplex: 'half',
    } as RequestInit);
    expect(unsaid.status).toBe(413);
  });
});
