import { spawn } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { startBrowser, waitForFullSize } from '../tests/browser/browser';
import { ask, startServer } from '../tests/browser/server';
import { FIRST_ROUTINES } from '../src/core/routine/first-routines';
import { disc } from '../tests/make/pictures';
import { asSharp } from '../tests/make/files';
import { startRedis } from '../tests/make/redis';
import { dragTolerance, quantile, timePaints } from './browser';
import { largePicture } from './large';

/** What runs cost, each beside a reference of the same minutes. */
export interface RunsReport {
  /** 40 pictures of 12 megapixels in one run, as a multiple of their single cuts divided by the processors. */
  readonly large: { readonly ms: number; readonly singleMs: number; readonly times: number };
  /** The largest memory of a run of 40 small pictures, and of 400, in MB. */
  readonly memory: { readonly fortyMb: number; readonly fourHundredMb: number };
  /** Slider to paint on the bench while a run works, and while none does, at the 95th percentile. */
  readonly slider: { readonly aloneMs: number; readonly besideMs: number };
  /** The same pictures with 1 and with 2 workers, and what one of them takes. */
  readonly workers: WorkersReport;
}

interface WorkersReport {
  readonly pictures: number;
  readonly oneMs: number;
  readonly twoMs: number;
  readonly cpuMsEach: number;
  readonly redisBytesEach: number;
  readonly sharedBytesEach: number;
}

const ROUTINE = 'routine.json';

const MANY = 40;
const QUEUED = 8;
const MEGAPIXELS = 12;

/** Single cuts that are timed; the others are reckoned from their mean. */
const SINGLE = 6;

