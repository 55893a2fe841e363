import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { untouchedCut } from '../../src/core/cut/parse';
import { bearingsOf } from '../../src/core/findings/bearings';
import { renderAndCheck } from '../../src/core/findings/check-cut';
import { fixedFaults } from '../../src/core/findings/fixes';
import { propose } from '../../src/core/proposal/propose';
import { renderCut } from '../../src/core/render';
import { createRaster, type Raster } from '../../src/core/raster/raster';
import { asPicture } from '../../demo/picture';
import { drawCases, KINDS } from './cases';
import { brokenStrokes, measure, yardstickOf, type Measures, type Yardstick } from './measures';
import { MODES, runByHand, runPractice } from './practice';
import { bestRamp, referencesFor } from './references';
import { checkSpoiled, type Solved, type Spoiled } from './spoiled';

/**
 * npm run quality: the proposal's cutouts, without any hand, against known truth, beside references on the same cases.
 * `--seed N` draws other cases, `--kind K` only one kind, `--quick` leaves the references out, `--no-findings` the faults that
 * are planted for the checks; `--cases FOLDER` runs pictures that lie there instead (see practice.ts), of one category with
 * `--kind`, with `--mode none,answer,clicks`, or only the first or second `--half` of them; `--hand` plays a hand with five
 * strokes on the ten worst of them; `--pictures FOLDER` writes each case's picture, its cutout over magenta, and where alpha is off: too much in red, too little in blue.
 */
const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '1' },
    kind: { type: 'string' },
    quick: { type: 'boolean', default: false },
    'no-findings': { type: 'boolean', default: false },
    pictures: { type: 'string' },
    cases: { type: 'string' },
    mode: { type: 'string' },
    half: { type: 'string' },
    hand: { type: 'boolean', default: false },
  },
});

if (values.cases !== undefined) {
  const modes = (values.mode?.split(',') ?? [...MODES]).map((text) => oneOf('--mode', text, MODES));
  const half = values.half === undefined ? undefined : oneOf('--half', values.half, ['first', 'second']);
  if (values.hand) await runByHand(values.cases, { kind: values.kind, half });
  else await runPractice(values.cases, { modes, kind: values.kind, half });
  process.exit(0);
}

function oneOf<T extends string>(option: string, text: string, known: readonly T[]): T {
  const found = known.find((one) => one === text);
  if (found) return found;
  console.error(`${option}: expected ${known.join(' or ')}, got ${text}`);
  process.exit(2);
}

interface Row {
  readonly name: string;
  readonly kind: string;
  readonly found: string;
  readonly reason: string;
  readonly proposeMs: number;
  readonly ours: Measures;
  /** The same after every fault that the checks found was put right. */
  readonly after: Measures;
  /** Edge color error without the Edge stage. */
  readonly before: number;
  readonly hard: Measures;
  readonly soft: Measures;
  readonly ceiling: Measures;
  /** For signatures: what the best ramp in luminance gives, and breaks in strokes. */
  readonly ink: { readonly ramp: Measures; readonly broken: number; readonly rampBroken: number } | null;
}

const NOT_MEASURED: Measures = {
  sad: NaN,
  mse: NaN,
  gradient: NaN,
  edgeColor: NaN,
  leftover: NaN,
  loss: NaN,
};

const rows: Row[] = [];
const solved: Solved[] = [];
for (const of of await drawCases(Number(values.seed), values.kind)) {
  const { name, kind, truth, picture } = of;
  const started = performance.now();
  const proposal = propose(picture);
  const proposeMs = performance.now() - started;
  const cut = proposal.cut ?? untouchedCut();
  const { cutout, checked, frame } = renderAndCheck(picture, cut);
  const ours = cutout.raster;
  const unedged = renderCut(picture, { ...cut, edge: { ...cut.edge, on: false } }).raster;
  const yardstick = yardstickOf(truth);
  const references = values.quick ? null : referencesFor(picture, truth);
  const measureIf = (raster: Raster | undefined) => (raster ? measure(yardstick, raster) : NOT_MEASURED);
  const measures = measure(yardstick, ours);
  const mended = fixedFaults(cut, checked.findings, bearingsOf(frame, picture));
  const after = mended === cut ? measures : measure(yardstick, renderCut(picture, mended).raster);
  solved.push({ of, cut, areas: proposal.areas, cutout: ours, measures });
  rows.push({
    name,
    kind,
    found: proposal.kind,
    reason: proposal.reason,
    ours: measures,
    after,
    before: measure(yardstick, unedged).edgeColor,
    proposeMs,
    hard: measureIf(references?.hard),
    soft: measureIf(references?.soft),
    ceiling: measureIf(references?.ceiling),
    ink: kind === 'signature' ? inkOf(picture, truth, ours, yardstick) : null,
  });
  if (values.pictures) await writePictures(values.pictures, name, picture, truth, ours);
}
printCases();
printKinds();
printInk();
printFixed();
if (!values['no-findings']) printSpoiled(checkSpoiled(solved, Number(values.seed)));
await mkdir('dist', { recursive: true });
await writeFile(
  path.join('dist', 'quality.json'),
  JSON.stringify({ seed: Number(values.seed), rows }, null, 2),
);

