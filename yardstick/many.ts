import { spawn } from 'node:child_process';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { largePicture } from './large';

/** Several pictures in one call of the command line. */
export interface ManyRow {
  readonly pictures: number;
  /** All of them in one call, and as multiples of bare decoding and encoding on all processors, and of one call for each. */
  readonly ms: number;
  readonly timesBare: number;
  readonly timesSingle: number;
}

const EACH = 3;
const MEGAPIXELS = 12;

/** Cuts pictures of 12 megapixels in one call, one by one, and has sharp decode and encode them as many at a time. */
export async function benchMany(): Promise<ManyRow> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-many-'));
  try {
    const out = path.join(folder, 'out');
    const kept = path.join(folder, 'in');
    for (const made of [out, kept]) await mkdir(made);
    for (const kind of ['product', 'logo', 'threads'] as const) {
      const file = await largePicture(kind, MEGAPIXELS);
      for (let n = 0; n < EACH; n++) await writeFile(path.join(kept, `${kind}-${n}.jpg`), file);
    }
    const files = (await readdir(kept)).map((name) => path.join(kept, name));
    // Compiled before anything is timed.
    await call(['--help']);
    const bareMs = await timed(() => bareOf(files));
    const ms = await timed(() => call(['cut', ...files, '-o', out]));
    const singleMs = await timed(async () => {
      for (const file of files) await call(['cut', file, '-o', path.join(out, 'single.png')]);
    });
    const row = { pictures: files.length, ms, timesBare: ms / bareMs, timesSingle: ms / singleMs };
    console.log(
      `Command line, ${row.pictures} pictures of ${MEGAPIXELS} megapixels in one call: ${(ms / 1000).toFixed(1)} s = ` +
        `${row.timesBare.toFixed(1)}x bare decoding and encoding on all processors, ${row.timesSingle.toFixed(2)}x one call for each`,
    );
    return row;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function timed(work: () => Promise<void>): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

/** Decodes and encodes pictures, as many at a time as there are processors. */
async function bareOf(files: readonly string[]): Promise<void> {
  const left = [...files];
  const work = async () => {
    for (let file = left.pop(); file; file = left.pop()) {
      const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      await sharp(data, { raw: info }).png({ compressionLevel: 6 }).toBuffer();
    }
  };
  const before = sharp.concurrency(1);
  await Promise.all(Array.from({ length: availableParallelism() }, work));
  sharp.concurrency(before);
}

function call(args: readonly string[]): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['scripts/kenosis.mjs', ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    child.on('close', (code) => (code === 0 ? resolve() : reject(new Error(`It ended with ${code}.`))));
  });
}
