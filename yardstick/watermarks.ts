import { spawn } from 'node:child_process';
import { mkdtemp, mkdir, readFile, rm } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import path from 'node:path';
import PQueue from 'p-queue';
import sharp from 'sharp';
import { drawScene, SCENES } from '../demo/scenes';
import { materialOf } from '../src/engine/node/mark-task';
import { FIRST_WATERMARKS, groupOf, newText, newWatermark } from '../src/core/watermark/first-watermarks';
import { markPhoto } from '../src/core/watermark/mark-photo';
import { viewOf } from '../src/core/watermark/photo-view';
import type { Watermark } from '../src/core/watermark/settings';

/** How marks sit on photos, and what marking costs beside decoding and encoding alone. */
export interface WatermarksReport {
  readonly contrast: readonly ContrastReport[];
  readonly speed: {
    readonly photos: number;
    readonly ms: number;
    readonly bareMs: number;
    readonly times: number;
    readonly memoryMb: number;
  };
}

interface ContrastReport {
  readonly name: string;
  readonly photos: number;
  readonly wanted: number;
  /** The least that any photo has, and how many have less than is wanted. */
  readonly least: number;
  readonly below: number;
  /** The most that was changed of any photo, and what may be, as shares. */
  readonly mostChanged: number;
  readonly share: number;
  /** How far the ground was darkened or lightened on the average, and at most, 0 to 1. */
  readonly veil: { readonly mean: number; readonly most: number };
  readonly dark: number;
}

/** Sizes of the drawn photos: wide, high, square. */
const SIZES = [
  [1200, 800],
  [800, 1200],
  [900, 900],
  [1400, 600],
] as const;

const SEEDS = 10;

/** Photos of 24 megapixels that are marked: so many that starting the program counts little. */
const PHOTOS = 24;
const WIDE = 6000;
const HIGH = 4000;
const QUALITY = 92;

export async function benchWatermarks(): Promise<WatermarksReport> {
  const contrast: ContrastReport[] = [];
  for (const watermark of [...FIRST_WATERMARKS, await kiteAndName()])
    contrast.push(await contrastOf(watermark));
  return { contrast, speed: await speedOf() };
}

async function kiteAndName(): Promise<Watermark> {
  const picture = await sharp('demo/pictures/ostrel-kite.truth.png').trim().resize(600).png().toBuffer();
  const source = { kind: 'embedded', name: 'kite', data: picture.toString('base64') } as const;
  return newWatermark('kite and name', [
    groupOf([
      { kind: 'cutout', id: 'c1', source, size: 200, painted: false },
      newText('t1', 'Ostrel Kiteworks'),
    ]),
  ]);
}

async function contrastOf(watermark: Watermark): Promise<ContrastReport> {
  const { least: wanted } = watermark.look.contrast;
  const found: { contrast: number; changed: number; veil: number; dark: boolean }[] = [];
  for (const [k, scene] of SCENES.entries())
    for (let seed = 0; seed < SEEDS; seed++) {
      const [width, height] = SIZES[(k + seed) % SIZES.length]!;
      const photo = drawScene(scene, 1000 + 31 * seed + k, width, height);
      const facts = { name: `${scene}.jpg`, taken: null, today: '2026-11-30' };
      const report = markPhoto(viewOf(photo), watermark, await materialOf(watermark, facts));
      const veil = report.copies.reduce((sum, copy) => sum + copy.veil, 0) / report.copies.length;
      found.push({
        contrast: report.contrast ?? 0,
        changed: report.changed,
        veil,
        dark: report.copies[0]!.version === 'dark',
      });
    }
  const report: ContrastReport = {
    name: watermark.name,
    photos: found.length,
    wanted,
    least: Math.min(...found.map(({ contrast }) => contrast)),
    below: found.filter(({ contrast }) => contrast < wanted).length,
    mostChanged: Math.max(...found.map(({ changed }) => changed)),
    share: watermark.place.mostShare / 100,
    veil: {
      mean: found.reduce((sum, { veil }) => sum + veil, 0) / found.length,
      most: Math.max(...found.map(({ veil }) => veil)),
    },
    dark: found.filter(({ dark }) => dark).length,
  };
  console.log(
    `Watermark "${report.name}" on ${report.photos} drawn photos: contrast at least ${report.least.toFixed(2)} (wanted ${wanted}, ${report.below} below), changes at most ${(100 * report.mostChanged).toFixed(1)} % (may ${100 * report.share} %), veil ${(100 * report.veil.mean).toFixed(0)} % in the mean, ${(100 * report.veil.most).toFixed(0)} % at most, dark on ${report.dark}`,
  );
  return report;
}

