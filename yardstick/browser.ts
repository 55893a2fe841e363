import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { startBrowser, waitForFullSize } from '../tests/browser/browser';
import { ask, startServer } from '../tests/browser/server';
import { benchPicture } from './picture';

/** Milliseconds from an input event to the painted sheet. */
export interface BrowserRow {
  readonly megapixels: number;
  readonly events: number;
  readonly medianMs: number;
  readonly p95Ms: number;
  /** The same for painting an unchanged sheet. */
  readonly unchangedMs: number;
  readonly longestTaskMs: number;
  /** A stroke by hand, as the first one and behind many. */
  readonly painting: { readonly first: Painted; readonly later: Painted };
  /** Opening it while nothing is kept of its cutout, and opening it again. */
  readonly fresh: Opened;
  readonly again: Opened;
}

/** From a move of the brush to the painted sheet. */
interface Painted {
  readonly medianMs: number;
  readonly p95Ms: number;
}

/** Strokes that are there while painting is timed a second time. */
const STROKES_BEFORE = 40;

/** From asking for the page to the first painted sheet, and to the settled one. */
interface Opened {
  readonly firstPaintMs: number;
  readonly settledMs: number;
}

interface Probe {
  readonly latencies: number[];
  readonly tasks: number[];
}

declare global {
  interface Window {
    /** When the sheet was painted first. */
    firstPaint?: number;
  }
}

/** Drags the tolerance slider on a large piece in the real application, and times every painted answer. */
export async function benchBrowser(megapixels: number): Promise<BrowserRow> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-bench-'));
  const server = await startServer(folder);
  const browser = await startBrowser();
  try {
    const { width, height, data } = benchPicture(megapixels);
    const jpeg = await sharp(data, { raw: { width, height, channels: 4 } })
      .removeAlpha()
      .jpeg({ quality: 92 })
      .toBuffer();
    const body = new Uint8Array(jpeg);
    const response = await ask(server, '/api/pieces?name=large.jpg', { method: 'POST', body });
    const { piece } = (await response.json()) as { piece: { id: string } };
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // What the server does for a new piece must not fall into its opening.
    await page.waitForTimeout(12_000);
    await page.addInitScript(() => {
      window.addEventListener('painted', () => void (window.firstPaint ??= performance.now()), true);
    });
    const open = async (): Promise<Opened> => {
      await page.goto(`${server.address}/bench/${piece.id}`);
      await waitForFullSize(page);
      return page.evaluate(() => ({ firstPaintMs: window.firstPaint ?? NaN, settledMs: performance.now() }));
    };
    // The pages are compiled at the first request.
    await page.goto(server.address);
    const fresh = await open();
    // What was made is kept when the checks are through.
    await page.waitForTimeout(6000);
    const again = await open();
    await page.getByRole('slider', { name: 'Tolerance' }).waitFor();
    // Pockets and idle samples are looked for at rest; that must not fall into the drag.
    await page.waitForTimeout(6000);
    const unchanged = await timePaints(page, () => nudgeBacking(page));
    const dragged = await timePaints(page, () => dragTolerance(page));
    await page.keyboard.press('4');
    const painted = await timePaints(page, () => paintStrokes(page, 1));
    await paintStrokes(page, STROKES_BEFORE);
    await page.waitForTimeout(6000);
    const painting = { ...painted, after: await timePaints(page, () => paintStrokes(page, 1)) };
    const row: BrowserRow = {
      megapixels,
      events: dragged.latencies.length,
      medianMs: quantile(dragged.latencies, 0.5),
      p95Ms: quantile(dragged.latencies, 0.95),
      unchangedMs: quantile(unchanged.latencies, 0.5),
      longestTaskMs: Math.max(0, ...dragged.tasks),
      painting: { first: quantilesOf(painting.latencies), later: quantilesOf(painting.after.latencies) },
      fresh,
      again,
    };
    console.log(
      `Browser, ${megapixels} megapixels, ${row.events} slider events: median ${row.medianMs.toFixed(0)} ms, ` +
        `95th percentile ${row.p95Ms.toFixed(0)} ms = ${(row.p95Ms / row.unchangedMs).toFixed(1)}x painting an unchanged sheet ` +
        `(${row.unchangedMs.toFixed(0)} ms); longest main-thread task ${row.longestTaskMs.toFixed(0)} ms; ` +
        `opened: ${openedWords(row.fresh)}; again: ${openedWords(row.again)}; ` +
        `painting by hand, first stroke: ${paintedWords(row.painting.first)}, stroke ${STROKES_BEFORE + 2}: ${paintedWords(row.painting.later)}`,
    );
    return row;
  } finally {
    await browser.close();
    await server.kill();
    await rm(folder, { recursive: true, force: true });
  }
}

