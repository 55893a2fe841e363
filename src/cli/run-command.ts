import { copyFile, mkdtemp, open, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { dayOf } from '../core/day-of';
import { badArgument, KenosisError } from '../core/errors';
import { countOf } from '../core/findings/counts';
import { counted } from '../core/findings/finding';
import { MAX_BYTES } from '../core/intake-limits';
import type { Routine } from '../core/routine/settings';
import { tooManyBytes } from '../codec/inspect';
import { nameProgram } from '../engine/node/bundles';
import type { JobEngine } from '../engine/node/jobs/job-engine';
import type { FileToDo } from '../server/folder-runs/folder-run';
import { runFiles } from '../server/folder-runs/run-files';
import type { Settled } from '../server/folder-runs/ledger';
import { openEngine } from '../server/runs/engine-of-house';
import { reportCsv, reportJson } from '../server/runs/report';
import { FAILED, NOT_SURE } from './outcome';
import { besideRoutine, type LaidRoutine } from './beside-routine';
import { clearingOnEnd, readyFolder, readyPlace, STANDARD, writeWhole } from './output';
import { picturesIn } from './pictures-in';
import { loadRoutine } from './load-routine';
import type { RunArguments } from './run-args';
import { runProgress } from './run-progress';

/** The exit code of a run that delivered all, some with findings. */
const FOUND = 3;

type Run = Extract<RunArguments, { command: 'run' }>;

/** Runs `kenosis run`. Returns the exit code. Throws `KenosisError` where nothing, or not all, could be done. */
export async function runCommand(args: Run): Promise<number> {
  const laid = { routine: await loadRoutine(args.routine), materials: {} };
  return args.inputs[0] === STANDARD
    ? besideRoutine(laid, (own) => fromStandard(args, own))
    : runOnPictures(args, laid);
}

/** What running a routine on pictures is told. */
type Wanted = Pick<Run, 'inputs' | 'output' | 'jobs' | 'resume' | 'reportFile'>;

/** Carries a routine out on pictures and folders of them. Returns the exit code. Throws `not-found` where there are none. */
export async function runOnPictures(args: Wanted, laid: LaidRoutine): Promise<number> {
  const { files, passedOver } = await picturesIn(args.inputs);
  if (files.length === 0)
    throw new KenosisError(
      'not-found',
      `There is no picture in ${args.inputs.join(', ')}. Nothing was done.`,
    );
  if (passedOver > 0)
    console.error(
      `kenosis: ${counted(passedOver, 'file')} that are no pictures, or links, were passed over.`,
    );
  return besideRoutine(laid, (own) => performed(args, own, files, args.output));
}

async function performed(
  args: Wanted,
  { routine, materials }: LaidRoutine,
  files: readonly FileToDo[],
  out: string,
): Promise<number> {
  await readyFolder(out);
  if (args.reportFile !== null) await readyPlace(args.reportFile);
  const program = await nameProgram();
  const progress = runProgress(files.length, { toError: args.output === STANDARD });
  let engine: JobEngine | null = null;
  const off = clearingOnEnd(out, async () => {
    progress.end();
    console.error('kenosis: stopped. What was delivered stays; --resume goes on.');
    await engine?.close();
  });
  try {
    const settled = await runFiles({
      out,
      routine,
      materials,
      date: () => dayOf(new Date()),
      engine: async (sender) => (engine = await openEngine(process.env, program, sender, args.jobs)),
      files,
      resume: args.resume,
      tell: progress.tell,
    });
    progress.end();
    if (args.reportFile !== null) await writeReport(args.reportFile, routine, settled);
    return exitOf(settled);
  } finally {
    off();
    progress.end();
  }
}

async function writeReport(file: string, routine: Routine, rows: readonly Settled[]): Promise<void> {
  const isCsv = file.toLowerCase().endsWith('.csv');
  const text = isCsv
    ? reportCsv(rows)
    : reportJson(
        routine.name,
        rows.map(({ kind, key, stays, ...row }) => row),
      );
  await writeWhole(file, (temporary) => writeFile(temporary, text));
}

function exitOf(settled: readonly Settled[]): number {
  if (settled.some(({ state }) => state === 'failed')) return FAILED;
  const isDoubtful = ({ sure, state, findings }: Settled) =>
    sure === false ||
    state === 'held' ||
    (state === 'skipped' && !(sure === true && countOf(findings) === 0));
  if (settled.some(isDoubtful)) return NOT_SURE;
  return settled.some(({ findings }) => countOf(findings) > 0) ? FOUND : 0;
}

/** One picture out of a pipe, delivered into a folder, or into a pipe where it gives one file. */
async function fromStandard(args: Run, laid: LaidRoutine): Promise<number> {
  const { routine, materials } = laid;
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-run-'));
  try {
    const picture = path.join(folder, 'standard-input');
    await spool(picture);
    const files = [{ path: picture, name: 'standard input' }];
    if (args.output !== STANDARD) return await performed(args, laid, files, args.output);
    const made: Settled[] = [];
    const program = await nameProgram();
    await runFiles({
      out: folder,
      routine,
      materials,
      date: () => dayOf(new Date()),
      engine: (sender) => openEngine(process.env, program, sender, args.jobs),
      files,
      resume: false,
      tell: (settled) => made.push(settled),
    });
    const [{ files: delivered, message, state }] = made as [Settled];
    if (state !== 'delivered') console.error(`kenosis: ${message}`);
    else if (delivered.length !== 1)
      throw badArgument('-o', `a folder, since ${routine.name} makes ${delivered.length} files`, STANDARD);
    else await writeWhole(STANDARD, (place) => copyFile(path.join(folder, delivered[0]!.name), place));
    if (args.reportFile !== null) await writeReport(args.reportFile, routine, made);
    return exitOf(made);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function spool(to: string): Promise<void> {
  const file = await open(to, 'wx', 0o600);
  try {
    let bytes = 0;
    for await (const chunk of process.stdin as AsyncIterable<Buffer>) {
      bytes += chunk.length;
      if (bytes > MAX_BYTES) throw tooManyBytes('standard input');
      await file.appendFile(chunk);
    }
  } finally {
    await file.close();
  }
}
