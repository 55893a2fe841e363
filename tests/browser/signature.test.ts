import path from 'node:path';
import type { Browser, Locator, Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { freshFolder } from '../make/folder';
import { openBench, openPage, sheetBox, sheetColors, startBrowser, waitForFullSize } from './browser';
import { demoPicture } from './demo';
import { startServer, type TestServer } from './server';

let folder: string;
let server: TestServer;
let browser: Browser;
let page: Page;
const problems: string[] = [];

beforeAll(async () => {
  folder = await freshFolder();
  server = await startServer(path.join(folder, 'data'));
  browser = await startBrowser();
  page = await openPage(browser, problems);
  await page.goto(server.address);
  const pieces = ['signature-phone.jpg', 'signature-scan.jpg', 'wordmark.jpg', 'badge.png'];
  await page.locator('input[type=file]').setInputFiles(pieces.map((name) => demoPicture(`ostrel-${name}`)));
  for (const name of pieces)
    await page
      .getByRole('link', { name: new RegExp(`ostrel-${name}`) })
      .first()
      .waitFor();
});

afterAll(async () => {
  await browser.close();
  await server.kill();
});

afterEach(() => {
  expect(problems.splice(0)).toEqual([]);
});

const openPiece = (name: string) => openBench(page, server.address, name);

const strip = (stage: string): Locator =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: new RegExp(`^${stage}`) });
const segment = (text: string) => page.locator('label').filter({ hasText: text }).first();
const field = (name: string) => page.getByRole('textbox', { name, exact: true });

async function typeInto(name: string, text: string): Promise<void> {
  await field(name).fill(text);
  await field(name).press('Enter');
}

/** Drags over the sheet between places given as shares of its width and height. */
async function dragSheet(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
  const box = await sheetBox(page);
  const at = ([across, down]: readonly [number, number]) =>
    [box.x + across * box.width, box.y + down * box.height] as const;
  await page.mouse.move(...at(from));
  await page.mouse.down();
  await page.mouse.move(...at(to), { steps: 6 });
  await page.mouse.up();
}

describe('a signature by phone', () => {
  it('comes as ink on nothing: light flattened, rules removed, straightened, cropped', async () => {
    await openPiece('ostrel-signature-phone');
    await page.getByText(/uneven light flattened; ruled lines removed; straightened by 3\.4/).waitFor();
    await expect.poll(() => strip('Clear').innerText()).toMatch(/by ink/);
    const corners = await sheetColors(page, [[0.5, 0.1]]);
    expect(corners).toHaveLength(1);
    await page.getByText(/Opaque/).waitFor();
  });

  it('shows how each channel tells ink from paper, and takes the one that is chosen', async () => {
    await strip('Clear').click();
    const channels = page.getByRole('group', { name: 'Read' });
    await channels.getByRole('button', { name: /best/ }).waitFor();
    expect(await channels.getByRole('button').count()).toBe(6);
    await channels.getByRole('button', { name: /^Blue/ }).click();
    await expect.poll(() => strip('Clear').innerText()).toMatch(/by ink, blue/);
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect.poll(() => strip('Clear').innerText()).toMatch(/by ink, luminance/);
  });

  it('hatches what is clipped while a point moves, and keeps points in their order', async () => {
    await waitForFullSize(page);
    const slider = page.getByRole('slider', { name: 'White point' });
    const box = (await slider.boundingBox())!;
    const places = Array.from({ length: 60 }, (_, k) => [0.3 + k * 0.004, 0.32] as const);
    const seen = async () => (await sheetColors(page, places)).join();
    const still = await seen();
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x - 30, box.y + box.height / 2, { steps: 4 });
    await expect.poll(seen).not.toBe(still);
    await page.mouse.up();
    await waitForFullSize(page);
    await typeInto('White point', '20');
    await expect.poll(async () => Number(await field('Black point').inputValue())).toBeLessThan(20);
    expect(Number(await field('Mid point').inputValue())).toBeLessThan(20);
    await page.getByRole('button', { name: 'Propose the points' }).click();
    await expect.poll(async () => Number(await field('White point').inputValue())).toBeGreaterThan(150);
  });
});

