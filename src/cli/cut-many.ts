import { stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { Piscina } from 'piscina';
import { badArgument } from '../core/errors';
import { usualHelpers } from '../engine/node/helpers';
import type { CutArguments, CutManyArguments } from './args';
import { cutCommand, readBy, writtenBy } from './cut-command';
import { assertDistinct } from './distinct-files';
import { FAILED, failureOf, NOT_SURE, type Failure } from './outcome';
import { clearingOnEnd, readyFolder } from './output';

/** What a thread is given: one picture, and how many other threads may help it. */
export interface Share {
  readonly picture: CutArguments;
  readonly helpers: number;
}

/** What became of a picture. */
type Outcome = { readonly lines: readonly string[]; readonly notes: readonly string[] } | Failure;

/** Cuts one picture of several. Errors are returned, since a thread's border strips them of their code. */
export async function cutShare({ picture, helpers }: Share): Promise<Outcome> {
  try {
    return await cutCommand(picture, helpers);
  } catch (error) {
    return failureOf(error);
  }
}

/** Where what is said goes. */
export interface Voice {
  say(line: string): void;
  warn(line: string): void;
}

/**
 * Runs `kenosis cut` on several pictures, as many at a time as there are processors, each in a thread of its own that runs
 * `program`. One that fails leaves the others alone. Returns the exit code: 1 where one failed, else 4 where one is not sure.
 * Throws `bad-argument` where their folder is none, or two files that are written or read and written are one; then nothing
 * was done.
 */
export async function cutMany(
  { folder, pictures, jobs }: CutManyArguments,
  program: string,
  { say, warn }: Voice,
): Promise<number> {
  await assertDistinct(
    pictures.flatMap((picture) => readBy(picture).slice(0, 1)),
    pictures.flatMap((picture) =>
      writtenBy(picture, []).map((one) => ({ ...one, option: `${one.option} of ${picture.input}` })),
    ),
  );
  assertOwnNames(pictures);
  if (/\.[A-Za-z]\w{0,4}$/.test(folder) && !(await stat(folder).catch(() => null))?.isDirectory())
    throw badArgument('-o', 'a name ending in a format that is written, a folder, or -', folder);
  await readyFolder(folder);
  const threads = Math.min(pictures.length, jobs ?? availableParallelism());
  const pool = new Piscina<Share, Outcome>({
    filename: program,
    minThreads: threads,
    maxThreads: threads,
    concurrentTasksPerWorker: 1,
  });
  const stop = clearingOnEnd(folder, () => pool.destroy());
  const counts = { written: 0, failed: 0, notSure: 0 };
  try {
    const helpers = usualHelpers(threads);
    await Promise.all(
      pictures.map(async (picture) => {
        const outcome = await pool.run({ picture, helpers }).catch(failureOf);
        if ('message' in outcome) {
          if (outcome.exit === NOT_SURE) counts.notSure++;
          else counts.failed++;
          warn(`${picture.input}: ${outcome.message}`);
          return;
        }
        counts.written++;
        for (const note of outcome.notes) warn(`${picture.input}: ${note}`);
        const where = picture.wishes.set === null ? `written as ${picture.output}.` : `into ${folder}:`;
        say([`${picture.input}: ${where}`, ...outcome.lines].join(' '));
      }),
    );
  } finally {
    stop();
    await pool.destroy();
  }
  say(`${counts.written} written, ${counts.notSure} not sure, ${counts.failed} failed.`);
  return counts.failed > 0 ? FAILED : counts.notSure > 0 ? NOT_SURE : 0;
}

/** Files of a set are named after their pictures. Throws `bad-argument` where two would get the same names. */
function assertOwnNames(pictures: readonly CutArguments[]): void {
  const taken = new Map<string, string>();
  for (const { input, wishes } of pictures) {
    if (wishes.set === null) continue;
    const stem = path
      .basename(input)
      .replace(/\.[A-Za-z0-9]{1,5}$/, '')
      .toLowerCase();
    const other = taken.get(stem);
    if (other !== undefined)
      throw badArgument('IN', 'pictures of different names for a set', `${other} and ${input}`);
    taken.set(stem, input);
  }
}
