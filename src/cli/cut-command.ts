import { randomUUID } from 'node:crypto';
import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { decodeMaster } from '../codec/decode';
import { inspectPicture } from '../codec/inspect';
import { verifyPng, writePng } from '../codec/png';
import { colorwayEnding, sameColorway } from '../core/cut/colorway-name';
import { freeSampleId, newSample } from '../core/cut/new-sample';
import { parseCutText, untouchedCut } from '../core/cut/parse';
import { LIMITS, type Cut, type Sample } from '../core/cut/schema';
import { isKenosisError, KenosisError } from '../core/errors';
import { bearingsOf } from '../core/findings/bearings';
import { renderCheckable } from '../core/findings/check-cut';
import { openFindings } from '../core/findings/fixes';
import { reported } from '../core/findings/report';
import { runToEnd } from '../core/numeric/steps';
import type { Raster } from '../core/raster/raster';
import { proposeSteps } from '../core/proposal/propose';
import { renderCut, type Cutout } from '../core/render';
import { reachOfSample, type ReachCache } from '../core/stages/clear/clear';
import { assertSomethingLeft } from '../core/stages/deliver/finish';
import { deliveredDpi } from '../core/stages/deliver/print';
import { inColorway } from '../core/stages/ink/colorways';
import { sceneOf, type Scene } from '../core/stages/clear/scene';
import { startingTolerance, toleranceCurve } from '../core/stages/clear/tolerance-curve';
import type { CutArguments, SampleArgument } from './args';

/** Milliseconds spent in each part of the work. */
type Timings = Record<'decode' | 'clear' | 'deliver' | 'check', number>;

/** Runs `kenosis cut`. Returns the lines to print. Throws `KenosisError`; then no file was written. */
export async function cutCommand(args: CutArguments): Promise<string[]> {
  const said: string[] = [];
  const timings: Timings = { decode: 0, clear: 0, deliver: 0, check: 0 };
  const given = args.cutFile === null ? untouchedCut() : parseCutText(await readText(args.cutFile));
  const name = path.basename(args.input);
  const { original, dpi } = await timed(timings, 'decode', () => load(args.input, name));
  const cache: ReachCache = new Map();
  const { cut, cutout, frame, check } = await timed(timings, 'clear', () => {
    const scene = sceneOf(original);
    const complete = completeCut(given, args, scene, cache, said);
    return { cut: complete, ...renderCheckable(original, complete) };
  });
  assertSomethingLeft(cutout.alpha, name);
  const files = [
    { file: args.output, raster: cutout.raster },
    ...cut.ink.colorways.map((colorway) => ({
      file: args.output.replace(/\.png$/i, colorwayEnding(colorway.name)),
      raster: renderCut(original, inColorway(cut, colorway.name)).raster,
    })),
  ];
  await timed(timings, 'deliver', async () => {
    for (const { file, raster } of files)
      await writeWhole(file, async (temporary) => {
        await writePng(raster, deliveredDpi(cut, raster.width, dpi), temporary);
        await verifyPng(temporary, raster);
      });
  });
  if (args.saveCutFile !== null) await writeJson(args.saveCutFile, cut);
  if (args.reportFile !== null) {
    const { findings: all } = await timed(timings, 'check', check);
    const findings = openFindings(all, cut, bearingsOf(frame, original));
    await writeJson(args.reportFile, { ...reportOf(cutout, timings), findings: findings.map(reported) });
  }
  return said;
}

/** Reads a picture file, with the messages that a person at a terminal needs. */
export async function load(input: string, name: string) {
  try {
    const { dpi } = await inspectPicture(input, name);
    return { original: await decodeMaster(input, name), dpi };
  } catch (error) {
    if (!isKenosisError(error) && isSystemError(error)) {
      throw new KenosisError('not-found', `"${input}" cannot be read (${error.code}).`, { cause: error });
    }
    throw error;
  }
}

