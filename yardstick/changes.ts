import { PNG_AS_IT_IS } from '../src/core/stages/deliver/output-settings';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { decodeMaster } from '../src/codec/decode';
import { PNG } from '../src/codec/outputs/png';
import { fileContent } from '../tests/make/file-content';
import { boardSteps, placedOn, type Board } from '../src/core/board';
import type { Cut } from '../src/core/cut/schema';
import { runToEnd } from '../src/core/numeric/steps';
import { propose } from '../src/core/proposal/propose';
import { renderPrepared } from '../src/core/render';
import { sineOfTurns } from '../src/core/numeric/exact';
import { seededRandom } from '../src/core/numeric/random';
import type { Raster } from '../src/core/raster/raster';
import { textOfPath, type PathPlace } from '../src/core/stages/touch-up/path';
import type { HandStroke } from '../src/core/stages/touch-up/settings';
import { Kept } from '../src/core/stages/kept';
import { deliver, ready } from '../src/engine/node/tasks';
import { benchPicture } from './picture';

/** What a change in each stage costs at full size, as a share of rendering everything. */
export interface ChangeRow {
  readonly picture: string;
  /** Milliseconds for everything, reach maps and all. */
  readonly allMs: number;
  /** Milliseconds from a change in a stage to the finished cutout. */
  readonly clearMs: number;
  readonly edgeMs: number;
  readonly touchUpMs: number;
  /** Two hundred strokes by hand at once, beside a cut of a picture that nothing is known of. */
  readonly strokesMs: number;
  readonly freshMs: number;
  readonly inkMs: number;
  /** Going back to a cut that was rendered before. */
  readonly backMs: number;
  /** Three colorways, beside rendering one from nothing. */
  readonly oneMs: number;
  readonly threeMs: number;
  /** Delivering what was made ready, beside encoding and reading back alone. */
  readonly encodeMs: number;
  readonly deliverMs: number;
  readonly keptBytesPerPixel: number;
}

const ROUNDS = 5;

/** Times changes on the demo's spool and on a large picture. */
export async function benchChanges(): Promise<ChangeRow[]> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-changes-'));
  try {
    const large = path.join(folder, 'large.png');
    const { width, height, data } = benchPicture(24);
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 1 })
      .toFile(large);
    const rows = [
      await timeChanges('spool', path.resolve('demo/pictures/ostrel-spool.jpg'), folder),
      await timeChanges('24 megapixels', large, folder),
    ];
    print(rows);
    return rows;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function timeChanges(picture: string, file: string, folder: string): Promise<ChangeRow> {
  const original = await decodeMaster(file, picture);
  const source = { original };
  const { cut } = propose(original);
  if (!cut) throw new Error(`Nothing is proposed for ${picture}.`);
  const board = runToEnd(boardSteps(source, cut));
  const render = (on: Board, kept: Kept, what: Cut) =>
    runToEnd(renderPrepared(on.scene, { cut: placedOn(on, what), window: on.window }, kept));
  /** The time of a change, after the cut before it was rendered. */
  const timed = (before: Cut, after: (round: number) => Cut): number =>
    median((round) => {
      const kept = Kept.of(original);
      render(board, kept, before);
      const changed = after(round);
      return clocked(() => render(board, kept, changed));
    });
  const inked = (color: string, of = cut): Cut => ({ ...of, ink: { ...of.ink, color } });
  const mended = (round: number): Cut => ({
    ...cut,
    touchUp: { ...cut.touchUp, mends: [{ mend: 'speck', x: 100 + round, y: 100, reachPx: 40 }] },
  });
  const softer = { ...cut, edge: { ...cut.edge, softnessPx: 2 } };
  const [one] = cut.clear.samples;
  const other: Cut = {
    ...cut,
    clear: { ...cut.clear, samples: one ? [{ ...one, tolerance: one.tolerance + 3 }] : [] },
  };
  const kept = Kept.of(original);
  const allMs = median(() => clocked(() => render(board, new Kept(0), cut)));
  render(board, kept, cut);
  render(board, kept, inked('#1d2a6b'));
  const colors = ['#1d2a6b', '#8a1f2d', '#2a7f86'];
  const cutout = render(board, new Kept(0), cut);
  const out = path.join(folder, 'out.png');
  const delivery = {
    originalPath: file,
    originalName: picture,
    cut,
    decisionsPath: null,
    dpi: null,
    output: PNG_AS_IT_IS,
    outPath: out,
  };
  await ready({ ...delivery, cutoutPath: path.join(folder, 'cutout') });
  return {
    picture,
    allMs,
    clearMs: timed(cut, () => other),
    edgeMs: timed(cut, () => softer),
    touchUpMs: timed(cut, mended),
    strokesMs: timed(cut, (round) => ({
      ...cut,
      touchUp: { ...cut.touchUp, strokes: strokesOn(original, round) },
    })),
    freshMs: median(() =>
      clocked(() => render(runToEnd(boardSteps({ original }, cut)), Kept.of(original), cut)),
    ),
    inkMs: timed(cut, (round) => inked(colors[round % 3]!)),
    backMs: median(() => clocked(() => render(board, kept, cut))),
    oneMs: median(() => clocked(() => render(board, Kept.of(original), inked(colors[0]!)))),
    threeMs: median(() => {
      const own = Kept.of(original);
      return clocked(() => {
        for (const color of colors) render(board, own, inked(color));
      });
    }),
    encodeMs: await medianOf(async () => {
      await PNG.write(fileContent(cutout.raster), out);
      await PNG.verify(out, fileContent(cutout.raster));
    }),
    deliverMs: await medianOf(() => deliver(delivery)),
    keptBytesPerPixel: kept.bytes / (original.width * original.height),
  };
}

