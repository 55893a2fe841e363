import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { BlobReader, BlobWriter, ZipReader, ZipWriter } from '@zip.js/zip.js';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { asSharp, put } from '../make/files';
import { freshFolder } from '../make/folder';
import { disc, paint } from '../make/pictures';
import { openPage, startBrowser, waitForFullSize } from './browser';
import { startServer, type TestServer } from './server';

let server: TestServer;
let browser: Browser;
let page: Page;
let folder: string;
const problems: string[] = [];

const frames = [disc(120, 20), disc(120, 34), disc(120, 48)];

beforeAll(async () => {
  folder = await freshFolder();
  server = await startServer(path.join(folder, 'data'));
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

const bring = async (...files: string[]) => {
  await page.locator('section[aria-busy="false"] input[type=file]').setInputFiles(files);
};
const card = (name: string) => page.getByRole('main').getByRole('link', { name, exact: true }).last();
const saved = async (click: () => Promise<void>) => {
  const [download] = await Promise.all([page.waitForEvent('download'), click()]);
  return { name: download.suggestedFilename(), bytes: await readFile(await download.path()) };
};

describe('what can be brought in', () => {
  it('a moving picture asks which of its frames become pieces', async () => {
    const moving = sharp(Buffer.concat(frames.map(({ data }) => data)), {
      raw: { width: 120, height: 360, channels: 4, pageHeight: 120 },
    });
    await bring(await put(folder, 'moving.gif', await moving.gif().toBuffer()));
    const pages = page.getByRole('group', { name: 'Pages of moving.gif' });
    await expect.poll(() => pages.getByRole('checkbox').count()).toBe(3);
    await pages.getByRole('checkbox', { name: /Page 3/ }).press('Space');
    await page.getByRole('button', { name: 'Bring in 2' }).click();
    await card('moving-1.gif').waitFor();
    await card('moving-3.gif').waitFor();
    expect(await card('moving-2.gif').count()).toBe(0);
  });

  it('a drawing asks how large it is read, in pixels or per inch', async () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" width="96" height="48"><circle cx="48" cy="24" r="20"/></svg>';
    await bring(await put(folder, 'kite.svg', svg));
    await page.getByText('is drawn without pixels').waitFor();
    const width = page.getByRole('textbox', { name: 'Width' });
    await expect.poll(() => width.inputValue()).toBe('1000 px');
    await page.getByRole('textbox', { name: 'Resolution' }).fill('300');
    await page.getByRole('textbox', { name: 'Resolution' }).press('Enter');
    await expect.poll(() => width.inputValue()).toBe('300 px');
    await page.getByRole('button', { name: 'Bring it in' }).click();
    await card('kite.svg').waitFor();
    await page.getByText('300 x 150 px').first().waitFor();
  });

  it('a ZIP comes in by its pictures, and what refers outside is refused with why', async () => {
    const zip = new ZipWriter(new BlobWriter());
    const green = await asSharp(
      paint(60, 60, (x, y) => (Math.hypot(x - 30, y - 30) < 18 ? [20, 120, 60] : [255, 255, 255])),
    )
      .png()
      .toBuffer();
    await zip.add('shoot/green.png', new BlobReader(new Blob([new Uint8Array(green)])));
    const outside = '<svg xmlns="http://www.w3.org/2000/svg"><image href="https://example.org/a.png"/></svg>';
    await zip.add('shoot/outside.svg', new BlobReader(new Blob([outside])));
    const file = await put(folder, 'shoot.zip', new Uint8Array(await (await zip.close()).arrayBuffer()));
    await bring(file);
    await card('green.png').waitFor();
    await page.getByText(/"outside.svg" refers to something outside of itself/).waitFor();
  });

  it('a picture out of a web page is taken, and an address is not fetched', async () => {
    const dot = (await asSharp(disc(40, 9)).png().toBuffer()).toString('base64');
    const drop = (html: string) =>
      page.getByRole('region', { name: 'Bring pictures in' }).evaluate((target, text) => {
        const data = new DataTransfer();
        data.setData('text/html', text);
        target.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
      }, html);
    await drop(`<img src="data:image/png;base64,${dot}">`);
    await card('picture.png').waitFor();
    await drop('<img src="https://example.org/kite.png">');
    await page.getByText(/fetches nothing from the network/).waitFor();
  });
});

describe('what is delivered', () => {
  it('several files at once, each read back, tried before, and all in one ZIP', async () => {
    await card('moving-3.gif').click();
    await waitForFullSize(page);
    await page.keyboard.press('6');
    await page.getByRole('button', { name: 'Add a file' }).click();
    await page.getByRole('combobox', { name: 'Format' }).click();
    await page.getByRole('option', { name: 'JPEG' }).click();
    await page.getByText(/Loses all transparency/).waitFor();
    await page.getByRole('button', { name: 'Try it: size and look' }).click();
    await page.getByText(/quality 90 on #ffffff/).waitFor();
    const trial = page.getByRole('img', { name: 'The file as it would be delivered' });
    await expect.poll(() => trial.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(120);
    await page.getByRole('button', { name: 'Deliver 2 files' }).click();
    const report = page.getByRole('region', { name: 'Delivered', exact: true });
    await report.getByText('Each read back, within what its format loses').waitFor();
    await report.getByRole('link', { name: 'moving-3-cutout.jpg' }).waitFor();
    const { name, bytes } = await saved(() => report.getByRole('link', { name: 'All as one ZIP' }).click());
    expect(name).toBe('moving-3.zip');
    const entries = await new ZipReader(new BlobReader(new Blob([new Uint8Array(bytes)]))).getEntries();
    expect(entries.map(({ filename }) => filename)).toEqual([
      'moving-3-cutout.png',
      'moving-3-cutout.jpg',
      'report.json',
    ]);
  });

  it('a set is saved, laid on another piece, and delivered with one key', async () => {
    await page.getByRole('button', { name: 'Sets' }).click();
    await page.getByRole('textbox', { name: 'Save these files as a set' }).fill('mail');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('menuitem', { name: /^mail/ }).waitFor();
    await page.keyboard.press('Escape');
    await page.goto(server.address);
    await card('green.png').click();
    await waitForFullSize(page);
    await page.keyboard.press('6');
    await page.getByRole('button', { name: 'Sets' }).click();
    await page.getByRole('menuitem', { name: /^mail/ }).click();
    await page.getByRole('button', { name: 'Deliver 2 files' }).waitFor();
    await page.locator('[data-cursor]').focus();
    await page.keyboard.press('Control+Enter');
    await page.getByRole('link', { name: 'green-cutout.jpg' }).first().waitFor();
  });

  it('a piece as a bundle, which is known again where it comes from', async () => {
    await page.goto(server.address);
    await page.getByRole('button', { name: 'More for green.png' }).click({ force: true });
    const { name, bytes } = await saved(() =>
      page.getByRole('menuitem', { name: 'Export as a bundle' }).click(),
    );
    expect(name).toBe('green-bundle.zip');
    await page.keyboard.press('Escape');
    await bring(await put(folder, 'green-bundle.zip', new Uint8Array(bytes)));
    await page.getByText(/is on the Shelf already \(these bytes came as green-bundle.zip\)/).waitFor();
  });
});
