import { createHash } from 'node:crypto';
import { lstat, rm } from 'node:fs/promises';
import path from 'node:path';
import AsyncLock from 'async-lock';
import { isKenosisError, KenosisError } from '../../core/errors';
import { wordsOf } from '../../core/system-words';
import { stepsOf, type Routine } from '../../core/routine/settings';
import { hashFile } from '../../engine/node/hash-file';
import type { JobEngine, RoutineJob } from '../../engine/node/jobs/job-engine';
import type { MaterialFiles } from '../../engine/node/shape-texts';
import type { RoutineResult } from '../../engine/node/routine-task';
import type { Ledger, Settled } from './ledger';
import { partName } from './parts';
import { freeNames, placeFiles } from './place-files';

/** A picture that is brought to a folder run: where it lies, and what it is called. */
export interface FileToDo {
  readonly path: string;
  readonly name: string;
}

/** Carries a routine out on files, one by one, and delivers into a folder, each once however the process ends. */
export interface FolderRun {
  /**
   * What became of a file: written down before it is told. `after` is done between delivering and writing down, and again after a
   * kill in between. Throws `aborted`, and what a ledger that cannot be written throws.
   */
  perform(file: FileToDo, after?: AfterPlacing, signal?: AbortSignal): Promise<Settled>;
}

export type AfterPlacing = (settled: Omit<Settled, 'kind' | 'at'>) => Promise<void>;

export interface FolderRunFacts {
  readonly out: string;
  readonly routine: Routine;
  /** Where the fonts and cutouts lie that its watermark names. Throws `missing-material`. */
  readonly materials: () => Promise<MaterialFiles>;
  readonly date: () => string;
  readonly engine: JobEngine;
  readonly ledger: Ledger;
}

/**
 * SHA-256 of a routine as JSON: whether two runs would do the same. The version that it is written in does not count, so that
 * ledgers of before are known again.
 */
export function routineKey(routine: Routine): string {
  return createHash('sha256')
    .update(JSON.stringify({ ...routine, version: 1 }))
    .digest('hex');
}

export function folderRun({ out, routine, materials, date, engine, ledger }: FolderRunFacts): FolderRun {
  const lock = new AsyncLock({ maxPending: 1_000_000 });
  /** Names that are being given now, in lower case. */
  const taken = new Set<string>();

  async function jobOf(file: FileToDo, sha256: string, key: string): Promise<RoutineJob> {
    const id = createHash('sha256').update(`${ledger.begun!.id} ${key}`).digest('hex').slice(0, 40);
    const { notSure, findings } = routine;
    return {
      id,
      pixels: 100e6,
      input: {
        path: file.path,
        bytesKey: sha256,
        name: file.name,
        piece: null,
        steps: stepsOf(routine),
        materials: await materials(),
        notSure,
        findings,
        layOnly: false,
        date: date(),
        into: { folder: out, ...partName() },
        pictured: false,
      },
    };
  }

  /** Gives the files of a picture their names, where nobody else is naming any. */
  async function placed(key: string, result: RoutineResult): Promise<Settled['files']> {
    const before = ledger.placing.get(key)?.files ?? [];
    const named = await lock.acquire('names', () => freeNames(out, result.files, taken, before));
    try {
      const files = named.map(({ made, name, sha256 }) => ({ made, name, sha256 }));
      if (files.length > 0) await ledger.place({ key, files });
      await placeFiles(out, files);
    } finally {
      for (const { name } of named) taken.delete(name.toLowerCase());
    }
    return named.map(({ name, format, bytes, sha256, verified: { width, height } }) => ({
      name,
      format,
      bytes,
      width,
      height,
      sha256,
    }));
  }

  /** The file that a photo was marked as before by the same routine, where it is still there; null where it is not. */
  async function markedBefore(key: string): Promise<string | null> {
    const file = ledger.deliveredBy(routineKey(routine), key)?.files[0];
    const facts = file && (await lstat(path.join(out, file.name)).catch(() => null));
    return facts?.isFile() ? file!.name : null;
  }

  return {
    async perform(file, after = () => Promise.resolve(), signal) {
      let key = `? ${file.name}`;
      try {
        const { sha256 } = await bytesOf(file);
        key = keyOf(file.name, sha256);
        const marked = routine.mark && (await markedBefore(key));
        if (marked) {
          const own = { key, name: file.name, findings: {}, files: [], ms: null };
          const message = `It was marked by the same before: "${marked}" is there.`;
          const settled = { ...own, state: 'skipped', message, sure: true, stays: false } as const;
          return await ledger.settle({ ...settled, ...(await doneAfter(after, settled)) });
        }
        const job = await jobOf(file, sha256, key);
        const result = await engine.carryOut(job, signal);
        const { outcome, why: message, sure, findings, ms } = result;
        try {
          const state = outcome === 'laid' ? 'skipped' : outcome;
          const files = await placed(key, result);
          const own = { key, name: file.name, findings: { ...findings }, files, ms };
          const settled = { ...own, state, message, sure, stays: false } as const;
          const line = await ledger.settle({ ...settled, ...(await doneAfter(after, settled)) });
          // It is written down: whatever the engine says now makes it no failure.
          await engine.forget(job.id).catch(() => undefined);
          return line;
        } finally {
          for (const { made } of result.files) await rm(path.join(out, made), { force: true });
        }
      } catch (error) {
        if (signal?.aborted || (isKenosisError(error) && error.code === 'aborted')) throw error;
        const failed = failureOf(key, file, error);
        return await ledger.settle({ ...failed, ...(await doneAfter(after, failed)) });
      }
    },
  };
}

/** Does what is to be done after delivering. Where that fails the picture is delivered all the same, and its original stays. */
async function doneAfter(
  after: AfterPlacing,
  settled: Parameters<AfterPlacing>[0],
): Promise<{ readonly message: string; readonly stays: boolean }> {
  try {
    await after(settled);
    return { message: settled.message, stays: false };
  } catch (error) {
    const words = isKenosisError(error) ? error.message : `${wordsOf(error)}.`;
    const message = `${settled.message} "${settled.name}" stays where it is, since it could not be moved: ${words}`;
    return { message: message.trim(), stays: true };
  }
}

/** By what a picture is known again: the same bytes under another name are delivered under that name. */
export function keyOf(name: string, sha256: string): string {
  return `${sha256} ${name}`;
}

/** Reads a file through. Throws `not-found` where it is none, or went. */
export async function bytesOf({
  path: file,
  name,
}: FileToDo): Promise<{ readonly sha256: string; readonly bytes: number }> {
  const facts = await lstat(file).catch(() => null);
  if (!facts)
    throw new KenosisError('not-found', `"${name}" is not there any more. Nothing of it was delivered.`);
  if (!facts.isFile())
    throw new KenosisError(
      'not-found',
      `"${name}" is ${facts.isSymbolicLink() ? 'a link, and links are not followed' : 'no file'}. Nothing of it was delivered.`,
    );
  return hashFile(file);
}

function failureOf(key: string, { name }: FileToDo, error: unknown): Omit<Settled, 'kind' | 'at'> {
  const message = isKenosisError(error)
    ? error.message
    : `"${name}" failed: ${wordsOf(error)}. Nothing of it was delivered.`;
  return { key, name, state: 'failed', message, sure: null, findings: {}, files: [], ms: null, stays: false };
}
