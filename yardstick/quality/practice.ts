import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { decodeMaster } from '../../src/codec/decode';
import type { Cut } from '../../src/core/cut/schema';
import { MOST_POCKETS, type Mark } from '../../src/core/stages/clear/settings';
import { propose, type Proposal } from '../../src/core/proposal/propose';
import type { Raster } from '../../src/core/raster/raster';
import { renderCut } from '../../src/core/render';
import { alphaError, playHand, type ByHand } from './by-hand';
import { disasterOf, type Disaster } from './disasters';
import { measure, yardstickOf, type Measures } from './measures';

/**
 * Pictures as people bring them, with their exact cutouts and what a person would click: a folder of cases, each with
 * `input`, `truth` and a `case.json`, and beside them `baselines.json` with reference figures.
 */

const pointSchema = z.object({ x: z.number(), y: z.number() });
const strokeSchema = z.object({ points: z.array(pointSchema), width: z.number() });
const caseSchema = z.object({
  name: z.string(),
  category: z.string(),
  input: z.string(),
  truth: z.string(),
  hint: z.object({
    samples: z.array(pointSchema).default([]),
    pockets: z.array(pointSchema).default([]),
    keep: z.array(pointSchema).default([]),
    strokes: z
      .object({ keep: z.array(strokeSchema), clear: z.array(strokeSchema) })
      .default({ keep: [], clear: [] }),
  }),
});
const baselinesSchema = z.object({
  categories: z.record(z.string(), z.record(z.string(), z.object({ mse: z.number() }))),
});

type PracticeCase = z.infer<typeof caseSchema>;

/** Without a click; with the best of three answers about enclosed areas; with the clicks of the case; with its strokes, where it has some. */
export const MODES = ['none', 'answer', 'clicks', 'marks'] as const;
export type Mode = (typeof MODES)[number];

/** How many samples a person sets before giving up. */
const SAMPLES = 3;

interface Result {
  readonly name: string;
  readonly category: string;
  readonly mode: Mode;
  readonly measures: Measures;
  readonly disaster: Disaster;
  readonly reason: string;
  readonly ms: number;
}

export interface PracticeOptions {
  readonly modes: readonly Mode[];
  /** Only cases of this category. */
  readonly kind?: string | undefined;
  /** Every other case, in order of their names: constants are chosen on the first half and reported on the second. */
  readonly half?: 'first' | 'second' | undefined;
}

/** Runs the cases below `folder` (which holds `cases/`) and prints each, every kind beside its references, and disasters. */
export async function runPractice(folder: string, options: PracticeOptions): Promise<readonly Result[]> {
  const baselines = baselinesSchema.parse(
    JSON.parse(await readFile(path.join(folder, 'baselines.json'), 'utf8')),
  );
  const results: Result[] = [];
  console.log('| case | mode | MSE x1000 | lost % | left % | disaster | ms | reason |');
  console.log(`|${' --- |'.repeat(8)}`);
  for (const one of await casesOf(folder, options)) {
    const at = (name: string) => path.join(folder, 'cases', one.name, name);
    const [picture, truth] = await Promise.all([
      decodeMaster(at(one.input), one.name),
      decodeMaster(at(one.truth), one.name),
    ]);
    for (const result of solve(one, picture, truth, options.modes)) {
      results.push(result);
      const { mode, measures, disaster, ms, reason } = result;
      const cells = [measures.mse, disaster.lost, disaster.left].map((value) => value.toFixed(2));
      const sign = disaster.isDisaster ? 'yes' : '';
      console.log(
        `| ${one.name} | ${mode} | ${cells.join(' | ')} | ${sign} | ${ms.toFixed(0)} | ${reason} |`,
      );
    }
  }
  printCategories(results, options.modes, baselines.categories);
  return results;
}

/** So many of the worst results a hand goes over, with so many strokes. */
const WORST = 10;
const STROKES = 5;

/** Plays a hand with a few strokes on the worst results without a click, and prints how far alpha is off after each. */
export async function runByHand(folder: string, options: Omit<PracticeOptions, 'modes'>): Promise<void> {
  const results: { name: string; mse: number; play: () => ByHand }[] = [];
  for (const one of await casesOf(folder, { ...options, modes: [] })) {
    const at = (name: string) => path.join(folder, 'cases', one.name, name);
    const [picture, truth] = await Promise.all([
      decodeMaster(at(one.input), one.name),
      decodeMaster(at(one.truth), one.name),
    ]);
    const { cut } = propose(picture);
    const mse = alphaError(cut ? renderCut(picture, cut).raster : picture, truth);
    results.push({ name: one.name, mse, play: () => playHand(picture, truth, cut, STROKES) });
  }
  console.log(
    `| case | MSE x1000${Array.from({ length: STROKES }, (_, k) => ` | stroke ${k + 1}`).join('')} |`,
  );
  console.log(`|${' --- |'.repeat(STROKES + 2)}`);
  const worst = results.sort((one, other) => other.mse - one.mse).slice(0, WORST);
  let [before, after] = [0, 0];
  for (const { name, play } of worst) {
    const { mse } = play();
    const cells = Array.from({ length: STROKES + 1 }, (_, k) => (mse[k] ?? mse.at(-1)!).toFixed(2));
    before += mse[0]! / worst.length;
    after += mse.at(-1)! / worst.length;
    console.log(`| ${name} | ${cells.join(' | ')} |`);
  }
  console.log(
    `\nmean ${before.toFixed(2)} before, ${after.toFixed(2)} after ${STROKES} strokes: ${(after / before).toFixed(3)}`,
  );
}

