import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../make/files';
import { freshFolder } from '../make/folder';
import { paint } from '../make/pictures';
import { openPage, startBrowser } from './browser';
import { ask, startServer, type TestServer } from './server';

let server: TestServer;
let browser: Browser;
let page: Page;
const problems: string[] = [];

/** A disc of some red on white. */
const sail = (red: number) =>
  paint(60, 50, (x, y) => {
    const inside = Math.min(1, Math.max(0, 12.5 - Math.hypot(x - 30, y - 25)));
    const mix = (own: number) => Math.round(255 + (own - 255) * inside);
    return [mix(red), mix(20), mix(40)];
  });

const NAMES = ['kite 2.png', 'kite 10.png', 'badge.png', 'slide.png', 'sail.png'];

beforeAll(async () => {
  server = await startServer(path.join(await freshFolder(), 'data'));
  for (const [k, name] of NAMES.entries()) {
    const picture = sail(200 - 30 * k);
    await ask(server, `/api/pieces?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      body: new Uint8Array(await asSharp(picture).png().toBuffer()),
    });
  }
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

const names = () => page.getByRole('main').getByRole('listitem').locator('a[title]').allInnerTexts();
const choose = async (field: string, option: string) => {
  await page.getByRole('combobox', { name: field }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
};
const more = async (name: string, item: string | RegExp) => {
  await page.getByRole('button', { name: `More for ${name}` }).click({ force: true });
  await page
    .getByRole('menu', { name: `More for ${name}` })
    .getByRole('menuitem', { name: item })
    .click();
};

describe('the Shelf', () => {
  it('searches, sorts and filters, and says so when nothing is left', async () => {
    await choose('Order', 'By name');
    await expect.poll(names).toEqual(['badge.png', 'kite 2.png', 'kite 10.png', 'sail.png', 'slide.png']);
    await page.getByRole('textbox', { name: 'Search by name' }).fill('kite');
    await expect.poll(names).toEqual(['kite 2.png', 'kite 10.png']);
    await page.getByText('2 of 5').waitFor();
    await choose('Show', 'Delivered');
    await page.getByText('No piece is like that.').waitFor();
    await choose('Show', 'All pieces');
    await page.getByRole('textbox', { name: 'Search by name' }).press('Escape');
    await expect.poll(async () => (await names()).length).toBe(5);
  });

  it('checks pieces by itself and shows what it found', async () => {
    await expect.poll(() => page.getByText('clean', { exact: true }).count(), { timeout: 30_000 }).toBe(5);
    await choose('Show', 'With findings');
    await page.getByText('No piece is like that.').waitFor();
    await choose('Show', 'All pieces');
  });

  it('renames a piece, refuses an empty name, and forgets it on Escape', async () => {
    await more('slide.png', 'Rename');
    const field = page.getByRole('textbox', { name: 'Name of slide.png' });
    await field.fill('  ');
    await field.press('Enter');
    await page.getByText('A piece needs a name.').waitFor();
    await field.fill('spring slide.png');
    await field.press('Enter');
    await expect.poll(names).toContain('spring slide.png');
    await more('spring slide.png', 'Rename');
    const again = page.getByRole('textbox', { name: 'Name of spring slide.png' });
    const renamed: string[] = [];
    page.on('request', (request) => request.method() === 'PATCH' && renamed.push(request.url()));
    await again.fill('nothing.png');
    await again.press('Escape');
    await again.waitFor({ state: 'detached' });
    await page.reload();
    expect(renamed).toEqual([]);
    expect(await names()).toContain('spring slide.png');
  });

  it('throws pieces away together, takes that back, and brings single ones back from the trash', async () => {
    await choose('Order', 'By name');
    // A range runs along the cards as they lie; they must lie in the new order first.
    await expect
      .poll(names)
      .toEqual(['badge.png', 'kite 2.png', 'kite 10.png', 'sail.png', 'spring slide.png']);
    const badge = page.getByRole('checkbox', { name: 'Select badge.png' });
    await expect.poll(() => badge.isVisible()).toBe(true);
    await badge.click({ force: true });
    await page
      .getByRole('checkbox', { name: 'Select kite 10.png' })
      .click({ force: true, modifiers: ['Shift'] });
    await page.getByText('3 pieces selected').waitFor();
    await page.getByRole('button', { name: 'Put into the trash' }).click();
    await expect.poll(async () => (await names()).length).toBe(2);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(async () => (await names()).length).toBe(5);
    await more('badge.png', 'Put into the trash');
    // The cards behind it move up; what is clicked meanwhile may be another one.
    await expect.poll(async () => (await names()).length).toBe(4);
    await more('sail.png', 'Put into the trash');
    await expect.poll(async () => (await names()).length).toBe(3);
    await page.getByRole('button', { name: 'Trash, 2' }).click();
    await page.getByRole('button', { name: 'Bring badge.png back' }).click();
    await expect.poll(() => page.getByRole('button', { name: /^Bring .* back$/ }).count()).toBe(2);
    await page.getByRole('button', { name: 'Back to the Shelf' }).click();
    await expect.poll(names).toContain('badge.png');
  });

  it('brings a piece back when its picture is brought in again', async () => {
    const before = (await (await ask(server, '/api/pieces')).json()) as { pieces: { name: string }[] };
    expect(before.pieces.map(({ name }) => name)).not.toContain('sail.png');
    const picture = sail(80);
    await ask(server, '/api/pieces?name=again.png', {
      method: 'POST',
      body: new Uint8Array(await asSharp(picture).png().toBuffer()),
    });
    await page.reload();
    await expect.poll(names).toContain('sail.png');
  });

  it('deletes what is in the trash only after asking', async () => {
    await more('sail.png', 'Put into the trash');
    await page.getByRole('button', { name: 'Trash, 1' }).click();
    await page.getByRole('button', { name: 'Empty the trash' }).click();
    await page.getByText('Delete 1 piece for good, with originals and deliveries?').waitFor();
    await page.getByRole('button', { name: 'Keep them' }).click();
    await page.getByRole('button', { name: 'Empty the trash' }).click();
    await page.getByRole('button', { name: 'Delete 1 piece' }).click();
    await page.getByText('The trash is empty.').waitFor();
    await page.getByRole('button', { name: 'Back to the Shelf' }).click();
    await expect.poll(async () => (await names()).length).toBe(4);
  });

  it('shows the deliveries of a piece and gives them again', async () => {
    const { pieces } = (await (await ask(server, '/api/pieces')).json()) as {
      pieces: { id: string; name: string; revision: number }[];
    };
    const badge = pieces.find(({ name }) => name === 'badge.png')!;
    await ask(server, `/api/pieces/${badge.id}/deliveries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ revision: badge.revision, shownSha256: null, colorway: null }),
    });
    await page.reload();
    await more('badge.png', 'Show 1 delivery');
    const link = page.getByRole('region', { name: 'Deliveries' }).getByRole('link');
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    expect((await readFile(await download.path())).subarray(1, 4).toString()).toBe('PNG');
  });
});
