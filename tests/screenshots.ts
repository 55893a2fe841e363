import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import type { Page } from 'playwright-core';
import { startBrowser, waitForFullSize } from './browser/browser';
import { startServer } from './browser/server';

/** One current picture of each main view, made from the demo pieces. */
const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-pictures-'));
const server = await startServer(folder, { demo: true });
const browser = await startBrowser();
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.setDefaultTimeout(120_000);
  await openShelf(page);
  await page.waitForFunction(() => !document.body.innerText.includes('not checked'), null, {
    timeout: 90_000,
  });
  await shoot(page, 'shelf');
  await bringPages(page);
  await shoot(page, 'shelf-pages');
  await page.getByRole('button', { name: /^Dismiss the note about/ }).click();
  await openPiece(page, 'ostrel-kite');
  await page.locator('canvas[data-drawn]').nth(1).waitFor();
  await shoot(page, 'bench-proposal');
  await openPiece(page, 'ostrel-spool');
  await page.getByRole('region', { name: 'Findings' }).locator('button[aria-expanded]').first().waitFor();
  await page.keyboard.press('n');
  await shoot(page, 'bench-findings');
  await openPiece(page, 'ostrel-kite');
  await page.getByText('3 areas not sure').waitFor();
  await page.keyboard.press('w');
  await shoot(page, 'bench-compare');
  await openPiece(page, 'ostrel-emblem');
  await page.getByText('All clean').waitFor();
  await shoot(page, 'bench-clear');
  await page.keyboard.press('6');
  await page.getByRole('button', { name: 'Deliver PNG' }).click();
  await page.getByText('Read back and equal').waitFor();
  await shoot(page, 'bench-deliver');
  await page.getByRole('button', { name: 'Sets' }).click();
  await page.getByRole('menuitem', { name: /^site/ }).click();
  await page.getByRole('button', { name: 'Try it: size and look' }).click();
  await page.getByText('Every pixel exact.').first().waitFor();
  await page.getByRole('button', { name: 'Deliver 4 files' }).click();
  await page.getByText('Each read back and equal').waitFor();
  await page.getByRole('region', { name: 'Delivered', exact: true }).scrollIntoViewIfNeeded();
  await page.keyboard.press('Control+z');
  await openPiece(page, 'ostrel-emblem');
  await page.keyboard.press('3');
  await page.getByRole('textbox', { name: 'Offset', exact: true }).fill('-0.6');
  await page.keyboard.press('Enter');
  await page.getByRole('radio', { name: 'Magenta backing' }).click();
  await page.getByText('-0.6 px').first().waitFor();
  await shoot(page, 'bench-edge');
  await openPiece(page, 'ostrel-spool');
  await page.keyboard.press('3');
  await page.keyboard.press('e');
  await page.locator('label').filter({ hasText: 'Paints fine detail' }).click();
  await page.keyboard.press('g');
  await dragSheet(page, [0.47, 0.66], [0.52, 0.74], [0.55, 0.66]);
  await page.getByText('Stroke 1,').waitFor();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('e');
  await page.keyboard.press('g');
  await page.keyboard.press('2');
  await page.locator('label').filter({ hasText: 'By marks' }).click();
  await dragSheet(page, [0.44, 0.3], [0.5, 0.45], [0.56, 0.3]);
  await page.getByText('Mark 1: stays').waitFor();
  await page.keyboard.press('b');
  await dragSheet(page, [0.15, 0.12], [0.85, 0.12], [0.9, 0.85]);
  await page.getByText('Mark 2: goes').waitFor();
  await shoot(page, 'bench-marks');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('4');
  await dragSheet(page, [0.38, 0.46], [0.52, 0.5], [0.63, 0.43]);
  await page.keyboard.press('b');
  await page.keyboard.press('}');
  await page.keyboard.press('}');
  await page.keyboard.press(']');
  await page.keyboard.press(']');
  await dragSheet(page, [0.45, 0.5], [0.52, 0.5]);
  await page.getByText('2 bring back').waitFor();
  await page
    .getByRole('radiogroup', { name: 'What the pointer does on the sheet' })
    .getByText('Area', { exact: true })
    .click();
  for (const [across, down] of [
    [0.3, 0.66],
    [0.46, 0.7],
    [0.42, 0.9],
    [0.28, 0.88],
    [0.3, 0.66],
  ] as const)
    await clickSheet(page, across, down);
  await page.getByText('3 clear an area').waitFor();
  await shoot(page, 'bench-touch-up');
  for (let k = 0; k < 3; k++) await page.keyboard.press('Control+z');
  await openPiece(page, 'ostrel-signature-phone');
  await page.getByRole('group', { name: 'Read' }).getByRole('button', { name: /best/ }).waitFor();
  await shoot(page, 'bench-levels');
  await page.keyboard.press('1');
  await page.locator('label').filter({ hasText: 'Crops' }).click();
  await page.getByText('prepared, not yet cleared').waitFor();
  await shoot(page, 'bench-prepare');
  await openPiece(page, 'ostrel-signature-scan');
  await page.keyboard.press('5');
  await page.locator('label').filter({ hasText: 'One color' }).click();
  await page.getByRole('textbox', { name: 'Color' }).first().waitFor();
  for (const [name, color] of [
    ['navy', '#1d2a6b'],
    ['madder', '#8a1f2d'],
    ['white', '#ffffff'],
  ] as const) {
    const form = page.getByRole('region', { name: 'Colorways' });
    await form.getByRole('textbox', { name: 'Color' }).fill(color);
    await form.getByRole('textbox', { name: 'Name' }).fill(name);
    await form.getByRole('textbox', { name: 'Name' }).press('Enter');
    await form.getByRole('button', { name: `Delete colorway ${name}` }).waitFor();
  }
  await page.getByRole('button', { name: 'Show' }).nth(1).click();
  await shoot(page, 'bench-ink');
  await openPiece(page, 'ostrel-sticker');
  await page.getByRole('radio', { name: 'Black backing' }).click();
  await page.getByRole('button', { name: /daylight and dusk/ }).click();
  await shoot(page, 'bench-dusk');
  await page.goto(`${server.address}/runs/routines`);
  await page.getByRole('button', { name: /^product-on-transparent/ }).click();
  await shoot(page, 'routines');
  await runSeries(page);
  await shoot(page, 'run');
  await page.goto(`${server.address}/proofs`);
  await page.getByRole('combobox', { name: 'Try a piece on' }).click();
  await page.getByRole('option', { name: 'ostrel-kite.jpg' }).click();
  await page.getByRole('button', { name: /Letter, A4/ }).waitFor();
  await page.waitForFunction(() => document.querySelectorAll('main img').length >= 16);
  await page.waitForTimeout(1500);
  await shoot(page, 'proofs');
  await page.goto(`${server.address}/proofs`);
  await page.getByRole('combobox', { name: 'Try a piece on' }).click();
  await page.getByRole('option', { name: 'ostrel-signature-scan.jpg' }).click();
  await page.getByRole('button', { name: /Letter, A4/ }).click();
  await page.getByText('Nothing shows that should not.').waitFor();
  await page.getByRole('button', { name: 'Deliver PDF' }).click();
  await page.getByText('the rest of the page the same').waitFor();
  await shoot(page, 'proof-letter');
  await page.goto(`${server.address}/watermarks`);
  await page
    .getByRole('link', { name: /kite and name/ })
    .first()
    .click();
  await page.waitForFunction(() => document.querySelectorAll('main canvas').length === 6);
  await page.waitForTimeout(500);
  await shoot(page, 'watermarks');
} finally {
  await browser.close();
  await server.kill();
  await rm(folder, { recursive: true, force: true });
}

