import { Kept } from '../src/core/stages/kept';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import sharp from 'sharp';
import { newSample } from '../src/core/cut/new-sample';
import { untouchedCut } from '../src/core/cut/parse';
import type { Cut } from '../src/core/cut/schema';
import { decisionSteps } from '../src/core/decision/decide';
import type { Facts } from '../src/core/decision/decision';
import { checkCut } from '../src/core/findings/check-cut';
import { runToEnd, type Steps } from '../src/core/numeric/steps';
import type { Raster } from '../src/core/raster/raster';
import { propose } from '../src/core/proposal/propose';
import { renderScene } from '../src/core/render';
import { reachOfSample } from '../src/core/stages/clear/clear';
import { sceneOf } from '../src/core/scene/scene';
import { boardSteps } from '../src/core/board';
import { benchPicture } from './picture';

/** Median milliseconds of each part at one size. */
export interface CoreRow {
  readonly megapixels: number;
  readonly copyMs: number;
  readonly decodeMs: number;
  readonly distanceMs: number;
  readonly reachMs: number;
  readonly lookupMs: number;
  readonly fullCutMs: number;
  /** Looking at the picture and proposing a cut, at working size. */
  readonly proposalMs: number;
  /** Deciding what is subject for the picture as a whole, with nothing known yet; then with another place told. */
  readonly decisionMs: number;
  readonly againMs: number;
  /** Encoding the picture as PNG. */
  readonly encodeMs: number;
  /** The whole cut with the edge moved, softened and evened. */
  readonly shapedMs: number;
  /** The Edge stage alone, not shaped, and the clearing that goes before it. */
  readonly edgeMs: number;
  readonly clearingMs: number;
  /** All checks of the full-size result with nothing known yet, and the longest they take between two pauses. */
  readonly checksMs: number;
  readonly checkStepMs: number;
  /** Working memory beyond raster and result, bytes a pixel, at its peak. */
  readonly reachBytesPerPixel: number;
  readonly edgeBytesPerPixel: number;
  readonly peakRssMbPerMegapixel: number;
}

const ROUNDS = 3;

const NOTHING_TOLD: Facts = { goes: [], stays: [], marks: [] };

/** What a finished picture takes a pixel; no working memory. */
const RESULT_BYTES = 4;

setFlagsFromString('--expose-gc');
const collectGarbage = runInNewContext('gc') as () => void;

/** Times the core against a copy of the same raster and against sharp decoding the same picture. */
export async function benchCore(sizes: readonly number[]): Promise<CoreRow[]> {
  const rows: CoreRow[] = [];
  for (const megapixels of sizes) rows.push(await benchSize(megapixels));
  print(rows);
  return rows;
}