async function speedOf(): Promise<WatermarksReport['speed']> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-watermarks-'));
  try {
    const photos = path.join(folder, 'photos');
    await mkdir(photos);
    for (let k = 0; k < PHOTOS; k++) await drawLarge(path.join(photos, `photo-${k}.jpg`), k);
    // Compiled, and read from the disk once, before anything is timed.
    await kenosis(['--help']);
    const bareMs = await timeBare(photos, await mkdtemp(path.join(folder, 'bare-')));
    const started = performance.now();
    const out = await mkdtemp(path.join(folder, 'out-'));
    const memoryMb = await kenosis([
      'mark',
      photos,
      '--watermark',
      'name alone',
      '--quality',
      String(QUALITY),
      '-o',
      out,
    ]);
    const ms = performance.now() - started;
    const bareAgainMs = await timeBare(photos, await mkdtemp(path.join(folder, 'bare-')));
    const reference = (bareMs + bareAgainMs) / 2;
    const speed = { photos: PHOTOS, ms, bareMs: reference, times: ms / reference, memoryMb };
    console.log(
      `Marking ${PHOTOS} photos of 24 megapixels: ${(ms / 1000).toFixed(1)} s with starting the program, ${speed.times.toFixed(2)} times decoding and encoding alone (${(reference / 1000).toFixed(1)} s), ${memoryMb.toFixed(0)} MB at most`,
    );
    return speed;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function drawLarge(file: string, seed: number): Promise<void> {
  const { width, height, data } = drawScene(SCENES[seed % SCENES.length]!, 500 + seed, WIDE / 4, HIGH / 4);
  const raw = { width, height, channels: 4 } as const;
  await sharp(data, { raw }).removeAlpha().resize(WIDE, HIGH).jpeg({ quality: 92 }).toFile(file);
}

/** Decodes and encodes the photos as marking does, as many at once as there are processors. */
async function timeBare(photos: string, out: string): Promise<number> {
  const queue = new PQueue({ concurrency: availableParallelism() });
  const started = performance.now();
  for (let k = 0; k < PHOTOS; k++)
    void queue.add(async () => {
      const bytes = await readFile(path.join(photos, `photo-${k}.jpg`));
      const { data, info } = await sharp(bytes).raw().toBuffer({ resolveWithObject: true });
      const { width, height, channels } = info;
      await sharp(data, { raw: { width, height, channels } })
        .jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' })
        .toFile(path.join(out, `${k}.jpg`));
    });
  await queue.onIdle();
  return performance.now() - started;
}

/** Runs the command line; answers the most memory that it held, in MB (Linux). */
function kenosis(args: readonly string[]): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['scripts/kenosis.mjs', ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    let most = 0;
    const watch = setInterval(() => {
      void readFile(`/proc/${child.pid}/status`, 'utf8').then(
        (text) => (most = Math.max(most, Number(/VmHWM:\s+(\d+)/.exec(text)?.[1] ?? 0) / 1024)),
        () => undefined,
      );
    }, 50);
    child.on('close', (code) => {
      clearInterval(watch);
      if (code === 0) resolve(most);
      else reject(new Error(`kenosis ${args[0]} ended with ${code}.`));
    });
  });
}
