import { mkdir, readFile, readdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { BlobReader, BlobWriter, ZipReader, ZipWriter } from '@zip.js/zip.js';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import {
  arrivalSchema,
  cutStateSchema,
  deliverySchema,
  pieceSchema,
  reportSchema,
  routineSchema,
  runEventSchema,
  runItemSchema,
  runSchema,
  shelfPieceSchema,
} from '../../src/server/http/answers';
import { newRoutine } from '../../src/core/routine/first-routines';
import { asSharp, put } from '../make/files';
import { freshFolder } from '../make/folder';
import { blotches, disc } from '../make/pictures';
import { openPage, startBrowser, waitForFullSize } from './browser';
import { ask, startServer, type TestServer } from './server';

let server: TestServer;
let browser: Browser;
let page: Page;
let folder: string;
let pictures: string[];
const problems: string[] = [];

beforeAll(async () => {
  folder = await freshFolder();
  server = await startServer(path.join(folder, 'data'));
  browser = await startBrowser();
  page = await openPage(browser, problems);
  pictures = [];
  for (let k = 0; k < 5; k++)
    pictures.push(
      await put(
        folder,
        `kite-${k}.png`,
        await asSharp(disc(120 + 10 * k, 30))
          .png()
          .toBuffer(),
      ),
    );
  pictures.push(
    await put(
      folder,
      'busy.png',
      await asSharp(blotches(140, 110, 3))
        .png()
        .toBuffer(),
    ),
  );
});

afterAll(async () => {
  await browser.close();
  await server.kill();
});

afterEach(() => {
  expect(problems.splice(0)).toEqual([]);
});

const json = async <T>(address: string, init: RequestInit = {}) =>
  (await (await ask(server, address, init)).json()) as T;

async function openRuns(): Promise<void> {
  await page.goto(`${server.address}/runs`);
  await page.locator('section[aria-label="New run"][aria-busy="false"]').waitFor();
}

async function choose(routine: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Routine' }).first().click();
  await page.getByRole('option', { name: routine, exact: true }).click();
}

async function zipOf(files: readonly string[]): Promise<Buffer> {
  const zip = new ZipWriter(new BlobWriter());
  for (const file of files)
    await zip.add(path.basename(file), new BlobReader(new Blob([await readFile(file)])));
  return Buffer.from(await (await zip.close()).arrayBuffer());
}

describe('a run', () => {
  it('takes a ZIP of a series to a ZIP of cutouts in four actions', async () => {
    await openRuns();
    const archive = await put(folder, 'series.zip', await zipOf(pictures.slice(0, 5)));
    // 1: bring. 2 and 3: choose the routine. 4: begin. 5: take the results.
    await page.locator('input[aria-label="Pictures to run a routine on"]').setInputFiles(archive);
    await choose('product-on-transparent');
    await page.getByRole('button', { name: 'Run product-on-transparent on 5 pictures' }).click();
    await page.getByText('Done:').waitFor();
    await page.getByText('5 delivered').waitFor();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Results as ZIP' }).click(),
    ]);
    const bytes = await readFile(await download.path());
    const entries = await new ZipReader(new BlobReader(new Blob([bytes]))).getEntries();
    expect(entries.map(({ filename }) => filename)).toEqual([
      ...[0, 1, 2, 3, 4].map((k) => `kite-${k}-cutout.png`),
      'report.json',
      'report.csv',
    ]);
  });

  it('keeps what was refused, holds back what is not sure, and is looked through with keys', async () => {
    await openRuns();
    const broken = await put(folder, 'broken.png', 'no picture');
    await page
      .locator('input[aria-label="Pictures to run a routine on"]')
      .setInputFiles([...pictures, broken]);
    await choose('product-on-transparent');
    await page.getByText('1 refused: they stand in the run as failed').waitFor();
    await page.getByRole('button', { name: 'Run product-on-transparent on 6 pictures' }).click();
    await page.getByText('5 delivered, 1 held back, 1 failed').waitFor();
    const table = page.getByRole('table', { name: 'Pictures' });
    // What is done is folded away while something has to be looked at.
    expect(await table.getByText('kite-0.png').count()).toBe(0);
    await table.getByRole('button', { name: 'Done, 5' }).press('Enter');
    await table.getByText('kite-0.png').waitFor();
    await page.getByText('Contact sheet').click();
    await expect
      .poll(() => page.getByRole('list', { name: 'Contact sheet' }).getByRole('listitem').count())
      .toBe(6);

    await page.getByRole('link', { name: 'Look at the one that is not sure' }).click();
    const review = page.getByRole('region', { name: 'Looking through a run' });
    await review.getByText('1 of 1 to look at').waitFor();
    await waitForFullSize(page);
    await page.keyboard.press('t');
    await page.getByText('6 delivered, 1 failed').waitFor();
    expect(page.url()).toMatch(/\/runs\/\d+$/);
  });

  it('is begun with pieces that were selected on the Shelf', async () => {
    await page.goto(server.address);
    await page.getByRole('checkbox', { name: 'Select kite-1.png' }).check({ force: true });
    await page.getByRole('checkbox', { name: 'Select kite-2.png' }).check({ force: true });
    await page.getByRole('link', { name: 'Run a routine on them' }).click();
    await page.getByText('2 pieces selected on the Shelf').waitFor();
    await page.getByRole('button', { name: 'Leave them out' }).click();
    expect(await page.getByRole('button', { name: 'Run', exact: true }).isDisabled()).toBe(true);
  });
});