function printCases(): void {
  console.log(
    '| case | found | MSE | hard | soft | ceiling | edge | hard | ceiling | leftover | loss % | ms | reason |',
  );
  console.log('| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |');
  for (const { name, found, ours, hard, soft, ceiling, proposeMs, reason } of rows) {
    const cells = [
      ours.mse,
      hard.mse,
      soft.mse,
      ceiling.mse,
      ours.edgeColor,
      hard.edgeColor,
      ceiling.edgeColor,
    ].map((value) => value.toFixed(2));
    console.log(
      `| ${name} | ${found} | ${cells.join(' | ')} | ${ours.leftover.toFixed(0)} | ${ours.loss.toFixed(2)} | ${proposeMs.toFixed(0)} | ${reason} |`,
    );
  }
}

function inkOf(picture: Raster, truth: Raster, ours: Raster, yardstick: Yardstick): Row['ink'] {
  const ramp = bestRamp(picture, truth);
  return {
    ramp: measure(yardstick, ramp),
    broken: brokenStrokes(truth, ours),
    rampBroken: brokenStrokes(truth, ramp),
  };
}

function printInk(): void {
  const of = rows.filter(({ ink }) => ink !== null);
  if (of.length === 0) return;
  console.log(
    '\n| signature | MSE x1000 | best ramp | ours / ramp | edge color | best ramp | ours / ramp | leftover | broken | broken by the ramp |',
  );
  console.log(`|${' --- |'.repeat(10)}`);
  const line = (name: string, mse: number, rampMse: number, edge: number, rampEdge: number, rest: string) =>
    console.log(
      `| ${name} | ${mse.toFixed(3)} | ${rampMse.toFixed(3)} | ${(mse / rampMse).toFixed(2)} | ${edge.toFixed(2)} | ${rampEdge.toFixed(2)} | ${(edge / rampEdge).toFixed(2)} | ${rest} |`,
    );
  for (const { name, ours, ink } of of)
    line(
      name,
      ours.mse,
      ink!.ramp.mse,
      ours.edgeColor,
      ink!.ramp.edgeColor,
      `${ours.leftover.toFixed(0)} | ${ink!.broken} | ${ink!.rampBroken}`,
    );
  const mean = (pick: (row: Row) => number) => of.reduce((sum, row) => sum + pick(row), 0) / of.length;
  line(
    'mean',
    mean(({ ours }) => ours.mse),
    mean(({ ink }) => ink!.ramp.mse),
    mean(({ ours }) => ours.edgeColor),
    mean(({ ink }) => ink!.ramp.edgeColor),
    `${of.filter(({ ours }) => ours.leftover === 0).length} of ${of.length} without | ${of.reduce((sum, { ink }) => sum + ink!.broken, 0)} | ${of.reduce((sum, { ink }) => sum + ink!.rampBroken, 0)}`,
  );
}

/** Cases in which putting every fault right changed the measures, and the means of all. */
function printFixed(): void {
  console.log(
    '\n| after fixing all faults | MSE x1000 | after | edge color | after | leftover | after | loss % | after |',
  );
  console.log(`|${' --- |'.repeat(9)}`);
  const line = (name: string, pick: (measure: keyof Measures) => readonly [number, number]) => {
    const cells = (['mse', 'edgeColor', 'leftover', 'loss'] as const).flatMap((measure) => pick(measure));
    console.log(`| ${name} | ${cells.map((value) => value.toFixed(3)).join(' | ')} |`);
  };
  const changed = rows.filter(({ ours, after }) => after !== ours);
  for (const { name, ours, after } of changed) line(name, (measure) => [ours[measure], after[measure]]);
  const mean = (pick: (row: Row) => number) => rows.reduce((sum, row) => sum + pick(row), 0) / rows.length;
  line('mean of all', (measure) => [mean(({ ours }) => ours[measure]), mean(({ after }) => after[measure])]);
}

