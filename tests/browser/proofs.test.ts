import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { freshFolder } from '../make/folder';
import { letterPdf } from '../make/letters';
import { openBench, openPage, startBrowser } from './browser';
import { demoPicture } from './demo';
import { ask, startServer, type TestServer } from './server';

let server: TestServer;
let browser: Browser;
let page: Page;
let folder: string;
const problems: string[] = [];

const at = (name: string) => path.join(folder, name);

beforeAll(async () => {
  folder = await freshFolder();
  server = await startServer(at('data'));
  await writeFile(at('letter.pdf'), await letterPdf({ pages: 2, line: { x: 90, y: 200, width: 180 } }));
  await writeFile(at('next.pdf'), await letterPdf({ pages: 3, line: { x: 220, y: 260, width: 180 } }));
  await writeFile(at('broken.pdf'), 'no pdf at all');
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

const value = (label: string) => page.getByRole('textbox', { name: label, exact: true }).inputValue();
const numberIn = async (label: string) => Number.parseFloat(await value(label));
const placed = (name: RegExp) => page.getByRole('region', { name: 'Board' }).getByRole('button', { name });
const measured = () => page.getByText('along its edge').waitFor();

describe('proofs', () => {
  it('begin at a piece on the Shelf: a letter is signed from a phone photo in five actions', async () => {
    await page.goto(server.address);
    const actions: string[] = [];
    const act = async (what: string, doing: Promise<unknown>) => {
      actions.push(what);
      await doing;
    };
    const browse = page.locator('input[type=file]').first();
    await act('drop the photo', browse.setInputFiles(demoPicture('ostrel-signature-phone.jpg')));
    const more = page.getByRole('button', { name: 'More for ostrel-signature-phone.jpg' });
    await more.waitFor();
    await act('open its menu', more.click({ force: true }));
    await act('try it on', page.getByRole('menuitem', { name: 'Try it on' }).click());
    await page
      .getByRole('region', { name: 'Grounds' })
      .getByRole('button', { name: /Letter, A4/ })
      .waitFor();
    await expect
      .poll(() => page.getByRole('region', { name: 'Grounds' }).getByRole('button').count())
      .toBe(8);
    const drop = page.locator('input[aria-label="PDF or picture to bring as a ground"]');
    await act('drop the letter', drop.setInputFiles(at('letter.pdf')));
    await page.getByText('a line for a signature was found').waitFor();
    await placed(/ostrel-signature-phone/).waitFor();
    const download = page.waitForEvent('download');
    await act('deliver', page.getByRole('button', { name: 'Deliver PDF' }).click());
    expect((await download).suggestedFilename()).toBe('letter-placed.pdf');
    await page.getByText('the rest of the page the same').waitFor();
    expect(actions).toHaveLength(5);
  });

  it('place by mouse and by keys, in numbers, and take it back', async () => {
    const piece = placed(/ostrel-signature-phone/);
    await page.getByRole('radio', { name: 'bottom right', exact: true }).click();
    const [x, y] = [await numberIn('From the right'), await numberIn('From the bottom')];
    const box = (await piece.boundingBox())!;
    const [fromX, fromY] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(fromX, fromY);
    await page.keyboard.down('Alt');
    await page.mouse.down();
    await page.mouse.move(fromX + 20, fromY - 30, { steps: 4 });
    await page.mouse.up();
    await page.keyboard.up('Alt');
    await expect.poll(() => numberIn('From the right')).toBeLessThan(x - 3);
    expect(await numberIn('From the bottom')).toBeGreaterThan(y + 4);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => numberIn('From the right')).toBe(x);
    await piece.focus();
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Shift+ArrowUp');
    await expect.poll(() => numberIn('From the right')).toBeCloseTo(x + 1, 2);
    await expect.poll(() => numberIn('From the bottom')).toBeCloseTo(y + 10, 2);
    await page.getByRole('textbox', { name: 'Width', exact: true }).fill('30');
    await page.keyboard.press('Enter');
    await expect
      .poll(async () => (await piece.getAttribute('aria-label')) ?? '')
      .toContain('30\u00a0mm wide');
    await page.getByRole('textbox', { name: 'Turned', exact: true }).fill('12');
    await page.keyboard.press('Enter');
    await expect.poll(() => piece.evaluate((one) => one.style.transform)).toBe('rotate(12deg)');
    // By a corner: larger, its shape kept.
    await page.getByRole('textbox', { name: 'Turned', exact: true }).fill('0');
    await page.keyboard.press('Enter');
    await expect.poll(() => piece.evaluate((one) => one.style.transform)).toBe('');
    const before = (await piece.boundingBox())!;
    await piece.focus();
    const corner = (await page.getByTitle('Pull the upper left corner').boundingBox())!;
    await page.mouse.move(corner.x + corner.width / 2, corner.y + corner.height / 2);
    await page.mouse.down();
    await page.mouse.move(before.x - 40, before.y - 12, { steps: 4 });
    await page.mouse.up();
    await expect.poll(() => numberIn('Width')).toBeGreaterThan(35);
    const after = (await piece.boundingBox())!;
    expect(after.width / after.height).toBeCloseTo(before.width / before.height, 1);
    expect(after.x + after.width).toBeCloseTo(before.x + before.width, -1);
    // What is not saved yet would be asked about, or lost.
    const width = await numberIn('Width');
    const address = `/api${new URL(page.url()).pathname}`;
    await expect
      .poll(async () => {
        const { state } = (await (await ask(server, address)).json()) as {
          state: { proof: { grounds: { placed: { width: number }[] }[] } };
        };
        return state.proof.grounds.at(-1)!.placed[0]!.width;
      })
      .toBeCloseTo(width, 1);
    await page.reload();
    await page.getByRole('button', { name: /letter\.pdf/ }).click();
    await expect.poll(() => numberIn('Width')).toBeGreaterThan(35);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => numberIn('Width')).toBe(30);
  });

  it('keep the place as a template: the next letter is two actions', async () => {
    await page.getByRole('button', { name: 'Keep as a template' }).click();
    await page.getByRole('textbox', { name: 'Name of the template' }).fill('Signed by Maren');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByText('Drop the next letter on it').waitFor();
    await page.getByRole('link', { name: 'Proofs', exact: true }).first().click();
    await page.locator('input[aria-label="PDF for Signed by Maren"]').setInputFiles(at('next.pdf'));
    await page.getByText('a line for a signature was found').waitFor();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Deliver PDF' }).click();
    expect((await download).suggestedFilename()).toBe('next-placed.pdf');
  });

  it('say what is wrong with a file, and keep what is there', async () => {
    const drop = page.locator('input[aria-label="PDF or picture to bring as a ground"]');
    await drop.setInputFiles(at('broken.pdf'));
    await page.getByText('"broken.pdf" is damaged: it cannot be read as a PDF.').waitFor();
    await placed(/ostrel-signature-phone/).waitFor();
    expect((await page.request.get(`${server.address}/proofs/999`)).status()).toBe(404);
  });

  it('say that a version can be read better on a dark ground, and lay it', async () => {
    const { pieces } = (await (await ask(server, '/api/pieces')).json()) as { pieces: { id: string }[] };
    const answer = await ask(server, '/api/proofs', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ piece: pieces[0]!.id }),
    });
    const { state } = (await answer.json()) as { state: { id: number } };
    await page.goto(`${server.address}/proofs/${state.id}`);
    await page.getByRole('button', { name: /Site header, dark/ }).click();
    await page.getByText('Hard to read here').waitFor();
    await page.getByRole('button', { name: /Lay the light version/ }).click();
    const version = page.getByRole('combobox', { name: 'Version' });
    await expect.poll(() => version.inputValue()).toBe('Light version');
    await measured();
    await expect.poll(() => page.getByText('Hard to read here').count()).toBe(0);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /Site header, light/ }).waitFor();
  });

  it('follow a setting on the bench at once, and the bench in another window when it is saved', async () => {
    // Windows of one browser hear of each other.
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const [own, other] = [await context.newPage(), await context.newPage()];
    await other.goto(`${server.address}/proofs`);
    await openBench(own, server.address, 'signature');
    await own.keyboard.press('r');
    const band = own.getByRole('region', { name: 'Tried on' });
    const card = band.getByRole('link', { name: 'Business card' });
    await card.locator('canvas').waitFor();
    const shown = await band.getByRole('link', { name: 'Open in Proofs' }).getAttribute('href');
    await other.goto(server.address + shown);
    await other.getByRole('button', { name: /Business card/ }).waitFor();
    const before = await card.screenshot();
    await own.getByRole('switch', { name: 'Clear is on' }).click({ force: true });
    await expect.poll(async () => Buffer.compare(await card.screenshot(), before)).not.toBe(0);
    await other.getByText('changed on the bench since this proof was looked at').waitFor();
    await own.getByRole('button', { name: 'Close the grounds' }).click();
    await expect.poll(() => band.count()).toBe(0);
    await context.close();
  });
});