describe('laying settings on others', () => {
  it('shows the first results, lays them, and takes them back on all', async () => {
    const { pieces } = await json<{ pieces: { id: string; name: string; revision: number }[] }>(
      '/api/pieces',
    );
    const piece = pieces.find(({ name }) => name === 'kite-0.png')!;
    const { state } = await json<{ state: { cut: { edge: object } } }>(`/api/pieces/${piece.id}`);
    const cut = { ...state.cut, edge: { ...state.cut.edge, evenness: 44 } };
    await ask(server, `/api/pieces/${piece.id}/revisions`, {
      method: 'POST',
      body: JSON.stringify({ after: piece.revision, label: 'evenness 44', cut }),
    });
    await page.goto(`${server.address}/bench/${piece.id}`);
    await page.getByRole('link', { name: 'Lay its settings on other pieces' }).click();
    await page.getByRole('textbox', { name: 'Search pieces' }).fill('kite');
    await page.getByRole('button', { name: 'All that are shown' }).click();
    const previews = page.getByRole('region', { name: 'What it gives' });
    await expect.poll(() => previews.getByRole('img').count()).toBe(4);
    await page.getByText('even 44').waitFor();
    await page.getByRole('button', { name: 'Lay on 4 pieces' }).click();
    await page.getByText('4 settings laid').waitFor();
    const evenness = async () => {
      const all = pieces.filter(({ name }) => /^kite-[1-4]/.test(name));
      const cuts = all.map(({ id }) =>
        json<{ state: { cut: { edge: { evenness: number } } } }>(`/api/pieces/${id}`),
      );
      return (await Promise.all(cuts)).map(({ state: { cut: now } }) => now.edge.evenness);
    };
    expect(await evenness()).toEqual([44, 44, 44, 44]);
    await page.getByRole('button', { name: 'Undo on all its pieces' }).click();
    await page.getByText('Taken back on 4 pieces.').waitFor();
    expect(await evenness()).toEqual([0, 0, 0, 0]);
  });
});

