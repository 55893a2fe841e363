import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Browser, CDPSession, Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import type { CutStateFacts } from '../../src/bench/api';
import { asSharp } from '../make/files';
import { paint } from '../make/pictures';
import { openBench, openPage, sheetBox, startBrowser, waitForFullSize } from './browser';
import { onDemoSheet, startDemo } from './demo';
import { ask, type TestServer } from './server';

const SPOOL = { width: 1200, height: 1000 };

let folder: string;
let server: TestServer;
let browser: Browser;
let page: Page;
let spool: string;
let pen: CDPSession;
const problems: string[] = [];

beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'kenosis-hand-'));
  server = await startDemo(folder);
  browser = await startBrowser();
  page = await openPage(browser, problems, { hasTouch: true });
  pen = await page.context().newCDPSession(page);
  await openBench(page, server.address, 'ostrel-spool');
  spool = page.url();
  await page.keyboard.press('4');
});

afterAll(async () => {
  await browser.close();
  await server.kill();
  await rm(folder, { recursive: true, force: true });
});

afterEach(async () => {
  expect(problems.splice(0)).toEqual([]);
  if (page.url() !== spool) {
    await page.goto(spool);
    await waitForFullSize(page);
    await page.keyboard.press('4');
  }
  const all = strokes().getByRole('button', { name: /^Delete all/ });
  if (await all.count()) await all.click();
  else if (await rows().count()) await strokes().getByRole('button', { name: 'Delete stroke 1' }).click();
  await expect.poll(() => rows().count()).toBe(0);
  await page.keyboard.press('f');
});

const strokes = () => page.getByRole('region', { name: 'Strokes' });
const rows = () => strokes().locator(':scope > ol > li');
const field = (name: string) => page.getByRole('textbox', { name, exact: true });
const undo = () => page.getByRole('button', { name: 'Undo', exact: true });
const tool = (name: string) =>
  page
    .getByRole('radiogroup', { name: 'What the pointer does on the sheet' })
    .getByRole('radio', { name, exact: true })
    .check({ force: true });

/** Where pixels of the spool lie on the page. */
async function places(...points: readonly (readonly [number, number])[]) {
  const box = await sheetBox(page);
  return (await onDemoSheet(page, SPOOL, points)).map(
    ([x, y]) => [box.x + x * box.width, box.y + y * box.height] as const,
  );
}

async function drag(...points: readonly (readonly [number, number])[]): Promise<void> {
  const [first, ...others] = await places(...points);
  await page.mouse.move(...first!);
  await page.mouse.down();
  for (const place of others) await page.mouse.move(...place, { steps: 6 });
  await page.mouse.up();
}

async function click(x: number, y: number): Promise<void> {
  const [place] = await places([x, y]);
  await page.mouse.click(...place!);
}

/** The alpha of a pixel of the result, as the status line reads it. */
async function alphaAt(x: number, y: number): Promise<number> {
  await waitForFullSize(page);
  const [place] = await places([x, y]);
  await page.mouse.move(place![0] + 3, place![1]);
  await page.mouse.move(...place!);
  const status = page.locator(`footer[data-read="${x / 2},${y / 2}"]`);
  return Number(/alpha (\d+)/.exec(await status.innerText())![1]);
}

/** The strokes as the server has them. */
async function saved(): Promise<CutStateFacts['cut']['touchUp']['strokes']> {
  const id = page.url().split('/').at(-1)!;
  const { state } = (await (await ask(server, `/api/pieces/${id}`)).json()) as { state: CutStateFacts };
  return state.cut.touchUp.strokes;
}