async function benchSize(megapixels: number): Promise<CoreRow> {
  const raster = benchPicture(megapixels);
  const { width, height, data } = raster;
  const jpeg = await sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality: 90 })
    .toBuffer();
  const sample = newSample('s1', 20, 20, { tolerance: 10 });
  const cut: Cut = {
    ...untouchedCut(),
    clear: { on: true, samples: [sample], pockets: [], marks: [], ink: null },
  };
  const edge = { ...cut.edge, offsetPx: -0.5, softnessPx: 2, evenness: 50 };
  const shaped: Cut = { ...cut, edge };
  const scene = sceneOf(raster);
  const warm = new Kept(0);
  runToEnd(reachOfSample(scene, sample, cut, warm.maps));
  const unedged: Cut = { ...cut, edge: { ...cut.edge, on: false } };
  const lookupOf = (what: Cut) => median(() => void runToEnd(renderScene(scene, what, warm)));
  const plainMs = await lookupOf(unedged);
  const lookupMs = await lookupOf(cut);
  const reachMs = await median(() => void runToEnd(reachOfSample(scene, sample, cut, new Map())));
  const cutout = runToEnd(renderScene(scene, cut, warm));
  const board = runToEnd(boardSteps({ original: raster, scene }, cut));
  const input = { board, cut, cutout };
  runToEnd(decisionSteps(scene, NOTHING_TOLD));
  let told = 0;
  const toldAt = (x: number): Facts => ({ ...NOTHING_TOLD, goes: [{ x, y: 0 }] });
  const checks = () => checkCut(input, new Map());
  return {
    megapixels,
    checksMs: await median(() => void runToEnd(checks())),
    checkStepMs: longestStep(checks()),
    copyMs: await median(() => void data.slice()),
    decodeMs: await median(() => sharp(jpeg).ensureAlpha().raw().toBuffer()),
    distanceMs: await median(
      () => void runToEnd(reachOfSample(scene, { ...sample, reach: 'everywhere' }, cut, new Map())),
    ),
    reachMs,
    lookupMs,
    edgeMs: lookupMs - plainMs,
    clearingMs: reachMs + plainMs,
    fullCutMs: await median(() => void runToEnd(renderScene(scene, cut, new Kept(0)))),
    proposalMs: await median(() => void propose(raster)),
    decisionMs: await median(() => void runToEnd(decisionSteps(sceneOf(raster), NOTHING_TOLD))),
    againMs: await median(() => void runToEnd(decisionSteps(scene, toldAt(told++)))),
    encodeMs: await median(() =>
      sharp(data, { raw: { width, height, channels: 4 } })
        .png()
        .toBuffer(),
    ),
    shapedMs: await lookupOf(shaped),
    reachBytesPerPixel: peakBytesPerPixel(raster, reachOfSample(scene, sample, cut, new Map())),
    edgeBytesPerPixel: peakBytesPerPixel(raster, renderScene(sceneOf(raster), shaped, warm)) - RESULT_BYTES,
    peakRssMbPerMegapixel: process.resourceUsage().maxRSS / 1024 / megapixels,
  };
}

async function median(work: () => unknown): Promise<number> {
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[ROUNDS >> 1]!;
}

/** The longest time between two pauses, in milliseconds. */
function longestStep(steps: Steps<unknown>): number {
  let longest = 0;
  for (let done = false; !done;) {
    const start = performance.now();
    done = steps.next().done ?? false;
    longest = Math.max(longest, performance.now() - start);
  }
  return longest;
}

/** The most array memory in use at any pause, beyond what was in use before. */
function peakBytesPerPixel(raster: Raster, steps: Steps<unknown>): number {
  collectGarbage();
  const before = process.memoryUsage().arrayBuffers;
  let peak = before;
  for (let next = steps.next(); !next.done; next = steps.next()) {
    peak = Math.max(peak, process.memoryUsage().arrayBuffers);
  }
  return (peak - before) / (raster.width * raster.height);
}

function print(rows: readonly CoreRow[]): void {
  const times = (ms: number, reference: number) => `${(ms / reference).toFixed(1)}x`;
  console.log('Core, in milliseconds (copies of the raster | decodings by sharp)');
  console.table(
    rows.map((row) => {
      const cell = (ms: number) => `${ms.toFixed(0)} (${times(ms, row.copyMs)} | ${times(ms, row.decodeMs)})`;
      return {
        megapixels: row.megapixels,
        copy: row.copyMs.toFixed(0),
        decode: row.decodeMs.toFixed(0),
        distance: cell(row.distanceMs),
        'reach map': cell(row.reachMs),
        'look-up': cell(row.lookupMs),
        'full cut': cell(row.fullCutMs),
        edge: `${row.edgeMs.toFixed(0)} (${times(row.edgeMs, row.clearingMs)} the clearing)`,
        'shaped look-up': cell(row.shapedMs),
        checks: cell(row.checksMs),
        'longest step of checks': row.checkStepMs.toFixed(0),
        proposal: cell(row.proposalMs),
        'decision (decoding and encoding)': `${row.decisionMs.toFixed(0)} (${times(row.decisionMs, row.decodeMs + row.encodeMs)})`,
        'decision with another place': row.againMs.toFixed(0),
        'reach, bytes/px': row.reachBytesPerPixel.toFixed(2),
        'edge, bytes/px': row.edgeBytesPerPixel.toFixed(2),
        'peak RSS, MB/MP': row.peakRssMbPerMegapixel.toFixed(0),
      };
    }),
  );
}
