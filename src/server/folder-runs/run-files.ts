import PQueue from 'p-queue';
import { KenosisError } from '../../core/errors';
import type { Routine } from '../../core/routine/settings';
import type { JobEngine } from '../../engine/node/jobs/job-engine';
import type { MaterialFiles } from '../../engine/node/shape-texts';
import { bytesOf, folderRun, keyOf, routineKey, type FileToDo } from './folder-run';
import { openLedger, type Ledger, type Settled } from './ledger';
import { sweepParts } from './parts';

export interface FilesRun {
  readonly out: string;
  readonly routine: Routine;
  readonly materials: MaterialFiles;
  readonly date: () => string;
  /** Opened when the folder is found to be free; given a name of the run that is the same when it is resumed. */
  readonly engine: (sender: string) => Promise<JobEngine>;
  readonly files: readonly FileToDo[];
  /** Goes on with a run that was not ended. */
  readonly resume: boolean;
  /** What became of a file, as it comes; `isBefore` where that was before this run was resumed. */
  readonly tell: (settled: Settled, isBefore: boolean) => void;
}

/**
 * Carries a routine out on many files into a folder, which one run at a time delivers to. Returns what became of each, in the
 * order of the files. Throws `folder-in-use`, `cannot-write`, and `conflict` where a run was not ended there and is not resumed, or
 * is another one; then nothing was done.
 */
export async function runFiles(run: FilesRun): Promise<Settled[]> {
  const { out, routine, files } = run;
  const ledger = await openLedger(out);
  try {
    await sweepParts(out);
    const id = await begun(ledger, run);
    const engine = await run.engine(`run-${id}`);
    const settled: Settled[] = new Array<Settled>(files.length);
    const folder = folderRun({
      out,
      routine,
      materials: () => Promise.resolve(run.materials),
      date: run.date,
      engine,
      ledger,
    });
    const queue = new PQueue({ concurrency: engine.slots });
    const trouble = new AbortController();
    try {
      for (const [k, file] of files.entries()) {
        await queue.onSizeLessThan(engine.slots);
        if (trouble.signal.aborted) break;
        void queue
          .add(async () => {
            const before = run.resume ? await doneBefore(ledger, file) : null;
            settled[k] = before ?? (await folder.perform(file, undefined, trouble.signal));
            run.tell(settled[k], before !== null);
          })
          // What ends one picture this way, like a full disk, ends them all.
          .catch((error: unknown) => trouble.abort(error));
      }
      await queue.onIdle();
    } finally {
      await engine.close();
    }
    if (trouble.signal.aborted) throw trouble.signal.reason as Error;
    await ledger.end();
    return settled;
  } finally {
    await ledger.close();
  }
}

/** The number of the run: a new one, or that of the one that goes on. */
async function begun(ledger: Ledger, { out, routine, files, resume }: FilesRun): Promise<string> {
  const before = ledger.begun;
  const key = routineKey(routine);
  if (!before) return ledger.begin({ routine: routine.name, routineKey: key, files: files.length });
  const done = [...ledger.settled.values()].filter(({ state }) => state !== 'failed').length;
  const far = before.files === null ? `${done} done` : `${done} of ${before.files} done`;
  if (!resume)
    throw new KenosisError(
      'conflict',
      `A run of ${before.routine} into ${out} was not ended (${far}). Nothing was done. --resume goes on with it; for another run name another folder.`,
    );
  if (before.routineKey !== key)
    throw new KenosisError(
      'conflict',
      `The run into ${out} that was not ended is one of another routine (${before.routine}), or of one that was changed since. Nothing was done. Resume it with that one, or name another folder.`,
    );
  return before.id;
}

/** What became of a file before; null where it was not done, failed, or has other bytes now. */
async function doneBefore(ledger: Ledger, file: FileToDo): Promise<Settled | null> {
  if (ledger.settled.size === 0) return null;
  const bytes = await bytesOf(file).catch(() => null);
  const before = bytes && ledger.settled.get(keyOf(file.name, bytes.sha256));
  return before && before.state !== 'failed' ? before : null;
}