describe('brushes', () => {
  it('clear and bring back by mouse, one step of undo each, and one is deleted by itself', async () => {
    await tool('Clear');
    await drag([500, 180], [700, 180]);
    await drag([500, 300], [700, 300]);
    await expect.poll(() => rows().count()).toBe(2);
    await expect.poll(() => alphaAt(600, 180)).toBe(0);
    await page.keyboard.press('b');
    await drag([580, 180], [620, 180]);
    await expect.poll(() => rows().first().innerText()).toContain('bring back');
    await expect.poll(() => alphaAt(600, 180)).toBe(255);
    await undo().click();
    await expect.poll(() => rows().count()).toBe(2);
    await expect.poll(() => alphaAt(600, 180)).toBe(0);
    await strokes().getByRole('button', { name: 'Delete stroke 1' }).click();
    await expect.poll(() => rows().count()).toBe(1);
    await expect.poll(() => alphaAt(600, 180)).toBe(255);
    await expect.poll(() => alphaAt(600, 302)).toBe(0);
  });

  it('act in the order of the list, which can be changed', async () => {
    await tool('Clear');
    await drag([560, 180], [640, 180]);
    await tool('Bring back');
    await drag([560, 180], [640, 180]);
    await expect.poll(() => alphaAt(600, 180)).toBe(255);
    await strokes().getByRole('button', { name: 'Move stroke 2 earlier' }).click();
    await expect
      .poll(async () => (await saved()).map(({ kind, does }) => `${kind} ${does}`))
      .toEqual(['brush restore', 'brush clear']);
    await expect.poll(() => alphaAt(600, 180)).toBe(0);
  });

  it('are sized by keys, by Alt and a drag, and softened', async () => {
    await tool('Clear');
    const before = await field('Size').inputValue();
    await page.keyboard.press(']');
    expect(await field('Size').inputValue()).not.toBe(before);
    await page.keyboard.press('}');
    expect(await field('Softness').inputValue()).toBe('10 %');
    await page.keyboard.press('{');
    expect(await field('Softness').inputValue()).toBe('0 %');
    await page.keyboard.down('Alt');
    await drag([600, 500], [660, 500]);
    await page.keyboard.up('Alt');
    expect(parseFloat(await field('Size').inputValue())).toBeGreaterThan(parseFloat(before) + 40);
    expect(await rows().count()).toBe(0);
    await field('Size').fill('25');
    await field('Size').press('Enter');
  });

  it('go on straight with Shift and a click, and keep level with Shift and a drag', async () => {
    await tool('Clear');
    await click(500, 300);
    await page.keyboard.down('Shift');
    await click(700, 340);
    await drag([500, 420], [700, 440]);
    await page.keyboard.up('Shift');
    await expect.poll(async () => (await saved()).length).toBe(3);
    const paths = (await saved()).map((stroke) => ('path' in stroke ? stroke.path.split(' ') : []));
    expect(paths[1]).toHaveLength(2);
    const heights = paths[2]!.map((place) => Number(place.split(',')[1]));
    expect(Math.max(...heights) - Math.min(...heights)).toBeLessThan(1);
  });

  it('begin and end a straight line by Enter at the crosshair, and Escape lets go of it', async () => {
    await tool('Clear');
    await page.getByRole('application').focus();
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    await page.keyboard.press('Enter');
    for (let k = 0; k < 9; k++) await page.keyboard.press('Shift+ArrowRight');
    await page.keyboard.press('Enter');
    await expect.poll(() => rows().count()).toBe(1);
    await expect
      .poll(async () =>
        (await saved()).map((stroke) => (stroke.kind === 'brush' ? stroke.path.split(' ').length : 0)),
      )
      .toEqual([2]);
  });

  it('feel the pressure of a pen, and take a finger; two fingers zoom and leave no stroke', async () => {
    await tool('Clear');
    const [from] = await places([500, 250]);
    const press = (type: string, x: number, force: number) =>
      pen.send('Input.dispatchMouseEvent', {
        type: type as 'mousePressed',
        x: from![0] + x,
        y: from![1],
        button: 'left',
        buttons: type === 'mouseReleased' ? 0 : 1,
        clickCount: 1,
        pointerType: 'pen',
        force,
      });
    await press('mousePressed', 0, 0.1);
    for (let k = 1; k <= 12; k++) await press('mouseMoved', k * 9, 0.1 + k * 0.07);
    await press('mouseReleased', 108, 0.9);
    await expect.poll(async () => (await saved()).length).toBe(1);
    const [pressed] = await saved();
    expect(pressed).toMatchObject({ pressure: 'size' });
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: number[]) =>
      pen.send('Input.dispatchTouchEvent', {
        type,
        touchPoints: points.map((x, id) => ({ x: from![0] + x, y: from![1] + 80, id })),
      });
    await touch('touchStart', 0);
    for (let k = 1; k <= 6; k++) await touch('touchMove', 12 * k);
    await touch('touchEnd');
    await expect.poll(() => rows().count()).toBe(2);
    const zoom = page.locator('[aria-label="Zoom"]');
    const before = await zoom.innerText();
    await touch('touchStart', 0);
    await touch('touchMove', 12);
    await touch('touchStart', 12, 80);
    for (let k = 1; k <= 6; k++) await touch('touchMove', 12 - 4 * k, 80 + 8 * k);
    await touch('touchEnd');
    await expect.poll(() => zoom.innerText()).not.toBe(before);
    expect(await rows().count()).toBe(2);
  });

  it('take only what is alike, and show beforehand what that is', async () => {
    await tool('Clear');
    await page.getByRole('switch', { name: 'Clears only what is alike' }).check({ force: true });
    const [wood] = await places([600, 155]);
    await page.mouse.move(wood![0] + 2, wood![1]);
    await page.mouse.move(...wood!);
    await expect
      .poll(async () => Number(await page.locator('[data-alike]').getAttribute('data-alike')))
      .toBeGreaterThan(20);
    await page.getByRole('switch', { name: 'Clears only what is alike' }).uncheck({ force: true });
    await expect.poll(() => page.locator('[data-alike]').count()).toBe(0);
  });

  it('say which strokes change nothing, lift one on the sheet, and hide the idle ones', async () => {
    await tool('Clear');
    await drag([60, 60], [120, 60]);
    await drag([500, 180], [700, 180]);
    await strokes().getByText('1 change nothing').waitFor();
    await rows().first().hover();
    await expect.poll(() => page.locator('[data-lifted]').count()).toBe(1);
    await page.getByRole('switch', { name: 'Only strokes that change something' }).check({ force: true });
    await expect.poll(() => rows().count()).toBe(1);
    await page.getByRole('switch', { name: 'Only strokes that change something' }).uncheck({ force: true });
  });

  it('switch a stage on that was switched off', async () => {
    await page.getByRole('switch', { name: 'Touch up is on' }).click({ force: true });
    await page.getByText('Touch up is switched off').waitFor();
    await tool('Clear');
    await drag([560, 180], [640, 180]);
    await page.getByText('Touch up is switched off').waitFor({ state: 'detached' });
    await expect.poll(() => alphaAt(600, 180)).toBe(0);
  });
});

