import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { asSharp, put } from '../make/files';
import { freshFolder } from '../make/folder';
import { paint } from '../make/pictures';
import { openBench, openPage, sheetBox, sheetColors, startBrowser, waitForFullSize } from './browser';
import { ask, startServer, type TestServer } from './server';

let server: TestServer;
let browser: Browser;
let page: Page;
const problems: string[] = [];

const SIZE = { width: 400, height: 300 };
/** Three grains of dust beside a disc with a hole, on white. */
const DUST = [
  [30, 40],
  [360, 60],
  [340, 260],
] as const;

beforeAll(async () => {
  const folder = await freshFolder();
  server = await startServer(path.join(folder, 'data'));
  const picture = paint(SIZE.width, SIZE.height, (x, y) => {
    if (DUST.some(([u, v]) => Math.hypot(x - u, y - v) < 1.8)) return [60, 70, 160];
    const far = Math.hypot(x - 200, y - 150);
    const inside = Math.min(1, Math.max(0, 90.5 - far), Math.max(0, far - 30.5));
    const mix = (own: number) => Math.round(255 + (own - 255) * inside);
    return [mix(160), mix(40), mix(50)];
  });
  const file = await put(folder, 'ring.png', await asSharp(picture).png().toBuffer());
  const { readFile } = await import('node:fs/promises');
  await ask(server, '/api/pieces?name=ring.png', { method: 'POST', body: await readFile(file) });
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

const findings = () => page.getByRole('region', { name: 'Findings' });
const specks = () => findings().locator('button[aria-expanded]').filter({ hasText: 'speck' });
/** The hole of the ring, on white paper, is nothing to be sure of. */
const keepHole = async () => {
  const row = findings().locator('button[aria-expanded]').filter({ hasText: 'area not sure' });
  await row.click();
  await findings().getByRole('button', { name: 'Keep all', exact: true }).click();
  await expect.poll(() => row.count()).toBe(0);
};
/** Opens the bench with the proposal in force, whatever a test before has left. */
const openFresh = async () => {
  await page.goto('about:blank');
  const { pieces } = (await (await ask(server, '/api/pieces')).json()) as {
    pieces: { id: string; name: string }[];
  };
  const { id } = pieces.find(({ name }) => name === 'ring.png')!;
  const move = (direction: 'undo' | 'redo') =>
    ask(server, `/api/pieces/${id}/position`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ move: direction }),
    });
  while ((await move('undo')).ok);
  await move('redo');
  await openBench(page, server.address, 'ring');
};
const open = async () => {
  await openFresh();
  await specks().waitFor();
};

/** Where a pixel of the fitted picture lies on the sheet, as shares of its width and height. */
async function colorAt(x: number, y: number): Promise<string> {
  await page.keyboard.press('f');
  await waitForFullSize(page);
  const box = await sheetBox(page);
  const left = Math.round((box.width - SIZE.width) / 2);
  const top = Math.round((box.height - SIZE.height) / 2);
  const [color] = await sheetColors(page, [[(left + x + 0.5) / box.width, (top + y + 0.5) / box.height]]);
  return color!;
}