async function dragSheet(page: Page, from: readonly number[], ...to: (readonly number[])[]): Promise<void> {
  const box = (await page.locator('canvas[data-sheet]').boundingBox())!;
  const move = ([across, down]: readonly number[]) =>
    page.mouse.move(box.x + across! * box.width, box.y + down! * box.height, { steps: 8 });
  await move(from);
  await page.mouse.down();
  for (const place of to) await move(place);
  await page.mouse.up();
}

async function openShelf(page: Page): Promise<void> {
  await page.goto(server.address);
  await page.waitForFunction(() =>
    [...document.images].every((image) => image.complete && image.naturalWidth > 0),
  );
}

async function openPiece(page: Page, name: string): Promise<void> {
  await openShelf(page);
  await page
    .getByRole('link', { name: new RegExp(name) })
    .first()
    .click();
  await waitForFullSize(page);
}

async function clickSheet(page: Page, across: number, down: number): Promise<void> {
  const box = (await page.locator('canvas[data-sheet]').boundingBox())!;
  await page.locator('[data-cursor]').click({ position: { x: across * box.width, y: down * box.height } });
}

async function shoot(page: Page, name: string, pointer = [640, 790]): Promise<void> {
  if (name.startsWith('bench')) await waitForFullSize(page);
  await page.mouse.move(pointer[0]!, pointer[1]!);
  await page.waitForTimeout(2500);
  if (name.startsWith('bench')) await waitForFullSize(page);
  await page.waitForTimeout(500);
  await page.screenshot({ path: path.join('docs', 'screenshots', `${name}.png`) });
}

/** Brings a document with a scanned letter and a drawn page. */
async function bringPages(page: Page): Promise<void> {
  const document = await PDFDocument.create();
  for (const name of ['ostrel-letter.png', 'ostrel-badge.png', 'ostrel-emblem.png']) {
    const picture = await document.embedPng(await readFile(`demo/pictures/${name}`));
    const [width, height] = [(picture.width * 72) / 200, (picture.height * 72) / 200];
    document.addPage([width, height]).drawImage(picture, { x: 0, y: 0, width, height });
  }
  const buffer = Buffer.from(await document.save());
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'ostrel-brochure.pdf', mimeType: 'application/pdf', buffer });
  await page.getByText('holds 3 pictures').waitFor();
}

/** Runs a routine on a part of a series, to which a broken file has come. */
async function runSeries(page: Page): Promise<void> {
  await page.goto(`${server.address}/runs`);
  await page.locator('section[aria-label="New run"][aria-busy="false"]').waitFor();
  const kites = Array.from(
    { length: 14 },
    (_, k) => `demo/pictures/series-kite-${String(k + 1).padStart(2, '0')}.jpg`,
  );
  const files = await Promise.all(
    kites.map(async (file) => ({
      name: path.basename(file),
      mimeType: 'image/jpeg',
      buffer: await readFile(file),
    })),
  );
  files.splice(4, 0, {
    name: 'series-kite-04b.jpg',
    mimeType: 'image/jpeg',
    buffer: files[3]!.buffer.subarray(0, 20),
  });
  await page.locator('input[aria-label="Pictures to run a routine on"]').setInputFiles(files);
  await page.getByRole('combobox', { name: 'Routine' }).first().click();
  await page.getByRole('option', { name: 'product-on-transparent' }).click();
  await page.getByRole('button', { name: 'Run product-on-transparent on 14 pictures' }).click();
  await page.getByText('Done:').waitFor();
  await page.getByRole('button', { name: /^Done, / }).click();
}