describe('areas, pieces and lines', () => {
  it('are outlined corner by corner, moved by their numbers and handles, and softened', async () => {
    await tool('Area');
    for (const [x, y] of [
      [520, 160],
      [680, 160],
      [680, 260],
      [520, 260],
      [520, 160],
    ] as const)
      await click(x, y);
    await expect.poll(() => rows().count()).toBe(1);
    await expect.poll(() => alphaAt(600, 200)).toBe(0);
    await expect.poll(() => alphaAt(600, 302)).toBe(255);
    await field('Corner 3, y').fill('180');
    await field('Corner 3, y').press('Enter');
    await field('Corner 4, y').fill('180');
    await field('Corner 4, y').press('Enter');
    await expect.poll(() => alphaAt(600, 302)).toBe(0);
    await page.getByRole('button', { name: 'Area: corner 1' }).press('ArrowLeft');
    await expect.poll(() => field('Corner 1, x').inputValue()).toBe('259.5');
    await strokes().locator('label', { hasText: 'Bring back' }).click();
    await expect.poll(() => alphaAt(600, 302)).toBe(255);
    const gone = strokes().getByRole('button', { name: 'Remove corner 4' });
    await gone.click();
    await expect.poll(() => strokes().getByRole('list', { name: 'Corners' }).locator('li').count()).toBe(3);
    expect(await strokes().getByRole('button', { name: 'Remove corner 1' }).isDisabled()).toBe(true);
  });

  it('are drawn freehand, as rectangles, and along a border', async () => {
    await tool('Area');
    const by = page.getByRole('combobox', { name: 'Drawn' });
    const choose = async (name: string) => {
      await by.click();
      await page.getByRole('option', { name }).click();
    };
    await choose('Rectangle');
    await drag([520, 200], [680, 300]);
    await expect.poll(() => rows().count()).toBe(1);
    await expect.poll(() => alphaAt(600, 250)).toBe(0);
    await choose('Freehand');
    await drag([540, 330], [660, 330], [660, 400], [540, 400], [540, 335]);
    await expect.poll(() => rows().count()).toBe(2);
    await choose('Along a sharp border');
    await click(460, 130);
    await click(740, 130);
    await expect
      .poll(async () => Number(await page.locator('[data-outline]').getAttribute('data-outline')))
      .toBeGreaterThan(1);
    await click(740, 180);
    await expect.poll(() => page.getByText(/^\d+ corners\./).count()).toBe(1);
    await page.getByRole('button', { name: 'Close the outline' }).click();
    await expect.poll(() => rows().count()).toBe(3);
    await choose('Corner by corner');
  });

  it('keep one piece of what is left', async () => {
    await tool('Piece');
    await expect.poll(() => alphaAt(600, 700)).toBe(255);
    await click(600, 235);
    await expect.poll(() => rows().count()).toBe(1);
    await expect.poll(() => rows().first().innerText()).toContain('keep only this piece');
    await expect.poll(() => alphaAt(560, 540)).toBe(0);
  });

  it('split a sheet with several of them into pieces of their own', async () => {
    const sheet = paint(300, 160, (x, y) =>
      Math.hypot(x - 70, y - 80) < 40 || (Math.abs(x - 220) < 45 && Math.abs(y - 80) < 20)
        ? [140, 30, 40]
        : [246, 246, 244],
    );
    const body = new Uint8Array(await asSharp(sheet).png().toBuffer());
    await ask(server, '/api/pieces?name=two.png', { method: 'POST', body });
    await openBench(page, server.address, 'two.png');
    await page.keyboard.press('4');
    await tool('Piece');
    await page.getByRole('button', { name: '2 pieces: put each on the Shelf' }).click();
    await page.getByText('2 pieces are on the Shelf: two-1.png, two-2.png.').waitFor();
    await openBench(page, server.address, 'two-2.png');
    await page.getByText(/^11[0-9] x 6[0-9] px$/).waitFor();
    await page.keyboard.press('4');
  });

  it('say so where no line is near to be joined, and lose nothing', async () => {
    await tool('Lines');
    await click(60, 60);
    await click(90, 60);
    await page.getByText('No line ends near one of these places').waitFor();
    expect(await rows().count()).toBe(0);
  });
});