describe('working through findings', () => {
  it('lists them, walks through them by key, and shows each place', async () => {
    await open();
    expect(await specks().innerText()).toContain('3 specks');
    await page.keyboard.press('n');
    const here = () => findings().locator('[aria-current]').textContent();
    await expect.poll(here).toMatch(/^Show speck 1/);
    const zoom = page.locator('[aria-label="Zoom"]');
    await expect.poll(() => zoom.innerText()).toContain('800');
    await page.keyboard.press('n');
    await expect.poll(here).toMatch(/^Show speck 2/);
    await page.keyboard.press('Shift+N');
    await expect.poll(here).toMatch(/^Show speck 1/);
  });

  it('puts one right by Enter, the rest at once, and undo brings them back', async () => {
    await open();
    await page.getByRole('radio', { name: 'Magenta backing' }).click();
    await page.keyboard.press('n');
    await page.keyboard.press('Enter');
    await page.getByText('1 place mended').waitFor();
    await expect.poll(() => specks().innerText()).toContain('2 specks');
    await page.getByRole('button', { name: 'Clear 2 specks' }).click();
    await page.getByText('3 places mended').waitFor();
    await expect.poll(() => specks().count()).toBe(0);
    await page.getByRole('radio', { name: 'Magenta backing' }).click();
    for (const [x, y] of DUST) expect(await colorAt(x, y)).toBe('#ff00ff');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect.poll(() => specks().innerText()).toContain('3 specks');
    await expect.poll(() => colorAt(...DUST[0])).not.toBe('#ff00ff');
  });

  it('asks one question about what is not sure, with both results as pictures, answered by click and by key', async () => {
    await open();
    const question = page.getByRole('group', { name: '1 white area: keep or clear?' });
    await question.locator('canvas[data-drawn]').nth(1).waitFor();
    const middles = await question.locator('canvas').evaluateAll((canvases) =>
      (canvases as HTMLCanvasElement[]).map((canvas) => {
        const { width, height } = canvas;
        return [...canvas.getContext('2d')!.getImageData(width >> 1, height >> 1, 1, 1).data].join();
      }),
    );
    // The hole shows the paper in one of them, the checkerboard in the other.
    expect(middles[0]).toBe('255,255,255,255');
    expect(['110,110,110,255', '90,90,90,255']).toContain(middles[1]);
    const hole = () => colorAt(200, 134);
    await page.getByRole('radio', { name: 'Magenta backing' }).click();
    await expect.poll(hole).toBe('#ffffff');
    expect(await question.getByRole('button', { name: /^Keep it\s+as now$/ }).count()).toBe(1);
    await question.getByRole('button', { name: 'Clear it' }).click();
    await expect.poll(hole).toBe('#ff00ff');
    await expect.poll(() => question.count()).toBe(0);
    await page.keyboard.press('Control+z');
    await question.waitFor();
    await expect.poll(hole).toBe('#ffffff');
    await page.keyboard.press('Shift+Q');
    await expect.poll(() => question.count()).toBe(0);
    await expect.poll(hole).toBe('#ff00ff');
    await page.keyboard.press('Control+z');
    await question.waitFor();
    await page.keyboard.press('q');
    await expect.poll(() => question.count()).toBe(0);
    await expect.poll(hole).toBe('#ffffff');
    expect(await findings().locator('button[aria-expanded]').filter({ hasText: 'not sure' }).count()).toBe(0);
  });

  it('dots what is not sure on the sheet, with two words to decide it', async () => {
    await open();
    const dots = page.locator('svg circle[class*="undecided"]');
    await expect.poll(() => dots.count()).toBeGreaterThan(20);
    const word = (name: string) =>
      page.getByRole('button', { name, exact: true }).and(page.locator('[aria-pressed]'));
    expect(await word('Keep area 1').getAttribute('aria-pressed')).toBe('true');
    expect(await word('Clear area 1').getAttribute('aria-pressed')).toBe('false');
    await word('Clear area 1').focus();
    await page.keyboard.press('Enter');
    await expect.poll(() => dots.count()).toBe(0);
    await page.getByText('1 enclosed area cleared').waitFor();
  });

  it('takes single mends back in Touch up, and obeys its switch', async () => {
    await open();
    await specks().click();
    await page.getByRole('button', { name: 'Clear 3 specks' }).click();
    await page.keyboard.press('4');
    const mends = page.getByRole('list', { name: 'Mended places' }).getByRole('listitem');
    await expect.poll(() => mends.count()).toBe(3);
    await page.getByRole('button', { name: 'Take back mend 1' }).click();
    await expect.poll(() => mends.count()).toBe(2);
    await expect.poll(() => specks().innerText()).toContain('1 speck');
    await page.getByRole('switch', { name: 'Touch up is on' }).click({ force: true });
    await expect.poll(() => specks().innerText()).toContain('3 specks');
  });

  it('leaves one as it is for good, and asks again when told to', async () => {
    await open();
    await page.keyboard.press('n');
    const saved = page.waitForResponse(/\/revisions$/);
    await page.keyboard.press('x');
    await expect.poll(() => specks().innerText()).toContain('2 specks');
    await page.getByText('1 left as it is.').waitFor();
    expect((await saved).ok()).toBe(true);
    await page.reload();
    await waitForFullSize(page);
    await expect.poll(() => specks().innerText()).toContain('2 specks');
    await page.getByRole('button', { name: 'Ask again' }).click();
    await expect.poll(() => specks().innerText()).toContain('3 specks');
  });

  it('says that a new proposal is the same, and takes another one as one step', async () => {
    const propose = findings().getByRole('button', { name: 'Propose anew' });
    await open();
    await propose.click();
    await findings().getByText('It comes out as it is now, pixel for pixel.').waitFor();
    await page.keyboard.press('Control+z');
    await expect.poll(() => specks().count()).toBe(0);
    await propose.click();
    await findings().getByRole('button', { name: 'Keep the old' }).click();
    await propose.click();
    await findings().getByRole('button', { name: 'Take the new' }).click();
    await specks().waitFor();
    await page.keyboard.press('Control+z');
    await expect.poll(() => specks().count()).toBe(0);
    await expect.poll(() => findings().getByText('Take the new').count()).toBe(0);
  });

  it('says what is still open in Deliver without forbidding it, and "All clean" only when it is', async () => {
    await open();
    await page.keyboard.press('6');
    await page.getByText(/Still open: .*3 specks/).waitFor();
    expect(await page.getByRole('button', { name: 'Deliver PNG' }).isEnabled()).toBe(true);
    await page.getByRole('button', { name: 'Show me' }).click();
    await expect.poll(() => findings().locator('[aria-current]').count()).toBe(1);
    await specks().click();
    expect(await page.getByText('All clean').count()).toBe(0);
    await specks().click();
    await page.getByRole('button', { name: 'Clear 3 specks' }).click();
    await keepHole();
    await findings().getByText('All clean: every check ran at full size.').waitFor();
    await page.keyboard.press('6');
    expect(await page.getByText('Still open').count()).toBe(0);
  });

  it('finds too few pixels for a print size, and writes the size into the file', async () => {
    await open();
    await page.keyboard.press('6');
    await page.getByRole('switch', { name: 'Print size' }).click({ force: true });
    const width = page.getByRole('textbox', { name: 'Width' });
    await width.fill('100');
    await width.press('Enter');
    await findings()
      .getByRole('button', { name: /too few pixels/ })
      .waitFor();
    await page
      .getByText('101.6 dpi')
      .or(page.getByText(/, 102 dpi/))
      .first()
      .waitFor();
    await findings()
      .getByRole('button', { name: /too few pixels/ })
      .click();
    await page.getByRole('button', { name: 'Print as wide as the pixels suffice' }).click();
    await expect.poll(() => width.inputValue()).toBe('33 mm');
    await expect
      .poll(() =>
        findings()
          .getByRole('button', { name: /too few pixels/ })
          .count(),
      )
      .toBe(0);
  });

  it('counts them on the stage strip and on the Shelf, before and after they are put right', async () => {
    await open();
    const badge = page.getByRole('navigation', { name: 'Stages' }).getByLabel('3 findings');
    await badge.waitFor();
    await specks().click();
    await page.getByRole('button', { name: 'Clear 3 specks' }).click();
    await expect.poll(() => badge.count()).toBe(0);
    const told = page.waitForRequest(
      (request) => request.method() === 'PUT' && request.postData()?.includes('"counts":{}') === true,
    );
    await keepHole();
    await page.getByText('All clean').waitFor();
    await (await told).response();
    await page.goto(server.address);
    await page.getByText('clean', { exact: true }).waitFor();
  });
});