export async function benchRuns(parts: readonly string[]): Promise<Partial<RunsReport>> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-runs-'));
  const has = (part: string) => parts.length === 0 || parts.includes(part);
  try {
    // Compiled before anything is timed.
    await kenosis(['--help']);
    const product = FIRST_ROUTINES.find(({ name }) => name === 'product-on-transparent')!;
    // Delivered whatever it is: files that are held back cost nothing to write.
    await writeFile(path.join(folder, ROUTINE), JSON.stringify({ ...product, notSure: 'deliver' }));
    return {
      ...(has('large') ? { large: await benchLarge(folder) } : {}),
      ...(has('memory') ? { memory: await benchMemory(folder) } : {}),
      ...(has('workers') ? { workers: await benchWorkers(folder) } : {}),
      ...(has('slider') ? { slider: await benchSlider(folder) } : {}),
    };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Pictures that differ in every byte, so that nothing of one helps the next. */
async function largeOnes(folder: string, count: number): Promise<string> {
  const kept = await mkdtemp(path.join(folder, 'large-'));
  const picture = await largePicture('product', MEGAPIXELS);
  for (let n = 0; n < count; n++)
    await sharp(picture)
      .jpeg({ quality: 70 + (n % 25) })
      .modulate({ brightness: 1 - n / 4000 })
      .toFile(path.join(kept, `product-${n}.jpg`));
  return kept;
}

async function benchLarge(folder: string): Promise<RunsReport['large']> {
  const pictures = await largeOnes(folder, MANY);
  const out = await mkdtemp(path.join(folder, 'out-'));
  const sample = Array.from({ length: SINGLE }, (_, k) => path.join(pictures, `product-${k * 6}.jpg`));
  let singleMs = 0;
  const single = async (file: string) =>
    (singleMs += (await kenosis(['cut', file, '-o', path.join(folder, 'single.png')])).ms);
  // Half of them before the run and half behind it: the machine's speed changes.
  for (const file of sample.slice(0, SINGLE / 2)) await single(file);
  const { ms } = await kenosis(['run', path.join(folder, ROUTINE), pictures, '-o', out]);
  for (const file of sample.slice(SINGLE / 2)) await single(file);
  const eachMs = singleMs / SINGLE;
  const times = ms / ((eachMs * MANY) / availableParallelism());
  console.log(
    `Run of ${MANY} pictures of ${MEGAPIXELS} megapixels: ${(ms / 1000).toFixed(1)} s = ${times.toFixed(2)}x their single cuts (${(eachMs / 1000).toFixed(2)} s each) divided by ${availableParallelism()} processors`,
  );
  return { ms, singleMs: eachMs, times };
}

async function benchMemory(folder: string): Promise<RunsReport['memory']> {
  const peak = async (count: number) => {
    const pictures = await mkdtemp(path.join(folder, 'small-'));
    for (let n = 0; n < count; n++)
      await asSharp(disc(400, 80 + (n % 100)))
        .png()
        .toFile(path.join(pictures, `disc-${n}.png`));
    const out = await mkdtemp(path.join(folder, 'out-'));
    return (await kenosis(['run', path.join(folder, ROUTINE), pictures, '-o', out])).peakMb;
  };
  const fortyMb = await peak(40);
  const fourHundredMb = await peak(400);
  console.log(
    `Memory of a run: ${fortyMb.toFixed(0)} MB with 40 pictures, ${fourHundredMb.toFixed(0)} MB with 400 = ${(fourHundredMb / fortyMb).toFixed(2)}x`,
  );
  return { fortyMb, fourHundredMb };
}

async function benchWorkers(folder: string): Promise<WorkersReport> {
  const pictures = await largeOnes(folder, QUEUED);
  const few = await largeOnes(folder, 2);
  const redis = await startRedis();
  const shared = await mkdtemp(path.join(folder, 'shared-'));
  const env = { KENOSIS_QUEUE: redis.url, KENOSIS_SHARED: shared };
  const workers: { kill(): void; cpuMs(): Promise<number> }[] = [];
  let redisBytes = 0;
  let sharedBytes = 0;
  const timed = async (from = pictures) => {
    const out = await mkdtemp(path.join(folder, 'out-'));
    const before = await redis.usedBytes();
    const watch = setInterval(() => {
      void redis.usedBytes().then((bytes) => (redisBytes = Math.max(redisBytes, bytes - before)));
      void bytesBelow(shared).then((bytes) => (sharedBytes = Math.max(sharedBytes, bytes)));
    }, 250);
    const { ms } = await kenosis(['run', path.join(folder, ROUTINE), from, '-o', out], env);
    clearInterval(watch);
    return ms;
  };
  try {
    workers.push(await startWorker(env));
    await timed(few);
    const cpuBefore = await workers[0]!.cpuMs();
    const oneMs = await timed();
    const cpuMsEach = ((await workers[0]!.cpuMs()) - cpuBefore) / QUEUED;
    workers.push(await startWorker(env));
    await timed(few);
    const twoMs = await timed();
    const report = {
      pictures: QUEUED,
      oneMs,
      twoMs,
      cpuMsEach,
      redisBytesEach: redisBytes / QUEUED,
      sharedBytesEach: sharedBytes / QUEUED,
    };
    console.log(
      `${QUEUED} pictures of ${MEGAPIXELS} megapixels through a queue: ${(oneMs / 1000).toFixed(1)} s with one worker of one thread, ${(twoMs / 1000).toFixed(1)} s with two = ${(oneMs / twoMs).toFixed(2)}x; each ${(cpuMsEach / 1000).toFixed(2)} CPU seconds, ${(report.redisBytesEach / 1000).toFixed(1)} kB in Redis and ${(report.sharedBytesEach / 1e6).toFixed(1)} MB in the shared folder while it is under way`,
    );
    return report;
  } finally {
    for (const worker of workers) worker.kill();
    await redis.close();
  }
}

async function bytesBelow(folder: string): Promise<number> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  let bytes = 0;
  for (const entry of entries)
    if (entry.isFile())
      bytes += (await stat(path.join(entry.parentPath, entry.name)).catch(() => ({ size: 0 }))).size;
  return bytes;
}

