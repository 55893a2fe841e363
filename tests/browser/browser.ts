import { chromium, type Browser, type Page } from 'playwright-core';
import { fit } from '../../src/bench/placement';

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Debian's Chromium, without windows. */
export function startBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.KENOSIS_CHROMIUM ?? '/usr/bin/chromium',
    args: FLAGS,
  });
}

/** A page of the usual size that fails the test when the page itself fails or breaks its content policy. */
export async function openPage(
  browser: Browser,
  problems: string[],
  options: { hasTouch?: boolean } = {},
): Promise<Page> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, ...options });
  page.setDefaultTimeout(Number(process.env.KENOSIS_PATIENCE_MS ?? 120_000));
  page.on('pageerror', (error) => problems.push(`page error: ${error.message}`));
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of 4\d\d/.test(message.text())) problems.push(message.text());
  });
  return page;
}

/** Opens the bench of the newest piece whose name holds some text, and waits for its full size. */
export async function openBench(page: Page, address: string, name: string): Promise<void> {
  const response = await fetch(`${address}/api/pieces`);
  const { pieces } = (await response.json()) as { pieces: { id: string; name: string }[] };
  const piece = pieces.find((one) => one.name.includes(name));
  if (!piece) throw new Error(`No piece is called ${name}.`);
  await page.goto(`${address}/bench/${piece.id}`);
  await waitForFullSize(page);
}

/** Waits until the sheet shows the full-size result. */
export async function waitForFullSize(page: Page): Promise<void> {
  await page.locator('[data-size="full"]').waitFor();
  await page.waitForFunction(() => !document.querySelector('footer')?.textContent.includes('all pixels'));
}

/** Where a pixel of the original lies on the page, from the status line's point of view: by moving the mouse there. */
export async function sheetBox(page: Page) {
  const box = await page.locator('canvas[data-sheet]').boundingBox();
  if (!box) throw new Error('The sheet is not on the page.');
  return box;
}

/** The colors the sheet shows at points given as shares of its width and height. */
export async function sheetColors(
  page: Page,
  points: readonly (readonly [number, number])[],
): Promise<string[]> {
  const box = await sheetBox(page);
  const shot = await page.screenshot({ clip: box, type: 'png' });
  const { default: sharp } = await import('sharp');
  const { data, info } = await sharp(shot).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return points.map(([across, down]) => {
    const x = Math.min(info.width - 1, Math.floor(across * info.width));
    const y = Math.min(info.height - 1, Math.floor(down * info.height));
    return `#${data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3).toString('hex')}`;
  });
}

/** Where pixels of a fitted picture lie on its sheet, as shares of the sheet's width and height. */
export async function onSheet(
  page: Page,
  picture: { readonly width: number; readonly height: number },
  places: readonly (readonly [number, number])[],
): Promise<(readonly [number, number])[]> {
  const box = await sheetBox(page);
  const { scale, left, top } = fit(picture, box);
  return places.map(([x, y]) => [
    ((x + 0.5) * scale + left) / box.width,
    ((y + 0.5) * scale + top) / box.height,
  ]);
}
