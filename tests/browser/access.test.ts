import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { put } from '../make/files';
import { freshFolder } from '../make/folder';
import { openBench, openPage, startBrowser, waitForFullSize } from './browser';
import { demoPicture } from './demo';
import { ask, startServer, type TestServer } from './server';

let server: TestServer;
let empty: TestServer;
let browser: Browser;
let page: Page;
const problems: string[] = [];
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

beforeAll(async () => {
  const folder = await freshFolder();
  server = await startServer(path.join(folder, 'data'));
  for (const name of ['ostrel-kite.jpg', 'ostrel-signature-phone.jpg'])
    await ask(server, `/api/pieces?name=${name}`, {
      method: 'POST',
      body: new Uint8Array(readFileSync(demoPicture(name))),
    });
  empty = await startServer(path.join(folder, 'empty'));
  browser = await startBrowser();
  page = await openPage(browser, problems);
});

afterAll(async () => {
  await browser.close();
  await server.kill();
  await empty.kill();
});

afterEach(() => {
  expect(problems.splice(0)).toEqual([]);
});

/** The demo badge with three grains of dust on its background and two holes in its kite. */
async function faultyBadge(): Promise<string> {
  const layer = (places: readonly (readonly [number, number])[], radius: number) =>
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="500" height="500" viewBox="0 0 1000 1000" fill="#c8c0a0">${places
        .map(([x, y]) => `<circle cx="${x}" cy="${y}" r="${radius}"/>`)
        .join('')}</svg>`,
    );
  const dust = [
    [40, 60],
    [950, 70],
    [940, 930],
  ] as const;
  const holes = [
    [475, 300],
    [530, 300],
  ] as const;
  const badge = sharp(demoPicture('ostrel-badge.png'))
    .ensureAlpha()
    .composite([{ input: layer(dust, 4) }, { input: layer(holes, 2.8), blend: 'dest-out' }]);
  return put(await freshFolder(), 'ostrel-badge.png', await badge.png().toBuffer());
}

interface Violation {
  readonly id: string;
  readonly nodes: readonly { readonly html: string; readonly failureSummary?: string }[];
}

/** Waits until nothing fades or moves any more. */
async function settled(): Promise<void> {
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter(({ effect }) => effect?.getComputedTiming().endTime !== Infinity)
        .map(({ finished }) => finished.catch(() => undefined)),
    ),
  );
}

/** What axe finds wrong on the page as it is: WCAG 2.2 A and AA, and its best practices. */
async function violations(): Promise<string[]> {
  // No tooltip, which comes and goes with the pointer, by and by.
  await page.mouse.move(2, 2);
  await settled();
  await page.waitForFunction(() => !document.querySelector('[role="tooltip"]'));
  await page.evaluate(axe);
  const found = await page.evaluate(async () => {
    const { axe: runner } = window as unknown as { axe: { run(): Promise<{ violations: Violation[] }> } };
    return (await runner.run()).violations;
  });
  return found.flatMap(({ id, nodes }) =>
    nodes.map(({ html, failureSummary }) => `${id}: ${html.slice(0, 160)} ${failureSummary ?? ''}`),
  );
}

const dusk = () => page.getByRole('button', { name: 'Switch between daylight and dusk' }).click();

/** In the theme at hand and in the other, which stays. */
async function expectAccessible(): Promise<void> {
  expect(await violations()).toEqual([]);
  await dusk();
  expect(await violations()).toEqual([]);
}

describe('accessibility, by axe, in daylight and dusk', () => {
  it('finds nothing on the Shelf, with pieces, a selection, an open menu, and empty', async () => {
    await page.goto(server.address);
    await page.getByText('3 findings').first().waitFor({ timeout: 60_000 });
    await expectAccessible();
    await page.getByRole('checkbox', { name: 'Select ostrel-kite.jpg' }).click({ force: true });
    await expectAccessible();
    await page.getByRole('button', { name: /^Trash/ }).click();
    await expectAccessible();
    await page.goto(empty.address);
    await expectAccessible();
  });

  it('finds nothing on the Bench, in any stage', async () => {
    await openBench(page, server.address, 'ostrel-kite');
    await page.getByRole('button', { name: /3 areas not sure/ }).click();
    await expectAccessible();
    for (let theme = 0; theme < 2; theme++) {
      for (const key of ['1', '3', '4', '5', '6']) {
        await page.keyboard.press(key);
        expect(await violations()).toEqual([]);
      }
      await dusk();
    }
  });

  it('finds nothing while comparing, in the key list, the View menu and by ink', async () => {
    await openBench(page, server.address, 'ostrel-signature-phone');
    await page.keyboard.press('w');
    await expectAccessible();
    await page.keyboard.press('w');
    await page.keyboard.press('?');
    expect(await violations()).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'View' }).click();
    await page.getByRole('dialog').waitFor();
    expect(await violations()).toEqual([]);
  });
});

describe('the screens of runs, by axe, in daylight and dusk', () => {
  it('finds nothing on Runs and Routines', async () => {
    await page.goto(`${server.address}/runs`);
    await page.getByRole('button', { name: 'Watch a folder' }).click();
    await expectAccessible();
    await page.goto(`${server.address}/runs/routines`);
    await page.getByRole('button', { name: /^signature-to-ink/ }).click();
    await expectAccessible();
  });
});

describe('proofs', () => {
  it('have nothing on the list, the wall, an open ground and beside the bench', async () => {
    await page.goto(`${server.address}/proofs`);
    await expectAccessible();
    await openBench(page, server.address, 'kite');
    await page.keyboard.press('r');
    const band = page.getByRole('region', { name: 'Tried on' });
    await band.locator('canvas').first().waitFor();
    await expectAccessible();
    await band.getByRole('link', { name: 'Open in Proofs' }).click();
    await page.getByRole('button', { name: /Letter, A4/ }).waitFor();
    await expectAccessible();
    await page.getByRole('button', { name: /Letter, A4/ }).click();
    await page.getByText('along its edge').waitFor();
    await expectAccessible();
  });
});

describe('watermarks', () => {
  it('have nothing on the list and on the screen of one, whatever is set', async () => {
    await page.goto(`${server.address}/watermarks`);
    await page.waitForFunction(() => document.querySelectorAll('main canvas').length === 2);
    await expectAccessible();
    await page
      .getByRole('link', { name: /name alone/ })
      .first()
      .click();
    await page.waitForFunction(() => document.querySelectorAll('main canvas').length === 6);
    await expectAccessible();
    for (const name of ['Look', 'Place', 'Photos']) {
      await page.getByRole('radiogroup', { name: 'What is set' }).getByText(name).click();
      if (name === 'Look') await page.getByRole('switch', { name: 'Plate behind it' }).click();
      if (name === 'Place') await page.getByRole('switch', { name: 'Over the whole photo' }).click();
      await expectAccessible();
    }
  });
});

describe('by keyboard alone', () => {
  const tabTo = async (name: string | RegExp, most = 60) => {
    for (let k = 0; k < most; k++) {
      await page.keyboard.press('Tab');
      const label = await page.evaluate(() => {
        const { activeElement: at } = document;
        if (!(at instanceof HTMLElement) || at === document.body) return '';
        return at.getAttribute('aria-label') ?? at.innerText;
      });
      if (typeof name === 'string' ? label.trim() === name : name.test(label)) return;
    }
    throw new Error(`Tab does not lead to ${String(name)}.`);
  };

  it('takes a demo logo from bringing it in to delivery', async () => {
    await page.goto(empty.address);
    await page.locator('section[aria-busy="false"]').waitFor();
    // A file dialog belongs to the browser: it is opened by keyboard and given the file.
    // Listening is begun early: until the browser knows of it, a dialog goes unseen.
    const chooser = page.waitForEvent('filechooser');
    await tabTo('Browse');
    await page.keyboard.press('Enter');
    await (await chooser).setFiles(await faultyBadge());
    await page.getByText('is on the Shelf.').waitFor();
    await tabTo('ostrel-badge.png');
    await page.keyboard.press('Enter');
    await waitForFullSize(page);
    await page.getByRole('button', { name: /3 specks/ }).waitFor();
    // One finding is put right where it is, the others at once.
    await page.keyboard.press('n');
    await page.getByRole('button', { name: /^Show speck 1/ }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByText('1 place mended').waitFor();
    await page.getByRole('button', { name: 'Clear 2 specks' }).waitFor();
    await tabTo(/^Fix all \d faults$/, 120);
    await page.keyboard.press('Enter');
    await page.getByText('All clean').waitFor();
    await page.keyboard.press('k');
    await page.keyboard.press('6');
    await tabTo('Deliver PNG', 120);
    await page.keyboard.press('Enter');
    await page.getByText('Read back and equal').waitFor();
    await page.getByText('Every pixel is the one the bench showed.').waitFor();
    await tabTo(/^ostrel-badge.*\.png$/, 120);
    const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
    expect(download.suggestedFilename()).toMatch(/^ostrel-badge.*\.png$/);
  });
});