describe('looking', () => {
  it('shows the original under a line, beside the result, and what was taken', async () => {
    await openFresh();
    await page.getByRole('radio', { name: 'Black backing' }).click();
    await page.keyboard.press('f');
    await page.keyboard.press('w');
    const line = page.getByRole('slider', { name: 'Line between original and result' });
    await line.focus();
    await page.keyboard.press('ArrowLeft');
    expect(await line.getAttribute('aria-valuenow')).toBe('48');
    await page.keyboard.press('End');
    expect(await line.getAttribute('aria-valuenow')).toBe('100');
    const corner = () => cornerColor();
    await expect.poll(corner).toBe('#ffffff');
    await page.keyboard.press('Home');
    await expect.poll(corner).toBe('#000000');
    await page.keyboard.press('w');
    expect(await line.count()).toBe(0);
    await page.keyboard.press('d');
    await page.getByText(/what was taken, full size/).waitFor();
    await expect.poll(corner).toBe('#ffffff');
    await page.keyboard.press('d');
    await page.keyboard.press('y');
    await expect.poll(() => page.getByText('original', { exact: true }).count()).toBe(1);
    await page.keyboard.press('y');
  });

  it('raises faint alpha, steps through backings with the contrasting one, and lies on another piece', async () => {
    await open();
    await page.keyboard.press('Shift+A');
    await page.getByText(/alpha with faint parts raised, full size/).waitFor();
    await page.keyboard.press('Shift+A');
    await page.getByRole('radio', { name: 'Contrasting backing' }).waitFor();
    await page.getByRole('radio', { name: 'Magenta backing' }).click();
    await page.keyboard.press('k');
    await expect.poll(() => cornerColor()).not.toBe('#ff00ff');
    const contrasting = page.getByRole('radio', { name: 'Contrasting backing' });
    const rgb = await contrasting.evaluate((swatch) => getComputedStyle(swatch).backgroundColor);
    const hex = `#${rgb
      .match(/\d+/g)!
      .map((value) => Number(value).toString(16).padStart(2, '0'))
      .join('')}`;
    await contrasting.click();
    await expect.poll(() => cornerColor()).toBe(hex);
    await expect.poll(() => page.getByRole('radio', { name: /backing/, checked: true }).count()).toBe(1);
    await page.getByRole('radio', { name: 'Picture of the Shelf as backing' }).click();
    await page.getByText('No other picture is on the Shelf.').waitFor();
    const green = await asSharp(paint(60, 40, () => [10, 200, 30]))
      .png()
      .toBuffer();
    await ask(server, '/api/pieces?name=green.png', { method: 'POST', body: new Uint8Array(green) });
    await page.keyboard.press('Escape');
    await page.getByRole('radio', { name: 'Picture of the Shelf as backing' }).click();
    await page.getByRole('button', { name: 'Lay it on green.png' }).click();
    await expect.poll(() => cornerColor()).toBe('#0ac81e');
  });

  it('shows an overview and a pixel grid only when zoomed in', async () => {
    await openFresh();
    const overview = page.locator('[class*="overview"]');
    const grid = page.locator('[class*="grid"]');
    expect([await overview.count(), await grid.count()]).toEqual([0, 0]);
    await page.keyboard.press('p');
    for (let k = 0; k < 11; k++) await page.keyboard.press('+');
    await expect.poll(() => overview.count()).toBe(1);
    await expect.poll(() => grid.count()).toBe(1);
    const before = await page.locator('[class*="overview"] span').getAttribute('style');
    const box = (await overview.boundingBox())!;
    await page.mouse.click(box.x + 30, box.y + 30);
    await expect.poll(() => page.locator('[class*="overview"] span').getAttribute('style')).not.toBe(before);
  });
});

/** The color near the picture's lower left corner, when it is fitted. */
async function cornerColor(): Promise<string> {
  await page.keyboard.press('f');
  const box = await sheetBox(page);
  const left = Math.round((box.width - SIZE.width) / 2);
  const top = Math.round((box.height - SIZE.height) / 2);
  const [color] = await sheetColors(page, [[(left + 20) / box.width, (top + 280) / box.height]]);
  return color!;
}