function paintedWords({ medianMs, p95Ms }: Painted): string {
  return `median ${medianMs.toFixed(0)} ms, 95th percentile ${p95Ms.toFixed(0)} ms`;
}

function quantilesOf(latencies: readonly number[]): Painted {
  return { medianMs: quantile(latencies, 0.5), p95Ms: quantile(latencies, 0.95) };
}

function openedWords({ firstPaintMs, settledMs }: Opened): string {
  return `first sheet after ${firstPaintMs.toFixed(0)} ms, settled after ${settledMs.toFixed(0)} ms`;
}

/** From each input event to the first time that what is looked at was painted after it: the sheet, or another canvas. */
export async function timePaints(
  page: Page,
  act: () => Promise<void>,
  painted = 'canvas[data-sheet]',
): Promise<Probe> {
  await page.evaluate((selector) => {
    const probe = { latencies: [] as number[], tasks: [] as number[], waiting: [] as number[] };
    Object.assign(window, { probe });
    const note = (event: Event) => probe.waiting.push(event.timeStamp);
    for (const kind of ['pointermove', 'keydown']) window.addEventListener(kind, note, { capture: true });
    document.querySelector(selector)!.addEventListener('painted', () => {
      const now = performance.now();
      for (const at of probe.waiting.splice(0)) probe.latencies.push(now - at);
    });
    new PerformanceObserver((list) =>
      probe.tasks.push(...list.getEntries().map(({ duration }) => duration)),
    ).observe({
      entryTypes: ['longtask'],
    });
  }, painted);
  await act();
  await page.waitForTimeout(400);
  return page.evaluate(() => (window as unknown as { probe: Probe }).probe);
}

async function nudgeBacking(page: Page): Promise<void> {
  for (let n = 0; n < 20; n++) {
    await page.keyboard.press('k');
    await page.waitForTimeout(80);
  }
}

/** Leads a brush over the sheet, stroke by stroke. */
async function paintStrokes(page: Page, count: number): Promise<void> {
  const box = (await page.locator('canvas[data-sheet]').boundingBox())!;
  const moves = count === 1 ? 120 : 12;
  for (let stroke = 0; stroke < count; stroke++) {
    const y = box.y + box.height * (0.3 + 0.4 * ((stroke * 0.37) % 1));
    await page.mouse.move(box.x + box.width * 0.3, y);
    await page.mouse.down();
    for (let n = 1; n <= moves; n++) {
      await page.mouse.move(box.x + box.width * (0.3 + (0.4 * n) / moves), y + 20 * Math.sin(n / 8));
      await page.waitForTimeout(count === 1 ? 25 : 4);
    }
    await page.mouse.up();
  }
}

export async function dragTolerance(page: Page, name = 'Tolerance'): Promise<void> {
  const box = (await page.getByRole('slider', { name }).boundingBox())!;
  const y = box.y + box.height / 2;
  await page.mouse.move(box.x + box.width / 2, y);
  await page.mouse.down();
  for (let n = 1; n <= 120; n++) {
    await page.mouse.move(box.x + 60 + 60 * Math.sin(n / 8), y);
    await page.waitForTimeout(25);
  }
  await page.mouse.up();
}

export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}
