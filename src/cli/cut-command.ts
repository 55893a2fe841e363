import { writeOutput } from '../codec/outputs/write-output';
import { colorwayEnding, sameColorway } from '../core/cut/colorway-name';
import { freeSampleId, newSample } from '../core/cut/new-sample';
import { parseCutText, untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import { MOST_MARKS, MOST_SAMPLES, type Mark, type Sample } from '../core/stages/clear/settings';
import { MOST_COLORWAYS, type Colorway } from '../core/stages/ink/settings';
import { dayOf } from '../core/day-of';
import { KenosisError } from '../core/errors';
import { bearingsOf } from '../core/findings/bearings';
import { renderCheckable, type Checkable } from '../core/findings/check-cut';
import { counted } from '../core/findings/finding';
import { decidePockets, type PocketPlace } from '../core/findings/pockets';
import { openFindings } from '../core/findings/fixes';
import { reported } from '../core/findings/report';
import { runToEnd } from '../core/numeric/steps';
import type { Raster } from '../core/raster/raster';
import { proposeSteps } from '../core/proposal/propose';
import { renderBoard } from '../core/board';
import type { Cutout } from '../core/render';
import { reachOfSample, type ReachCache } from '../core/stages/clear/clear';
import { assertSomethingLeft } from '../core/stages/deliver/finish';
import type { Output } from '../core/stages/deliver/output-settings';
import { deliveredDpi } from '../core/stages/deliver/print';
import { finishedName, plannedFiles, withoutEnding } from '../core/stages/deliver/planned-files';
import { withSet } from '../core/stages/deliver/sets';
import { outputSize } from '../core/stages/deliver/shape-output';
import { contentOf } from '../core/stages/prepare/content';
import { inColorway } from '../core/stages/ink/colorways';
import { sceneOf, type Scene } from '../core/scene/scene';
import { startingTolerance, toleranceCurve } from '../core/stages/clear/tolerance-curve';
import { startHelpers, usualHelpers, type HelperThreads } from '../engine/node/helpers';
import { FEWEST_HELPED_PIXELS, onSharedMemory } from '../engine/threads/crew';
import path from 'node:path';
import type { CutArguments, SampleArgument } from './args';
import { assertDistinct, type NamedFile } from './distinct-files';
import { loadPicture, loadText } from './input';
import { loadMarks } from './marks-file';
import { formatOfName, loadSet, outputOf } from './output-options';
import { STANDARD, readyFolder, readyPlace, writeWhole } from './output';
import { withGiven } from './stage-options';
import { writeJson } from './write-json';

/** Milliseconds spent in each part of the work. */
type Timings = Record<'decode' | 'clear' | 'deliver' | 'check', number>;

/** The threads that help this one, started for the first large picture. */
let started: HelperThreads | null | undefined;

/** A picture with threads that help, where it is large; its pixels then lie where they can read them. */
function withHelpers<T extends { readonly original: Raster }>(loaded: T, count: number) {
  const { original } = loaded;
  const isLarge = original.width * original.height >= FEWEST_HELPED_PIXELS;
  const helpers = isLarge ? ((started ??= startHelpers(count))?.crew ?? null) : null;
  return { ...loaded, helpers, original: helpers ? onSharedMemory(original) : original };
}

/** Runs `kenosis cut` on one picture, with so many threads to help. Returns the lines to print, and what the decoder remarked. Throws `KenosisError`; then no file was written. */
export async function cutCommand(
  args: CutArguments,
  helpersAtMost = usualHelpers(),
): Promise<{ readonly lines: string[]; readonly notes: readonly string[] }> {
  const said: string[] = [];
  const timings: Timings = { decode: 0, clear: 0, deliver: 0, check: 0 };
  await assertOwnFiles(args, []);
  for (const { file } of writtenBy(args, [])) await readyPlace(file);
  if (args.wishes.set !== null) await readyFolder(args.output);
  const read = args.cutFile === null ? null : parseCutText(await loadText(args.cutFile));
  const given = await delivering(read ?? untouchedCut(), args);
  const marks = args.marksFile === null ? [] : await loadMarks(args.marksFile);
  const { original, helpers, dpi, page, name, notes } = await timed(timings, 'decode', async () =>
    withHelpers(await loadPicture(args.input, args, read?.page ?? null), helpersAtMost),
  );
  const { board, cut, cutout, check } = await timed(timings, 'clear', () => {
    const source = { original, helpers, scene: sceneOf(original, helpers) };
    const { deliver } = given;
    const complete = { ...completeCut(given, args, marks, source.scene, new Map(), said), page, deliver };
    return answered(renderCheckable(source, complete), args);
  });
  assertSomethingLeft(cutout.alpha, name);
  await assertOwnFiles(args, cut.ink.colorways);
  const files = [
    ...filesOf(args, cut, name, null, cutout.raster, dpi),
    ...cut.ink.colorways.flatMap((colorway) => {
      const { raster } = runToEnd(renderBoard(board, inColorway(cut, colorway.name)));
      return filesOf(args, cut, name, colorway, raster, dpi);
    }),
  ];
  if (args.wishes.set !== null) await assertDistinct(readBy(args), files);
  const written: object[] = [];
  await timed(timings, 'deliver', async () => {
    for (const { file, raster, output } of files)
      await writeWhole(file, async (temporary) => {
        const { verified, scale } = await writeOutput(raster, cut, output, dpi, temporary);
        written.push({ file, format: output.format, ...verified, scale });
      });
  });
  if (args.wishes.set !== null) said.push(`${counted(files.length, 'file')} written.`);
  if (args.saveCutFile !== null) await writeJson(args.saveCutFile, cut);
  if (args.reportFile !== null) {
    const { findings: all, pockets } = await timed(timings, 'check', check);
    const findings = openFindings(all, cut, bearingsOf(board.frame, original));
    await writeJson(args.reportFile, {
      ...reportOf(cutout, timings),
      files: written,
      decision: confidenceOf(pockets),
      findings: findings.map(reported),
    });
  }
  return { lines: said, notes };
}

/** What was rendered, with what was said of enclosed areas. Throws `not-sure` where that was asked for. */
function answered(rendered: Checkable, { enclosed, sure }: CutArguments): Checkable {
  const { board, cut, check } = rendered;
  const bearings = bearingsOf(board.frame, board.original);
  if (enclosed === null && !sure) return rendered;
  const { pockets } = check();
  if (enclosed === 'keep' || enclosed === 'clear')
    return renderCheckable(board, decidePockets(cut, pockets, bearings, enclosed === 'keep'), board);
  const open = pockets.filter((pocket) => !pocket.sure);
  if (open.length === 0) return rendered;
  const { x, y } = bearings.toOriginal(open[0]!.at.x, open[0]!.at.y);
  const goes = open.filter((pocket) => pocket.goes).length;
  throw new KenosisError(
    'not-sure',
    `Not sure of ${counted(open.length, 'area')} that ${open.length === 1 ? 'looks' : 'look'} like the background (${goes} would be cleared, ${open.length - goes} kept; the largest at ${x},${y}). Nothing was written. Say --enclosed keep or --enclosed clear, or name places: --sample X,Y and --keep X,Y.`,
  );
}

/** How sure the decision on subject and background is, and what it rests on. */
function confidenceOf(pockets: readonly PocketPlace[]) {
  return {
    sure: pockets.every(({ sure }) => sure),
    areasCleared: pockets.filter(({ goes }) => goes).length,
    areasKept: pockets.filter(({ goes }) => !goes).length,
    areasNotSure: pockets.filter(({ sure }) => !sure).length,
  };
}

function colorwayFile(output: string, { name }: Colorway): string {
  const stem = withoutEnding(output);
  return `${stem}${colorwayEnding(name)}${output.slice(stem.length)}`;
}

/** The cut with what was said of its files. Throws `bad-argument` for a set that is none. */
async function delivering(cut: Cut, { wishes }: CutArguments): Promise<Cut> {
  const { set, name, bleed, credit } = wishes;
  const named = set === null || set === 'cut' ? cut.deliver : withSet(cut.deliver, await loadSet(set));
  const own = Object.fromEntries(Object.entries(credit).filter(([, text]) => text !== ''));
  return {
    ...cut,
    deliver: {
      ...named,
      ...(bleed ? { hidden: 'bled' as const } : {}),
      ...(name === null ? {} : { fileName: name }),
      credit: { ...named.credit, ...own },
    },
  };
}

interface FileToWrite extends NamedFile {
  readonly raster: Raster;
  readonly output: Output;
}

/** The files of one colorway, or of the cut as it is. */
function filesOf(
  args: CutArguments,
  cut: Cut,
  name: string,
  colorway: Colorway | null,
  raster: Raster,
  dpi: number | null,
): FileToWrite[] {
  if (args.wishes.set === null) {
    const file = colorway ? colorwayFile(args.output, colorway) : args.output;
    const format = args.output === STANDARD ? 'png' : formatOfName(args.output)!;
    return [{ option: '-o', file, raster, output: outputOf(format, args.wishes) }];
  }
  const facts = {
    width: raster.width,
    height: raster.height,
    content: contentOf(raster, 0),
    dpi: deliveredDpi(cut, raster.width, dpi),
  };
  return plannedFiles(cut, name, dayOf(new Date()))
    .filter((file) => file.colorway === (colorway?.name ?? null))
    .map((planned) => {
      const { width, height } = outputSize(planned.output, facts);
      const file = path.join(args.output, finishedName(planned, width, height));
      return { option: `--set ${args.wishes.set}`, file, raster, output: planned.output };
    });
}

/** Every file that a command writes; those of the colorways that a given cut has are known only when it was read. */
export function writtenBy(args: CutArguments, colorways: readonly Colorway[]): NamedFile[] {
  if (args.output === STANDARD && colorways.length > 0)
    throw new KenosisError(
      'bad-argument',
      "-o: expected a name, which the files of the cut's colorways are named by, got -. Nothing was written.",
    );
  const named = [...new Map([...args.colorways, ...colorways].map((one) => [one.name, one])).values()];
  return [
    // Files of a set are known when their sizes are.
    ...(args.wishes.set === null
      ? [
          { option: '-o', file: args.output },
          ...named.map((one) => ({ option: `colorway ${one.name}`, file: colorwayFile(args.output, one) })),
        ]
      : []),
    ...(args.saveCutFile === null ? [] : [{ option: '--save-cut', file: args.saveCutFile }]),
    ...(args.reportFile === null ? [] : [{ option: '--report', file: args.reportFile }]),
  ];
}

function assertOwnFiles(args: CutArguments, colorways: readonly Colorway[]): Promise<void> {
  return assertDistinct(readBy(args), writtenBy(args, colorways));
}

/** Every file that a command reads, its picture first. */
export function readBy(args: CutArguments): NamedFile[] {
  return [
    { option: 'IN', file: args.input },
    ...(args.cutFile === null ? [] : [{ option: '--cut', file: args.cutFile }]),
    ...(args.marksFile === null ? [] : [{ option: '--marks', file: args.marksFile }]),
  ];
}

function completeCut(
  given: Cut,
  args: CutArguments,
  marks: readonly Mark[],
  scene: Scene,
  cache: ReachCache,
  said: string[],
): Cut {
  for (const { x, y } of args.keeps) assertInside('--keep', x, y, scene.original);
  const keeps = args.keeps.map((place) => ({ ...place, keep: true }));
  for (const { x, y } of args.samples) assertInside('--sample', x, y, scene.original);
  const isDecided = args.samples.every(({ tolerance }) => tolerance === null);
  if (isDecided && args.cutFile === null) {
    const cut = proposedCut(scene, args, marks, said);
    if (cut) return shaped(cut, args);
  }
  const samples: Sample[] = [...given.clear.samples];
  for (const argument of args.samples) samples.push(sampleOf(argument, given, samples, scene, cache, said));
  if (samples.length > MOST_SAMPLES) {
    throw new KenosisError(
      'bad-argument',
      `--sample: expected at most ${MOST_SAMPLES} samples, got ${samples.length}`,
    );
  }
  const allMarks = [...given.clear.marks, ...marks];
  if (allMarks.length > MOST_MARKS)
    throw new KenosisError(
      'bad-argument',
      `--marks: expected at most ${MOST_MARKS} with those of the cut, got ${allMarks.length}`,
    );
  const clear = { ...given.clear, samples, pockets: [...given.clear.pockets, ...keeps], marks: allMarks };
  return shaped({ ...given, clear }, args);
}

/** The cut with the settings that were given. Throws `bad-argument` where they would do nothing. */
function shaped(cut: Cut, args: CutArguments): Cut {
  const inks =
    args.ink !== null || args.settings.ink !== undefined || args.light || args.colorways.length > 0;
  const ink = {
    ...cut.ink,
    ...(inks ? { on: true } : {}),
    ...(args.ink === null ? {} : { color: args.ink }),
    ...(args.light ? { light: true } : {}),
    colorways: [
      ...cut.ink.colorways.filter(({ name }) => !args.colorways.some((one) => sameColorway(one.name, name))),
      ...args.colorways,
    ],
  };
  if (ink.colorways.length > MOST_COLORWAYS)
    throw new KenosisError(
      'bad-argument',
      `--colorway: expected at most ${MOST_COLORWAYS} with those of the cut, got ${ink.colorways.length}`,
    );
  return withGiven({ ...cut, ink }, args.settings);
}

/** The cut that is proposed; null where none is and places were named all the same. */
function proposedCut(scene: Scene, args: CutArguments, marks: readonly Mark[], said: string[]): Cut | null {
  const { method, channel, autoCrop: crop, autoStraighten: straighten } = args;
  const { cut, kind, reason } = runToEnd(
    proposeSteps(scene, {
      keep: args.keeps,
      goes: args.samples,
      method: args.samples.length > 0 || marks.length > 0 ? 'color' : method,
      marks,
      channel,
      crop,
      straighten,
    }),
  );
  if (kind !== 'ink' && (crop || straighten))
    throw new KenosisError(
      'no-ink',
      `${crop ? '--auto-crop' : '--auto-straighten'} works on ink on paper, and this picture is not taken for that (${reason.replace(/\.$/, '')}). Nothing was written. Leave it out, or say --method ink.`,
    );
  if (args.explain) said.push(reason);
  if (cut) return cut;
  if (args.samples.length > 0) return null;
  if (kind === 'transparent') return untouchedCut();
  throw new KenosisError(
    'too-busy',
    kind === 'blank'
      ? 'Nothing but one even surface is seen: no ink, no subject. Nothing was written. If there is something faint on it, name the background: --sample X,Y.'
      : 'Too busy to tell what is background. Nothing was written. Name a place of it: --sample X,Y, or several; or mark what stays and what goes: --marks FILE.',
  );
}

function assertInside(option: string, x: number, y: number, original: Raster): void {
  if (x < original.width && y < original.height) return;
  const inside = `a place within ${original.width} x ${original.height} pixels`;
  throw new KenosisError('bad-argument', `${option}: expected ${inside}, got ${x},${y}`);
}

function sampleOf(
  argument: SampleArgument,
  given: Cut,
  others: readonly Sample[],
  scene: Scene,
  cache: ReachCache,
  said: string[],
): Sample {
  const { x, y, reach } = argument;
  const draft = newSample(freeSampleId(others), x, y, { reach });
  const whole = others.find(({ rule }) => rule === 'whole');
  if (argument.tolerance === null && whole)
    return {
      ...draft,
      rule: 'whole',
      tolerance: whole.tolerance,
      backdrop: whole.backdrop,
      shade: whole.shade,
    };
  if (argument.tolerance !== null) return { ...draft, tolerance: argument.tolerance };
  const map = runToEnd(reachOfSample(scene, draft, given, cache));
  const { tolerance, safeRange } = startingTolerance(toleranceCurve(map));
  said.push(
    safeRange
      ? `Tolerance ${tolerance} at ${x},${y}: inside the safe range ${safeRange.from} to ${safeRange.to}.`
      : `Tolerance ${tolerance} at ${x},${y}: the default, since the curve shows no clear safe range.`,
  );
  return { ...draft, tolerance };
}

function reportOf({ raster, alpha, alike }: Cutout, timings: Timings) {
  const percent = (count: number) => (100 * count) / (raster.width * raster.height);
  return {
    width: raster.width,
    height: raster.height,
    timingsMs: timings,
    peakMemoryBytes: process.resourceUsage().maxRSS * 1024,
    percentTransparent: percent(alpha.transparent),
    percentPartly: percent(alpha.partly),
    percentOpaque: percent(alpha.opaque),
    edgeTooAlike: alike,
  };
}

async function timed<T>(timings: Timings, part: keyof Timings, work: () => T | Promise<T>): Promise<T> {
  const start = performance.now();
  const result = await work();
  timings[part] += Math.round((performance.now() - start) * 10) / 10;
  return result;
}