describe('routines', () => {
  it('are sentences with fields, saved under a name, exported and imported', async () => {
    await page.goto(`${server.address}/runs/routines`);
    await page.getByRole('button', { name: 'New', exact: true }).click();
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('kites for the site');
    const edge = page.getByRole('listitem').filter({ hasText: /^Edge/ });
    await edge.getByRole('button', { name: 'more' }).click();
    await page.getByRole('menuitem', { name: 'Offset' }).click();
    const offset = edge.getByRole('textbox', { name: 'offset' });
    await offset.fill('-0.4');
    await offset.press('Enter');
    const deliver = page.getByRole('listitem').filter({ hasText: /^Deliver/ });
    await deliver.getByRole('button', { name: 'set', exact: true }).click();
    await page.getByRole('menuitem', { name: /^site/ }).click();
    await deliver.getByRole('button', { name: 'Leave out the set full size' }).click();
    await page.getByRole('combobox', { name: 'What has findings' }).selectOption('hold');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Saved as kites for the site.').waitFor();
    const { routines } = await json<{ routines: { name: string }[] }>('/api/routines');
    const saved = routineSchema.parse(routines.find(({ name }) => name === 'kites for the site'));
    expect(saved).toMatchObject({
      edge: { offsetPx: -0.4 },
      findings: 'hold',
      deliver: { sets: [{ name: 'site' }] },
    });

    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Export as JSON' }).click(),
    ]);
    const exported = JSON.parse(await readFile(await download.path(), 'utf8')) as object;
    expect(exported).toEqual(saved);
    const newer = await put(folder, 'newer.json', JSON.stringify({ ...exported, version: 7 }));
    await page.locator('input[type=file]').setInputFiles(newer);
    await page.getByText('it was written by a newer Kenosis').waitFor();
    const own = await put(folder, 'own.json', JSON.stringify({ ...exported, name: 'brought' }));
    await page.locator('input[type=file]').setInputFiles(own);
    await page.getByText('own.json was read. Save it to keep it.').waitFor();
    expect(await page.getByRole('textbox', { name: 'Name', exact: true }).inputValue()).toBe('brought');
  });
});

describe('a watched folder', () => {
  it('is added, takes a file, and shows what became of it', async () => {
    const [inside, out] = [path.join(folder, 'in'), path.join(folder, 'out')];
    await mkdir(inside);
    await mkdir(out);
    await openRuns();
    await page.getByRole('button', { name: 'Watch a folder' }).click();
    await page.getByRole('textbox', { name: 'Folder in' }).fill(inside);
    await page.getByRole('textbox', { name: 'Folder out' }).fill(path.join(inside, 'none'));
    await page.getByRole('button', { name: 'Watch it' }).click();
    await page.getByText('there is no such file or folder').waitFor();
    await page.getByRole('textbox', { name: 'Folder out' }).fill(out);
    await page.getByRole('button', { name: 'Watch it' }).click();
    const card = page.getByRole('article', { name: `Watched folder ${inside}` });
    await card.waitFor();
    await writeFile(path.join(inside, 'kite.png'), await readFile(pictures[0]!));
    await card.getByText('kite-cutout.png').waitFor();
    expect((await readdir(out)).filter((name) => !name.startsWith('.'))).toEqual(['kite-cutout.png']);
    expect(await readdir(path.join(inside, 'done'))).toEqual(['kite.png']);
    await card.getByRole('button', { name: `Watch ${inside} no longer` }).click();
    await expect.poll(() => card.count()).toBe(0);
  });
});

