import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { PNG } from '../src/codec/outputs/png';
import { fileContent } from '../tests/make/file-content';
import { boardSteps, placedOn, renderBoard } from '../src/core/board';
import { checkCut } from '../src/core/findings/check-cut';
import type { Helpers } from '../src/core/helpers';
import type { Steps } from '../src/core/numeric/steps';
import { proposeSteps } from '../src/core/proposal/propose';
import { sceneOf } from '../src/core/scene/scene';
import { startHelpers, usualHelpers } from '../src/engine/node/helpers';
import { onSharedMemory } from '../src/engine/threads/crew';
import { decoded, enlarged, largePicture } from './large';

/** Minimum, median and maximum. */
type Spread = readonly [number, number, number];

/** What a whole picture costs, as multiples of encoding the same picture. */
export interface SpeedRow {
  readonly picture: string;
  readonly megapixels: number;
  readonly encodeMs: Spread;
  readonly proposal: Spread;
  readonly cut: Spread;
  readonly check: Spread;
  /** Writing the file and reading it back, once the cut is known. */
  readonly delivery: Spread;
  /** The most array memory beyond the decoded picture, in bytes a pixel. */
  readonly bytesPerPixel: number;
}

const ROUNDS = 5;

/** Sizes at which it is told how the cost grows. */
const GROWTH = [1, 4, 12, 24, 48, 100] as const;

/** Times whole pictures against sharp encoding the same one (PNG, level 6). `practice` is a folder of practice pictures. */
export async function benchSpeed(practice: string | null): Promise<SpeedRow[]> {
  const demo = (name: string) => readFile(path.resolve('demo/pictures', name));
  const threads = practice ? await enlarged(practice, 'ppg-guinea', 12) : await largePicture('threads', 12);
  const pictures: [string, Buffer][] = [
    ['product', await largePicture('product', 24)],
    ['logo', await largePicture('logo', 24)],
    [practice ? 'fur' : 'threads', threads],
    ['letter', await demo('ostrel-letter.png')],
    ['spool', await demo('ostrel-spool.jpg')],
  ];
  const rows = await withHelpers(async (helpers) => {
    const found: SpeedRow[] = [];
    for (const [name, file] of pictures) found.push(await timePicture(name, file, helpers, ROUNDS));
    return found;
  });
  console.log(
    `Whole pictures, as multiples of encoding them (PNG, level 6), ${usualHelpers() + 1} threads: median (minimum to maximum)`,
  );
  console.table(rows.map(cells));
  return rows;
}

/** How the cost grows with the size of a picture. */
export async function benchGrowth(): Promise<SpeedRow[]> {
  const rows = await withHelpers(async (helpers) => {
    const found: SpeedRow[] = [];
    for (const megapixels of GROWTH)
      found.push(await timePicture('product', await largePicture('product', megapixels), helpers, 1));
    return found;
  });
  console.log('How the cost grows, in nanoseconds a pixel');
  const perPixel = ({ encodeMs, megapixels }: SpeedRow, times: Spread) =>
    Math.round((times[1] * encodeMs[1]) / megapixels);
  console.table(
    rows.map((row) => ({
      megapixels: row.megapixels.toFixed(0),
      proposal: perPixel(row, row.proposal),
      cut: perPixel(row, row.cut),
      check: perPixel(row, row.check),
      delivery: perPixel(row, row.delivery),
      'bytes a pixel': row.bytesPerPixel.toFixed(1),
    })),
  );
  return rows;
}

async function withHelpers<T>(work: (helpers: Helpers | null) => Promise<T>): Promise<T> {
  const threads = startHelpers(usualHelpers());
  try {
    return await work(threads?.crew ?? null);
  } finally {
    await threads?.close();
  }
}

async function timePicture(
  picture: string,
  file: Buffer,
  helpers: Helpers | null,
  rounds: number,
): Promise<SpeedRow> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-speed-'));
  const times: Record<'encode' | 'proposal' | 'cut' | 'check' | 'delivery', number[]> = {
    encode: [],
    proposal: [],
    cut: [],
    check: [],
    delivery: [],
  };
  const out = path.join(folder, 'out.png');
  let bytesPerPixel = 0;
  let megapixels = 0;
  try {
    for (let round = 0; round < rounds; round++) {
      const original = onSharedMemory(await decoded(file));
      const { width, height, data } = original;
      megapixels = (width * height) / 1e6;
      const memory = new Peak();
      let start = performance.now();
      const lap = (what: keyof typeof times) => {
        times[what].push(performance.now() - start);
        start = performance.now();
      };
      const raw = { raw: { width, height, channels: 4 }, limitInputPixels: false } as const;
      await sharp(data, raw).png({ compressionLevel: 6 }).toBuffer();
      lap('encode');
      const scene = sceneOf(original, helpers);
      const { cut } = memory.watch(proposeSteps(scene));
      if (!cut) throw new Error(`Nothing is proposed for ${picture}.`);
      lap('proposal');
      const board = memory.watch(boardSteps({ original, scene, helpers }, cut));
      const cutout = memory.watch(renderBoard(board, cut));
      lap('cut');
      memory.watch(checkCut({ board, cut: placedOn(board, cut), cutout }, new Map()));
      lap('check');
      await PNG.write(fileContent(cutout.raster), out);
      await PNG.verify(out, fileContent(cutout.raster));
      lap('delivery');
      bytesPerPixel = Math.max(bytesPerPixel, memory.bytes / (width * height));
    }
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  const encodeMs = spreadOf(times.encode);
  const ofEncoding = (ms: readonly number[]) => spreadOf(ms.map((one) => one / encodeMs[1]));
  return {
    picture,
    megapixels,
    encodeMs,
    proposal: ofEncoding(times.proposal),
    cut: ofEncoding(times.cut),
    check: ofEncoding(times.check),
    delivery: ofEncoding(times.delivery),
    bytesPerPixel,
  };
}

/** The most array memory in use at any pause, beyond what was in use before. */
class Peak {
  private readonly before = process.memoryUsage().arrayBuffers;
  bytes = 0;

  watch<T>(steps: Steps<T>): T {
    for (let next = steps.next(); ; next = steps.next()) {
      this.bytes = Math.max(this.bytes, process.memoryUsage().arrayBuffers - this.before);
      if (next.done) return next.value;
    }
  }
}

function spreadOf(values: readonly number[]): Spread {
  const sorted = values.toSorted((a, b) => a - b);
  return [sorted[0]!, sorted[sorted.length >> 1]!, sorted.at(-1)!];
}

function cells(row: SpeedRow) {
  const cell = ([least, middle, most]: Spread) =>
    `${middle.toFixed(1)} (${least.toFixed(1)} to ${most.toFixed(1)})`;
  return {
    picture: row.picture,
    megapixels: row.megapixels.toFixed(1),
    'encoding, ms': row.encodeMs.map((ms) => ms.toFixed(0)).join(' / '),
    proposal: cell(row.proposal),
    'full cut': cell(row.cut),
    check: cell(row.check),
    delivery: cell(row.delivery),
    'bytes a pixel': row.bytesPerPixel.toFixed(1),
  };
}