async function casesOf(folder: string, { kind, half }: PracticeOptions): Promise<PracticeCase[]> {
  const names = (await readdir(path.join(folder, 'cases'))).sort();
  const all = await Promise.all(
    names.map(async (name) =>
      caseSchema.parse(JSON.parse(await readFile(path.join(folder, 'cases', name, 'case.json'), 'utf8'))),
    ),
  );
  return all
    .filter((_, k) => half === undefined || k % 2 === (half === 'first' ? 0 : 1))
    .filter(({ category }) => kind === undefined || category === kind);
}

function* solve(
  one: PracticeCase,
  picture: Raster,
  truth: Raster,
  modes: readonly Mode[],
): Generator<Result> {
  const yardstick = yardstickOf(truth);
  const judge = (mode: Mode, cut: Cut | null, reason: string, begun: number): Result => {
    const raster = cut ? renderCut(picture, cut).raster : null;
    return {
      name: one.name,
      category: one.category,
      mode,
      measures: measure(yardstick, raster ?? picture),
      disaster: disasterOf(truth, raster),
      reason,
      ms: performance.now() - begun,
    };
  };
  const begun = performance.now();
  const proposal = propose(picture);
  const none = judge('none', proposal.cut, proposal.reason, begun);
  if (modes.includes('none')) yield none;
  if (modes.includes('answer')) yield bestAnswer(proposal, none, judge);
  if (modes.includes('clicks')) {
    const start = performance.now();
    const { cut, reason } = clickedCut(one, picture);
    yield judge('clicks', cut, reason, start);
  }
  if (modes.includes('marks')) {
    const start = performance.now();
    const marks = marksOf(one);
    if (marks.length === 0) yield { ...none, mode: 'marks' };
    else {
      const { cut, reason } = propose(picture, { marks, method: 'color' });
      yield judge('marks', cut, reason, start);
    }
  }
}

/** As proposed, with every enclosed area kept, or with all of them cleared: whichever is nearest to the truth. */
function bestAnswer(
  { cut, areas }: Proposal,
  none: Result,
  judge: (mode: Mode, cut: Cut | null, reason: string, begun: number) => Result,
): Result {
  const proposed: Result = { ...none, mode: 'answer', reason: 'as proposed' };
  if (!cut || areas.length === 0) return proposed;
  const begun = performance.now();
  const answered = (keep: boolean): Cut => {
    const pockets = areas.slice(0, MOST_POCKETS).map(({ x, y }) => ({ x, y, keep }));
    return { ...cut, clear: { ...cut.clear, pockets } };
  };
  return [
    judge('answer', answered(true), 'keep all', begun),
    judge('answer', answered(false), 'clear all', begun),
  ].reduce((best, other) => (other.measures.mse < best.measures.mse ? other : best), proposed);
}

/** What a person gets who clicks the background, every pocket, and what must stay, and types no number. */
function clickedCut({ hint }: PracticeCase, picture: Raster): Proposal {
  const whole = (points: readonly { x: number; y: number }[]) =>
    points.map(({ x, y }) => ({ x: Math.floor(x), y: Math.floor(y) }));
  return propose(picture, {
    goes: whole(hint.samples.slice(0, SAMPLES)),
    pockets: whole(hint.pockets),
    keep: whole(hint.keep),
  });
}

function marksOf({ hint: { strokes } }: PracticeCase): Mark[] {
  const drawn = (goes: boolean) =>
    strokes[goes ? 'clear' : 'keep'].map(({ points, width }): Mark => ({
      goes,
      radiusPx: width / 2,
      points: points.map(({ x, y }) => [x, y]),
    }));
  return [...drawn(false), ...drawn(true)];
}

function printCategories(
  results: readonly Result[],
  modes: readonly Mode[],
  baselines: z.infer<typeof baselinesSchema>['categories'],
): void {
  const figure = (value: number | undefined) => (value === undefined ? '' : value.toFixed(2));
  console.log('\n| kind | cases | mode | MSE x1000 | hard flood | ceiling | lost % | left % | disasters |');
  console.log(`|${' --- |'.repeat(9)}`);
  const line = (kind: string, mode: Mode, of: readonly Result[]) => {
    const mean = (pick: (result: Result) => number) =>
      of.reduce((sum, one) => sum + pick(one), 0) / of.length;
    const cells = [
      figure(mean(({ measures }) => measures.mse)),
      figure(baselines[kind]?.flood?.mse),
      figure(baselines[kind]?.unmix?.mse),
      figure(mean(({ disaster }) => disaster.lost)),
      figure(mean(({ disaster }) => disaster.left)),
      of.filter(({ disaster }) => disaster.isDisaster).length,
    ];
    console.log(`| ${kind} | ${of.length} | ${mode} | ${cells.join(' | ')} |`);
  };
  for (const kind of new Set(results.map(({ category }) => category)))
    for (const mode of modes)
      line(
        kind,
        mode,
        results.filter((one) => one.category === kind && one.mode === mode),
      );
  for (const mode of modes)
    line(
      'all',
      mode,
      results.filter((one) => one.mode === mode),
    );
}