describe('the interface for other programs', () => {
  it('gives a cutout for a picture in two requests', async () => {
    const begun = await ask(server, '/api/cutouts?name=sent.png&routine=product-on-transparent', {
      method: 'POST',
      body: await readFile(pictures[2]!),
    });
    expect(begun.status).toBe(202);
    const { run } = z.object({ run: runSchema, piece: pieceSchema }).parse(await begun.json());
    expect(begun.headers.get('location')).toBe(`/api/runs/${run.id}`);
    const file = await ask(server, `/api/runs/${run.id}/files/1?wait=60`);
    expect([file.status, file.headers.get('content-type')]).toEqual([200, 'image/png']);
    expect(
      Buffer.from(await file.arrayBuffer())
        .subarray(1, 4)
        .toString(),
    ).toBe('PNG');
    const none = await ask(server, `/api/runs/${run.id}/files/2`);
    expect([none.status, ((await none.json()) as { code: string }).code]).toEqual([404, 'not-found']);
  });

  it('refuses what nobody may send, saying which field', async () => {
    const refused = async (address: string, body: unknown, method = 'POST') => {
      const answer = await ask(server, address, { method, body: JSON.stringify(body) });
      return [answer.status, ((await answer.json()) as { message: string }).message] as const;
    };
    expect(await refused('/api/runs', { pieces: [] })).toEqual([
      400,
      expect.stringContaining('expected routine, laying or marking'),
    ]);
    expect(await refused('/api/runs', { routine: 'none', pieces: ['0'.repeat(16)] })).toEqual([
      404,
      expect.stringContaining('There is no routine "none"'),
    ]);
    expect(
      await refused('/api/runs', {
        routine: 'x',
        pieces: Array.from({ length: 10_001 }, () => '0'.repeat(16)),
      }),
    ).toEqual([400, expect.stringContaining('at most 10000')]);
    expect(await refused('/api/routines', { ...newRoutine('x'), version: 3 }, 'PUT')).toEqual([
      400,
      expect.stringContaining('newer Kenosis'),
    ]);
    expect(await refused('/api/runs/1', { action: 'stop' }, 'PATCH')).toEqual([
      400,
      expect.stringContaining('body.action'),
    ]);
    expect(await refused('/api/runs/999', { action: 'pause' }, 'PATCH')).toEqual([
      404,
      expect.stringContaining('not there any more'),
    ]);
    expect(await refused('/api/cutouts?name=x&routine=none', '')).toEqual([
      404,
      expect.stringContaining('There is no routine'),
    ]);
  });

  it('answers as its description says, at every address that it names', async () => {
    const { paths, openapi } = await json<{ openapi: string; paths: Record<string, Record<string, object>> }>(
      '/api/openapi.json',
    );
    expect(openapi).toBe('3.1.0');
    const { pieces } = await json<{ pieces: { id: string; revision: number }[] }>('/api/pieces');
    const { id } = pieces[0]!;
    const { runs } = await json<{ runs: { id: number }[] }>('/api/runs');
    const run = runs.at(-2)!.id;
    const real: Record<string, z.ZodType> = {
      '/api/pieces': z.strictObject({ pieces: z.array(shelfPieceSchema) }),
      '/api/pieces/{id}': z.strictObject({ piece: pieceSchema, state: cutStateSchema }),
      '/api/pieces/{id}/deliveries': z.strictObject({ deliveries: z.array(deliverySchema).min(1) }),
      '/api/routines': z.strictObject({ routines: z.array(routineSchema).min(3) }),
      '/api/runs': z.strictObject({ runs: z.array(runSchema).min(1) }),
      '/api/runs/{run}': z.strictObject({ run: runSchema }),
      '/api/runs/{run}/items': z.strictObject({ items: z.array(runItemSchema).min(1) }),
      '/api/runs/{run}/report': reportSchema,
    };
    const filled = (address: string) =>
      address.replace('{id}', id).replace('{run}', String(run)).replace('{number}', '1');
    for (const [address, methods] of Object.entries(paths)) {
      const told = (address in real ? 'get' : Object.keys(methods)[0]!).toUpperCase();
      // Every address is a route of the server: none answers that there is no such thing.
      if (told === 'GET' && !address.endsWith('/events')) {
        const answer = await ask(server, filled(address));
        expect([address, answer.status]).toEqual([address, 200]);
        if (address in real) real[address]!.parse(await answer.json());
        else await answer.arrayBuffer();
      }
    }
    expect(Object.keys(real).filter((address) => !(address in paths))).toEqual([]);

    const events = await ask(server, `/api/runs/${run}/events`);
    const reader = events.body!.getReader();
    const first = new TextDecoder().decode((await reader.read()).value);
    await reader.cancel();
    runEventSchema.parse(JSON.parse(/^data: (.*)\n\n/.exec(first)![1]!));

    const arrived = await ask(server, '/api/pieces?name=again.png', {
      method: 'POST',
      body: await readFile(pictures[0]!),
    });
    arrivalSchema.parse(await arrived.json());
    const { state } = await json<{ state: { revision: number; cut: object } }>(`/api/pieces/${id}`);
    const revised = await ask(server, `/api/pieces/${id}/revisions`, {
      method: 'POST',
      body: JSON.stringify({ after: state.revision, label: 'the same', cut: state.cut }),
    });
    expect(revised.status).toBe(201);
    cutStateSchema.parse(await revised.json());
  });
});