/** Strokes of 400 places each that wander over a picture: every other one brings back, a tenth take only what is alike. */
function strokesOn({ width, height }: Raster, seed: number): HandStroke[] {
  const random = seededRandom(seed);
  return Array.from({ length: 200 }, (_, k): HandStroke => {
    const radiusPx = 5 + 30 * random();
    let [x, y, turns] = [random() * width, random() * height, random()];
    const path = Array.from({ length: 400 }, (): PathPlace => {
      turns += (random() - 0.5) / 10;
      x = Math.min(width - 1, Math.max(0, x + (sineOfTurns(turns + 0.25) * radiusPx) / 6));
      y = Math.min(height - 1, Math.max(0, y + (sineOfTurns(turns) * radiusPx) / 6));
      return [x, y];
    });
    return {
      kind: 'brush',
      does: k % 2 === 0 ? 'restore' : 'clear',
      radiusPx,
      softness: (k % 3) * 40,
      strength: 100,
      pressure: 'none',
      alike: k % 10 === 0 ? { tolerance: 10, reads: 'start' } : null,
      path: textOfPath(path),
    };
  });
}

function clocked(work: () => unknown): number {
  const start = performance.now();
  work();
  return performance.now() - start;
}

function median(time: (round: number) => number): number {
  return middle(Array.from({ length: ROUNDS }, (_, round) => time(round)));
}

async function medianOf(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return middle(times);
}

function middle(times: readonly number[]): number {
  return times.toSorted((a, b) => a - b)[times.length >> 1]!;
}

function print(rows: readonly ChangeRow[]): void {
  console.log('What a change costs, in milliseconds (share of everything)');
  console.table(
    rows.map((row) => {
      const share = (ms: number) => `${ms.toFixed(0)} (${(ms / row.allMs).toFixed(2)})`;
      return {
        picture: row.picture,
        everything: row.allMs.toFixed(0),
        Clear: share(row.clearMs),
        Edge: share(row.edgeMs),
        'Touch up': share(row.touchUpMs),
        '200 strokes': `${row.strokesMs.toFixed(0)} (${(row.strokesMs / row.freshMs).toFixed(2)} of a fresh cut)`,
        Ink: share(row.inkMs),
        'back again': share(row.backMs),
        'three colorways': `${row.threeMs.toFixed(0)} (${(row.threeMs / row.oneMs).toFixed(2)}x one)`,
        delivery: `${row.deliverMs.toFixed(0)} (${(row.deliverMs / row.encodeMs).toFixed(2)}x encoding and reading back)`,
        'kept, bytes/px': row.keptBytesPerPixel.toFixed(1),
      };
    }),
  );
}
