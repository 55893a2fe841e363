import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import { BlobReader, ZipReader } from '@zip.js/zip.js';
import type { Browser, Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { freshFolder } from '../make/folder';
import { openPage, startBrowser } from './browser';
import { demoPicture } from './demo';
import { ask, startServer, type TestServer } from './server';

let server: TestServer;
let browser: Browser;
let page: Page;
let folder: string;
const problems: string[] = [];
const at = (name: string) => path.join(folder, name);

/** Forty photos of the demo's beaches, wide and high. */
async function fortyPhotos(): Promise<string[]> {
  await mkdir(at('photos'));
  const names: string[] = [];
  for (let k = 0; k < 40; k++) {
    const which = ['noon', 'evening', 'storm'][k % 3]!;
    const name = at(`photos/beach-${String(k + 1).padStart(2, '0')}.jpg`);
    await sharp(demoPicture(`ostrel-beach-${which}.jpg`))
      .resize({ width: 300 + 10 * k })
      .modulate({ brightness: 0.8 + 0.01 * k })
      .jpeg()
      .toFile(name);
    names.push(name);
  }
  return names;
}

beforeAll(async () => {
  folder = await freshFolder();
  server = await startServer(at('data'));
  await ask(server, '/api/pieces?name=ostrel-kite.jpg', {
    method: 'POST',
    body: new Uint8Array(await readFile(demoPicture('ostrel-kite.jpg'))),
  });
  await writeFile(at('no-font.ttf'), 'no font');
  browser = await startBrowser();
  page = await openPage(browser, problems);
});

afterAll(async () => {
  await browser.close();
  await server.kill();
});

afterEach(() => {
  expect(problems.splice(0)).toEqual([]);
});

const tab = (name: string) =>
  page.getByRole('radiogroup', { name: 'What is set' }).getByText(name, { exact: true }).click();
const text = () => page.getByRole('textbox', { name: 'Text', exact: true });
const told = (words: RegExp) =>
  page.getByRole('region', { name: 'The mark on photos' }).getByText(words).first().waitFor();
const allDrawn = () =>
  page.waitForFunction(
    () => document.querySelectorAll('section[aria-label="The mark on photos"] canvas').length === 6,
  );

/** The pixels of a sample as they are shown, as one number. */
const shownOf = (k: number) =>
  page.evaluate((n) => {
    const canvas = document.querySelectorAll<HTMLCanvasElement>(
      'section[aria-label="The mark on photos"] canvas',
    )[n]!;
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    let sum = 0;
    for (let p = 0; p < data.length; p++) sum = (sum * 31 + data[p]!) >>> 0;
    return sum;
  }, k);

/** Waits until a sample shows something else. */
const changesFrom = (k: number, before: number) => expect.poll(() => shownOf(k)).not.toBe(before);

const saved = async () => {
  const { watermarks } = (await (await ask(server, '/api/watermarks')).json()) as {
    watermarks: { watermark: Record<string, unknown> }[];
  };
  return watermarks[0]!.watermark as {
    name: string;
    look: { opacity: number };
    place: { anchor: string };
    layout: { groups: { parts: { text?: string }[] }[] };
  };
};
const untilSaved = (is: (one: Awaited<ReturnType<typeof saved>>) => boolean) =>
  expect.poll(async () => is(await saved())).toBe(true);

describe('watermarks', () => {
  it('from nothing to forty marked photos in seven actions', async () => {
    const photos = await fortyPhotos();
    await page.goto(server.address);
    const actions: string[] = [];
    const act = async (what: string, doing: () => Promise<unknown>) => {
      actions.push(what);
      await doing();
    };
    await act('open Watermarks', () => page.getByRole('link', { name: 'Watermarks' }).click());
    await act('a new one', () => page.getByRole('button', { name: 'New watermark' }).click());
    await act('type the name', () => text().fill('© {year} Ostrel Kiteworks'));
    await act('open Photos', () => tab('Photos'));
    await act('bring the photos', () => page.getByLabel('Photos to mark').setInputFiles(photos));
    await act('mark them', () =>
      page.getByRole('button', { name: 'Mark 40 photos' }).click({ timeout: 120_000 }),
    );
    await page.waitForURL('**/runs/*');
    await page.getByText('Done:').waitFor({ timeout: 180_000 });
    await page.getByText('40 delivered').waitFor();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      act('take them as a ZIP', () => page.getByRole('link', { name: 'Results as ZIP' }).click()),
    ]);
    expect(actions).toHaveLength(7);
    await download.saveAs(at('marked.zip'));
    const zip = new ZipReader(new BlobReader(new Blob([new Uint8Array(await readFile(at('marked.zip')))])));
    const entries = (await zip.getEntries()).map(({ filename }) => filename);
    expect(entries.filter((name) => /^beach-\d\d-marked\.jpg$/.test(name))).toHaveLength(40);
    // Before and after stand side by side; what is shown as after is the file.
    await page.locator('img[alt="after"]').first().waitFor();
    expect(await page.locator('img[alt="after"]').first().getAttribute('src')).toMatch(
      /^\/api\/deliveries\/\d+\/picture$/,
    );
  }, 420_000);

  it('show six photos at once, follow every change, and go back and forth', async () => {
    await page.goto(`${server.address}/watermarks`);
    await page
      .getByRole('link', { name: /A new watermark/ })
      .first()
      .click();
    await allDrawn();
    await told(/light|dark/);
    let before = await shownOf(0);
    await text().fill('Maren Ostrel');
    await changesFrom(0, before);
    await untilSaved(({ layout }) => layout.groups[0]!.parts[0]!.text === 'Maren Ostrel');
    before = await shownOf(0);
    await tab('Look');
    await page.getByRole('textbox', { name: 'Opacity', exact: true }).fill('40');
    await changesFrom(0, before);
    await untilSaved(({ look }) => look.opacity === 40);
    before = await shownOf(2);
    await page.getByRole('switch', { name: 'Plate behind it' }).click();
    await changesFrom(2, before);
    await tab('Place');
    before = await shownOf(0);
    await page.getByRole('radio', { name: 'top left', exact: true }).click();
    await changesFrom(0, before);
    await untilSaved(({ place }) => place.anchor === 'top-left');
    await page.getByRole('button', { name: 'Undo' }).click();
    await untilSaved(({ place }) => place.anchor === 'bottom-right');
    await page.keyboard.press('Control+Shift+z');
    await untilSaved(({ place }) => place.anchor === 'top-left');
    await page.reload();
    await allDrawn();
    await page.getByRole('button', { name: 'Undo' }).click();
    await untilSaved(({ place }) => place.anchor === 'bottom-right');
  });

  it('have a cutout beside the name, and one photo looked at alone', async () => {
    await tab('Parts');
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Kite and name');
    await page.keyboard.press('Enter');
    await untilSaved(({ name }) => name === 'Kite and name');
    const before = await shownOf(0);
    await page.getByRole('combobox', { name: 'Add a cutout' }).click();
    await page.getByRole('option', { name: 'ostrel-kite.jpg' }).click();
    await changesFrom(0, before);
    await page.getByLabel('Rows or columns').selectOption('columns');
    await untilSaved((one) => one.layout.groups.length === 2);
    await page.getByRole('button', { name: /^sea\.jpg with the mark/ }).click();
    await page.waitForFunction(
      () => document.querySelectorAll('section[aria-label="The mark on photos"] canvas').length === 1,
    );
    await page.keyboard.press('Escape');
    await allDrawn();
  });

  it('say why a text cannot be set, and refuse what is no font', async () => {
    await page.getByRole('button', { name: /Maren Ostrel/ }).click();
    await text().fill('Maren 😀');
    await page
      .getByText(/"😀" is not in Jost/)
      .first()
      .waitFor();
    await text().fill('{when}');
    await page
      .getByText(/expected one of \{year\}/)
      .first()
      .waitFor();
    await text().fill('Maren Ostrel');
    await allDrawn();
    problems.length = 0;
    await page.locator('input[type=file][accept=".ttf,.otf,.woff2"]').setInputFiles(at('no-font.ttf'));
    await page.getByText(/"no-font.ttf" is no font that can be read/).waitFor();
    // The browser notes that the server refused it.
    problems.length = 0;
    const caveat = path.dirname(createRequire(import.meta.url).resolve('@fontsource/caveat/package.json'));
    const before = await shownOf(0);
    await page
      .locator('input[type=file][accept=".ttf,.otf,.woff2"]')
      .setInputFiles(path.join(caveat, 'files', 'caveat-latin-400-normal.woff2'));
    await changesFrom(0, before);
    expect(await page.getByRole('combobox', { name: 'Typeface' }).inputValue()).toBe('Caveat');
  });

  it('are kept as a routine, exported with all they need, and brought back', async () => {
    await tab('Photos');
    await page.getByRole('button', { name: 'Keep as a routine' }).click();
    await page.getByText(/Kept as the routine/).waitFor();
    await page.goto(`${server.address}/runs/routines`);
    await page.getByRole('button', { name: /mark Kite and name/ }).click();
    await page.getByText('Put the watermark “Kite and name” on photos.').waitFor();
    await page.goto(`${server.address}/watermarks`);
    await page.getByRole('button', { name: 'More for Kite and name' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: /Export as JSON/ }).click(),
    ]);
    await download.saveAs(at('kite.json'));
    expect(await readFile(at('kite.json'), 'utf8')).toContain('"kind": "embedded"');
    await page.getByLabel('Watermark to bring').setInputFiles(at('kite.json'));
    await page.waitForURL('**/watermarks/*');
    await allDrawn();
  });
});