describe('Prepare', () => {
  it('turns, flips and straightens, and undo takes each back', async () => {
    await openPiece('ostrel-wordmark');
    await page.keyboard.press('1');
    await page.getByRole('button', { name: 'Turn right' }).click();
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/turned 90/);
    await page.getByText('320 x 800 px').waitFor();
    await page.getByRole('button', { name: 'Flip' }).click();
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/flipped/);
    await typeInto('Straighten', '5');
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/5°/);
    for (const left of [/flipped/, /turned 90/, /as it came/]) {
      await page.getByRole('button', { name: 'Undo', exact: true }).click();
      await expect.poll(() => strip('Prepare').innerText()).toMatch(left);
    }
  });

  it('crops by a drag, by typed values, to a ratio, to the content and by keys', async () => {
    await segment('Crops').click();
    await dragSheet([0.3, 0.4], [0.7, 0.6]);
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/\d+ x \d+/);
    await typeInto('Width', '200');
    await typeInto('Height', '150');
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/200 x 150/);
    await page.getByRole('combobox', { name: 'Ratio of width to height' }).click();
    await page.getByRole('option', { name: '1 : 1' }).click();
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/150 x 150/);
    await page.getByRole('button', { name: 'Crop: right side' }).press('Shift+ArrowRight');
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/160 x 150/);
    await page.getByRole('button', { name: 'Crop to content' }).click();
    await expect.poll(() => strip('Prepare').innerText(), { timeout: 15_000 }).toMatch(/6[5-9]\d x 2[0-4]\d/);
    await page.keyboard.press('2');
    await waitForFullSize(page);
    await page
      .getByRole('complementary', { name: 'Piece' })
      .getByText(/6[5-9]\d x 2[0-4]\d px/)
      .waitFor();
  });

  it('levels a line that is drawn, and says what is too steep', async () => {
    await page.keyboard.press('1');
    await segment('Levels').click();
    await dragSheet([0.3, 0.5], [0.7, 0.5]);
    await dragSheet([0.3, 0.5], [0.6, 0.55]);
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/-\d+(\.\d+)?°/);
    await dragSheet([0.5, 0.2], [0.52, 0.8]);
    await page.getByText(/turn the picture by a quarter first/).waitFor();
  });

  it('squares up by corners that are moved by keys, and refuses crossed ones', async () => {
    await page.getByRole('button', { name: 'Find its corners' }).click();
    await page.getByText(/No outline of a lighter sheet is seen/).waitFor();
    await page.getByRole('button', { name: 'Set by hand' }).click();
    await expect.poll(() => strip('Prepare').innerText()).toMatch(/squared up/);
    const corner = page.getByRole('button', { name: 'Sheet: upper left corner' });
    await corner.press('Shift+ArrowRight');
    const box = (await corner.boundingBox())!;
    const other = (await page.getByRole('button', { name: 'Sheet: lower right corner' }).boundingBox())!;
    await page.mouse.move(box.x + 6, box.y + 6);
    await page.mouse.down();
    await page.mouse.move(other.x + 60, other.y + 40, { steps: 5 });
    await page.mouse.up();
    await page.getByText(/That makes no picture: cut\.prepare\.corners/).waitFor();
    await page.getByRole('button', { name: 'Not squared up' }).click();
    await expect.poll(() => strip('Prepare').innerText()).not.toMatch(/squared up/);
  });
});

describe('Ink', () => {
  it('asks before a piece of several colors becomes one color', async () => {
    await openPiece('ostrel-badge');
    await page.keyboard.press('5');
    await segment('One color').click();
    await page.getByText('This piece has several colors.').waitFor();
    await page.getByRole('button', { name: 'Keep its colors' }).click();
    await expect.poll(() => strip('Ink').innerText()).toMatch(/own colors/);
    await segment('One color').click();
    await page.getByRole('button', { name: 'Make it one color' }).click();
    await expect.poll(() => strip('Ink').innerText()).toMatch(/#1a1b20/);
  });

  it('gives a signature its color, and delivers every colorway in one go', async () => {
    await openPiece('ostrel-signature-scan');
    await page.keyboard.press('5');
    await segment('One color').click();
    await typeInto('Density', '30');
    await expect.poll(() => strip('Ink').innerText()).toMatch(/density 30/);
    for (const [name, color] of [
      ['navy', '#1d2a6b'],
      ['white', '#ffffff'],
    ] as const) {
      const form = page.getByRole('region', { name: 'Colorways' });
      await form.getByRole('textbox', { name: 'Color' }).fill(color);
      await form.getByRole('textbox', { name: 'Name' }).fill(name);
      await form.getByRole('textbox', { name: 'Name' }).press('Enter');
      await form.getByRole('button', { name: `Delete colorway ${name}` }).waitFor();
    }
    await page.getByRole('textbox', { name: 'Name' }).fill('navy');
    await page.getByText('There is a colorway "navy" already').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Deliver', exact: true }).click();
    await page.getByRole('button', { name: 'Deliver 2 colorways' }).click();
    await page.getByText('Each read back and equal').waitFor({ timeout: 40_000 });
    const delivered = page.getByRole('region', { name: 'Delivered' });
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      delivered.getByRole('link', { name: 'ostrel-signature-scan-white.png' }).click(),
    ]);
    const { data, info } = await sharp(await download.path())
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(4);
    for (let p = 0; p < data.length; p += 4 * 97)
      expect(data[p + 3] === 0 ? 0 : data[p]! + data[p + 1]! + data[p + 2]!).toBe(
        data[p + 3] === 0 ? 0 : 765,
      );
    await delivered.getByRole('link', { name: 'ostrel-signature-scan-navy.png' }).waitFor();
  });
});

describe('the scanner stand-in', () => {
  it('scans a sheet with progress, and the piece comes proposed', async () => {
    await page.goto(server.address);
    await page.getByRole('button', { name: 'Scan', exact: true }).click();
    const panel = page.getByRole('region', { name: 'Scanner' });
    await panel.getByText(/a stand-in for a device\. The sheet is 102 x 46 mm/).waitFor();
    await segment('Open').click();
    await segment('TIFF').click();
    await panel.getByRole('button', { name: 'Scan', exact: true }).click();
    await panel.getByText('is on the Shelf').waitFor({ timeout: 40_000 });
    await panel.getByRole('link', { name: 'scan-signature-300dpi.tif' }).click();
    await waitForFullSize(page);
    await page.getByText(/the sheet squared up/).waitFor();
    await expect.poll(() => strip('Clear').innerText()).toMatch(/by ink/);
  });
});
