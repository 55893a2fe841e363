import { readdirSync, rmSync } from 'node:fs';
import { chmod, mkdir, open, readFile, realpath, rename, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { badArgument, isKenosisError, KenosisError } from '../core/errors';
import { wordsOf } from '../core/system-words';
import { freshPart, pidOfPart, sweepParts } from '../server/folder-runs/parts';

/** The name that stands for standard input and output. */
export const STANDARD = '-';

const ENDING_SIGNALS = { SIGINT: 130, SIGTERM: 143, SIGHUP: 129 } as const;

/** Temporary files of this process that are being written. */
const halfWritten = new Set<string>();

/**
 * Lets `write` fill a temporary file and puts it in the place of `file`, which keeps its rights where it was there, so that
 * it is whole or as it was. A link leads to the file it names; what is no regular file, like a pipe, is written into, as is
 * standard output for `-`. Throws `cannot-write`. An ending signal removes what is half written.
 */
export async function writeWhole(file: string, write: (temporary: string) => Promise<void>): Promise<void> {
  try {
    if (file === STANDARD) return await passOn(write, (bytes) => toStandardOutput(bytes));
    const there = await stat(file).catch(() => null);
    if (there?.isDirectory())
      throw new KenosisError('cannot-write', `"${file}" is a folder. Nothing was written.`);
    if (there && !there.isFile())
      return await passOn(write, async (bytes) => {
        const pipe = await open(file, 'w');
        try {
          await pipe.writeFile(bytes);
        } finally {
          await pipe.close();
        }
      });
    const target = there ? await realpath(file) : file;
    await withTemporary(path.dirname(target), async (temporary) => {
      await write(temporary);
      if (there) await chmod(temporary, there.mode & 0o7777);
      await rename(temporary, target);
    });
  } catch (error) {
    if (isKenosisError(error)) throw error;
    throw new KenosisError('cannot-write', `"${file}" cannot be written: ${wordsOf(error)}.`, {
      cause: error,
    });
  }
}

/**
 * Looks at the folder of a file that is to be written, before anything is computed, and removes what killed runs left there:
 * only files of our own, whose process is gone. Throws `cannot-write` where there is no such folder.
 */
export async function readyPlace(file: string): Promise<void> {
  if (file === STANDARD) return;
  await sweepParts(path.dirname(path.resolve(file))).catch((cause: unknown) => {
    // Whether it can be written to is seen when it is.
    if ((cause as NodeJS.ErrnoException).code === 'EACCES') return;
    throw new KenosisError('cannot-write', `"${file}" cannot be written: ${wordsOf(cause)}.`, { cause });
  });
}

/**
 * Makes the folder that is written into where it is not there yet: its last part only, so that a mistyped path makes nothing. Throws
 * `bad-argument`.
 */
export async function readyFolder(folder: string): Promise<void> {
  const facts = await stat(folder).catch(() => null);
  if (facts?.isDirectory()) return;
  if (facts) throw badArgument('-o', 'a folder', `${folder}, which is a file`);
  await mkdir(folder).catch((cause: unknown) => {
    throw new KenosisError(
      'bad-argument',
      `-o: ${folder} cannot be made: ${wordsOf(cause)}. Nothing was done.`,
      {
        cause,
      },
    );
  });
}

async function withTemporary<T>(folder: string, work: (temporary: string) => Promise<T>): Promise<T> {
  const temporary = path.join(folder, freshPart());
  const off = onEnd(() => {
    for (const file of halfWritten) rmSync(file, { force: true });
  });
  halfWritten.add(temporary);
  try {
    return await work(temporary);
  } finally {
    await rm(temporary, { force: true });
    halfWritten.delete(temporary);
    off();
  }
}

/** Does something before a signal ends the process. Returns what calls it off. */
function onEnd(clear: () => void | Promise<void>): () => void {
  const enders = Object.entries(ENDING_SIGNALS).map(([signal, code]) => {
    const end = () => void Promise.resolve(clear()).finally(() => process.exit(code));
    process.on(signal, end);
    return () => process.off(signal, end);
  });
  return () => {
    for (const off of enders) off();
  };
}

/** An ending signal ends other threads of this process, which hear of none, and removes what they have half written in a folder. */
export function clearingOnEnd(folder: string, endThreads: () => Promise<void>): () => void {
  return onEnd(async () => {
    await endThreads();
    for (const entry of readdirSync(folder, { withFileTypes: true }))
      if (entry.isFile() && pidOfPart(entry.name) === process.pid)
        rmSync(path.join(folder, entry.name), { force: true });
  });
}

async function passOn(
  write: (temporary: string) => Promise<void>,
  to: (bytes: Buffer) => Promise<void>,
): Promise<void> {
  await withSpool(async (temporary) => {
    await write(temporary);
    await to(await readFile(temporary));
  });
}

function toStandardOutput(bytes: Buffer): Promise<void> {
  return new Promise((resolve, reject) =>
    process.stdout.write(bytes, (error) => (error ? reject(error) : resolve())),
  );
}

/** A temporary file below the system's own folder for such, for as long as `work` runs. */
export function withSpool<T>(work: (file: string) => Promise<T>): Promise<T> {
  return withTemporary(tmpdir(), work);
}