/** How many planted faults were found, and what was found where nothing is. */
function printSpoiled(all: readonly Spoiled[]): void {
  const planted = all.filter((one) => one.planted !== null);
  const clean = all.filter((one) => one.planted === null);
  console.log('\n| planted | faults | found |\n| --- | --- | --- |');
  for (const kind of new Set(planted.map((one) => one.planted))) {
    const of = planted.filter((one) => one.planted === kind);
    console.log(`| ${kind} | ${of.length} | ${of.filter(({ found }) => found).length} |`);
  }
  const found = planted.filter((one) => one.found).length;
  const alarms = clean.filter((one) => one.found);
  console.log(`| all | ${planted.length} | ${found} |`);
  console.log(`\nFalse alarms: ${alarms.length} of ${clean.length} clean cutouts.`);
  for (const one of planted) if (!one.found) console.log(`- missed: ${one.name}`);
  for (const { name, findings } of alarms)
    for (const { kind, sentence } of findings) console.log(`- ${name}: ${kind}. ${sentence}`);
}

function printKinds(): void {
  console.log(
    '\n| kind | cases | MSE x1000 | hard | soft | ceiling | ours / hard | edge color | before Edge | hard | ceiling | SAD | gradient | no leftover | loss under 0.2 % |',
  );
  console.log(`|${' --- |'.repeat(15)}`);
  for (const kind of KINDS) {
    const of = rows.filter((row) => row.kind === kind);
    if (of.length === 0) continue;
    const mean = (pick: (row: Row) => number) => of.reduce((sum, row) => sum + pick(row), 0) / of.length;
    const cells = [
      mean((row) => row.ours.mse).toFixed(2),
      mean((row) => row.hard.mse).toFixed(2),
      mean((row) => row.soft.mse).toFixed(2),
      mean((row) => row.ceiling.mse).toFixed(2),
      (mean((row) => row.ours.mse) / mean((row) => row.hard.mse)).toFixed(2),
      mean((row) => row.ours.edgeColor).toFixed(2),
      mean((row) => row.before).toFixed(2),
      mean((row) => row.hard.edgeColor).toFixed(2),
      mean((row) => row.ceiling.edgeColor).toFixed(2),
      mean((row) => row.ours.sad).toFixed(2),
      mean((row) => row.ours.gradient).toFixed(2),
      `${of.filter((row) => row.ours.leftover === 0).length} of ${of.length}`,
      `${of.filter((row) => row.ours.loss < 0.2).length} of ${of.length}`,
    ];
    console.log(`| ${kind} | ${of.length} | ${cells.join(' | ')} |`);
  }
}

async function writePictures(
  folder: string,
  name: string,
  picture: Raster,
  truth: Raster,
  ours: Raster,
): Promise<void> {
  await mkdir(folder, { recursive: true });
  const stem = path.join(folder, name.replaceAll(' ', '-'));
  await asPicture(picture).png().toFile(`${stem}.png`);
  await asPicture(ours).flatten({ background: '#ff00ff' }).png().toFile(`${stem}-cutout.png`);
  await asPicture(errorsOf(truth, ours)).png().toFile(`${stem}-errors.png`);
}

function errorsOf(truth: Raster, ours: Raster): Raster {
  const out = createRaster(truth.width, truth.height);
  for (let p = 0; p < out.data.length; p += 4) {
    const off = ours.data[p + 3]! - truth.data[p + 3]!;
    const gray = 255 - truth.data[p + 3]! / 8;
    out.data[p] = off > 8 ? 255 : gray - (off < -8 ? 150 : 0);
    out.data[p + 1] = Math.abs(off) > 8 ? Math.max(0, 160 - Math.abs(off)) : gray;
    out.data[p + 2] = off < -8 ? 255 : gray - (off > 8 ? 150 : 0);
    out.data[p + 3] = 255;
  }
  return out;
}