/** Drags the tolerance slider of a piece while a run of large pictures works, and while none does. */
async function benchSlider(folder: string): Promise<RunsReport['slider']> {
  const server = await startServer(path.join(folder, 'data'));
  const browser = await startBrowser();
  try {
    const bring = async (file: string, name: string) => {
      const body = await readFile(file);
      const answer = await ask(server, `/api/pieces?name=${name}`, { method: 'POST', body });
      return ((await answer.json()) as { piece: { id: string } }).piece.id;
    };
    const pictures = await largeOnes(folder, 13);
    const bench = await bring(path.join(pictures, 'product-12.jpg'), 'bench.jpg');
    const ids: string[] = [];
    for (let n = 0; n < 12; n++) ids.push(await bring(path.join(pictures, `product-${n}.jpg`), `p${n}.jpg`));
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${server.address}/bench/${bench}`);
    await waitForFullSize(page);
    await page.getByRole('slider', { name: 'Tolerance' }).waitFor();
    await page.waitForTimeout(8000);
    // The first drag compiles what it needs.
    await dragTolerance(page);
    await page.waitForTimeout(6000);
    const alone = await timePaints(page, () => dragTolerance(page));
    await page.waitForTimeout(6000);
    const routine: unknown = JSON.parse(await readFile(path.join(folder, ROUTINE), 'utf8'));
    const body = JSON.stringify({ routine, pieces: ids });
    const begun = (await (await ask(server, '/api/runs', { method: 'POST', body })).json()) as {
      run: { id: number };
    };
    await page.waitForTimeout(3000);
    const beside = await timePaints(page, () => dragTolerance(page));
    const after = (await (await ask(server, `/api/runs/${begun.run.id}`)).json()) as {
      run: { state: string };
    };
    if (after.run.state !== 'running') throw new Error('The run was over before the slider was.');
    const row = { aloneMs: quantile(alone.latencies, 0.95), besideMs: quantile(beside.latencies, 0.95) };
    console.log(
      `Slider to paint, 95th percentile: ${row.aloneMs.toFixed(0)} ms, ${row.besideMs.toFixed(0)} ms beside a run = ${(row.besideMs / row.aloneMs).toFixed(2)}x`,
    );
    return row;
  } finally {
    await browser.close();
    await server.kill();
  }
}

/** Runs the command line to its end, and says how long it took and how much memory it had at most. */
async function kenosis(
  args: readonly string[],
  env: Record<string, string> = {},
): Promise<{ ms: number; peakMb: number }> {
  const begun = performance.now();
  const child = spawn(process.execPath, ['scripts/kenosis.mjs', ...args], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  let peakMb = 0;
  const watch = setInterval(() => {
    void readFile(`/proc/${child.pid}/status`, 'utf8').then(
      (status) => (peakMb = Math.max(peakMb, Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1000)),
      () => undefined,
    );
  }, 100);
  const code = await new Promise<number | null>((resolve) => child.once('close', resolve));
  clearInterval(watch);
  // Pictures that are not sure, or have findings, are no failure of the run.
  if (code === null || ![0, 3, 4].includes(code)) throw new Error(`${args.join(' ')} ended with ${code}`);
  return { ms: performance.now() - begun, peakMb };
}

const TICK_MS = 10;

async function startWorker(env: Record<string, string>) {
  const child = spawn(process.execPath, ['scripts/kenosis.mjs', 'worker', '--jobs', '1'], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  await new Promise<void>((resolve) =>
    child.stderr.on('data', (chunk: Buffer) => chunk.includes('working for') && resolve()),
  );
  return {
    kill: () => void child.kill('SIGKILL'),
    /** User and system time so far, by /proc. */
    cpuMs: async () => {
      const fields = (await readFile(`/proc/${child.pid}/stat`, 'utf8')).split(') ')[1]!.split(' ');
      return (Number(fields[11]) + Number(fields[12])) * TICK_MS;
    },
  };
}