function completeCut(given: Cut, args: CutArguments, scene: Scene, cache: ReachCache, said: string[]): Cut {
  for (const { x, y } of args.keeps) assertInside('--keep', x, y, scene.original);
  const keeps = args.keeps.map((place) => ({ ...place, keep: true }));
  if (args.samples.length === 0 && args.cutFile === null) return shaped(proposedCut(scene, args, said), args);
  const samples: Sample[] = [...given.clear.samples];
  for (const argument of args.samples) samples.push(sampleOf(argument, given, samples, scene, cache, said));
  if (samples.length > LIMITS.samples) {
    throw new KenosisError(
      'bad-argument',
      `--sample: expected at most ${LIMITS.samples} samples, got ${samples.length}`,
    );
  }
  const clear = { ...given.clear, samples, pockets: [...given.clear.pockets, ...keeps] };
  return shaped({ ...given, clear }, args);
}

/** The cut with the settings of edge and ink that were given. Throws `bad-argument` where they would do nothing. */
function shaped(cut: Cut, args: CutArguments): Cut {
  const { edge } = args;
  const [first] = Object.keys(edge);
  if (first && !cut.edge.on) {
    throw new KenosisError(
      'bad-argument',
      `--${first.replace('Px', '')}: expected a cut whose Edge is on, got one where it is off; set edge.on to true in it`,
    );
  }
  const inks = args.ink !== null || args.density !== null || args.light || args.colorways.length > 0;
  const ink = {
    ...cut.ink,
    ...(inks ? { on: true } : {}),
    ...(args.ink === null ? {} : { color: args.ink }),
    ...(args.density === null ? {} : { density: args.density }),
    ...(args.light ? { light: true } : {}),
    colorways: [
      ...cut.ink.colorways.filter(({ name }) => !args.colorways.some((one) => sameColorway(one.name, name))),
      ...args.colorways,
    ],
  };
  if (ink.colorways.length > LIMITS.colorways)
    throw new KenosisError(
      'bad-argument',
      `--colorway: expected at most ${LIMITS.colorways} with those of the cut, got ${ink.colorways.length}`,
    );
  return { ...cut, edge: { ...cut.edge, ...edge }, ink };
}

function proposedCut(scene: Scene, args: CutArguments, said: string[]): Cut {
  const { method, channel, autoCrop: crop, autoStraighten: straighten } = args;
  const { cut, kind, reason } = runToEnd(
    proposeSteps(scene, { keep: args.keeps, method, channel, crop, straighten }),
  );
  if (kind !== 'ink' && (crop || straighten))
    throw new KenosisError(
      'no-ink',
      `${crop ? '--auto-crop' : '--auto-straighten'} works on ink on paper, and this picture is not taken for that (${reason.replace(/\.$/, '')}). Nothing was written. Leave it out, or say --method ink.`,
    );
  if (args.explain) said.push(reason);
  if (cut) return cut;
  if (kind === 'transparent') return untouchedCut();
  throw new KenosisError('too-busy', `${reason} On the command line: --sample X,Y.`);
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
  assertInside('--sample', x, y, scene.original);
  const draft = newSample(freeSampleId(others), x, y, { reach });
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

async function readText(file: string): Promise<string> {
  try {
    return await readFile(file, 'utf8');
  } catch (cause) {
    throw new KenosisError(
      'not-found',
      `"${file}" cannot be read (${(cause as NodeJS.ErrnoException).code}).`,
      { cause },
    );
  }
}

export function writeJson(file: string, value: unknown): Promise<void> {
  return writeWhole(file, (temporary) => writeFile(temporary, `${JSON.stringify(value, null, 2)}\n`));
}

/** Lets `write` fill a temporary file beside `file` and renames it, so that `file` is whole or not there. */
async function writeWhole(file: string, write: (temporary: string) => Promise<void>): Promise<void> {
  const temporary = path.join(path.dirname(file), `.${path.basename(file)}.${randomUUID()}`);
  try {
    await write(temporary);
    await rename(temporary, file);
  } catch (error) {
    await rm(temporary, { force: true });
    if (isKenosisError(error)) throw error;
    throw new KenosisError('cannot-write', `"${file}" cannot be written (${(error as Error).message}).`, {
      cause: error,
    });
  }
}

function isSystemError(error: unknown): error is NodeJS.ErrnoException {
  return error instanceof Error && 'code' in error;
}
