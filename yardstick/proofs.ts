import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { startBrowser, waitForFullSize } from '../tests/browser/browser';
import { ask, startServer } from '../tests/browser/server';
import { dragTolerance, quantile, timePaints } from './browser';

/** What proofs cost, beside the sheet and an empty page of the same minutes. */
export interface ProofsReport {
  /** From a slider on the bench to the proofs beside the sheet, and to the sheet, in milliseconds. */
  readonly follow: { readonly medianMs: number; readonly p95Ms: number; readonly sheetP95Ms: number };
  /** Memory of the page with a wall of eight grounds, beyond that of the empty list of proofs, in MB. */
  readonly wallMb: number;
}

/** Times how proofs follow the bench on a demo picture, and weighs a wall of eight grounds. */
export async function benchProofs(): Promise<ProofsReport> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-proofs-'));
  const server = await startServer(path.join(folder, 'data'));
  const browser = await startBrowser();
  try {
    const body = await readFile(path.resolve('demo/pictures/ostrel-kite.jpg'));
    const answer = await ask(server, '/api/pieces?name=kite.jpg', { method: 'POST', body });
    const { piece } = (await answer.json()) as { piece: { id: string } };
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${server.address}/proofs`);
    await page.waitForTimeout(4000);
    const bare = await rendererMb();
    const made = await ask(server, '/api/proofs', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ piece: piece.id }),
    });
    const { state } = (await made.json()) as { state: { id: number } };
    await page.goto(`${server.address}/proofs/${state.id}`);
    await allPictures(page);
    const wallMb = (await rendererMb()) - bare;
    await page.goto(`${server.address}/bench/${piece.id}`);
    await waitForFullSize(page);
    await page.waitForTimeout(4000);
    await page.keyboard.press('r');
    const band = '[aria-label="Tried on"]';
    await page.locator(`${band} canvas`).nth(7).waitFor();
    // A setting by which something is always left; the first drag compiles what it needs.
    await page.keyboard.press('3');
    const drag = () => dragTolerance(page, 'Softness');
    await drag();
    await page.waitForTimeout(4000);
    const followed = await timePaints(page, drag, band);
    await page.waitForTimeout(4000);
    const sheet = await timePaints(page, drag);
    const follow = {
      medianMs: quantile(followed.latencies, 0.5),
      p95Ms: quantile(followed.latencies, 0.95),
      sheetP95Ms: quantile(sheet.latencies, 0.95),
    };
    console.log(
      `Proofs, ${followed.latencies.length} slider events: followed after ${follow.medianMs.toFixed(0)} ms (median), ${follow.p95Ms.toFixed(0)} ms (95th percentile); ` +
        `the sheet ${follow.sheetP95Ms.toFixed(0)} ms; a wall of eight grounds takes ${wallMb.toFixed(0)} MB`,
    );
    return { follow, wallMb };
  } finally {
    await browser.close();
    await server.kill();
    await rm(folder, { recursive: true, force: true });
  }
}

/** Waits until every ground and every piece on the wall is drawn. */
async function allPictures(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const pictures = [...document.querySelectorAll<HTMLImageElement>('main img')];
    return pictures.length >= 16 && pictures.every((one) => one.complete && one.naturalWidth > 0);
  });
  await page.waitForTimeout(3000);
}

/** What the pages of the browser hold for themselves, in MB (Linux). */
async function rendererMb(): Promise<number> {
  let most = 0;
  for (const pid of await readdir('/proc')) {
    if (!/^\d+$/.test(pid)) continue;
    const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
    if (!command.includes('--type=renderer')) continue;
    const rollup = await readFile(`/proc/${pid}/smaps_rollup`, 'utf8').catch(() => '');
    const kb = [...rollup.matchAll(/^Private_(?:Clean|Dirty):\s+(\d+) kB/gm)].reduce(
      (sum, [, own]) => sum + Number(own),
      0,
    );
    most = Math.max(most, kb / 1024);
  }
  return most;
}
