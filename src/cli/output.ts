import { randomUUID } from 'node:crypto';
import { readdirSync, rmSync } from 'node:fs';
import { chmod, open, readdir, readFile, realpath, rename, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { isKenosisError, isOutOfSpace, KenosisError } from '../core/errors';

/** The name that stands for standard input and output. */
export const STANDARD = '-';

const ENDING_SIGNALS = { SIGINT: 130, SIGTERM: 143, SIGHUP: 129 } as const;

/** Temporary files of this process that are being written. */
const halfWritten = new Set<string>();

/** `.kenosis-PID-UUID.part`, beside the file it becomes. */
const TEMPORARY = /^\.kenosis-(\d+)-[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}\.part$/;

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
  const folder = path.dirname(path.resolve(file));
  const entries = await readdir(folder, { withFileTypes: true }).catch((cause: unknown) => {
    // Whether it can be written to is seen when it is.
    if ((cause as NodeJS.ErrnoException).code === 'EACCES') return [];
    throw new KenosisError('cannot-write', `"${file}" cannot be written: ${wordsOf(cause)}.`, { cause });
  });
  for (const entry of entries) {
    const pid = TEMPORARY.exec(entry.name)?.[1];
    if (pid && entry.isFile() && !isRunning(Number(pid)))
      await rm(path.join(folder, entry.name), { force: true });
  }
}

/** What the system says, in words. */
export function wordsOf(error: unknown): string {
  if (isOutOfSpace(error)) return 'the disk is full';
  const { code } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'ENOENT':
      return 'there is no such file or folder';
    case 'EACCES':
    case 'EPERM':
      return 'you may not do that there';
    case 'EROFS':
      return 'the disk cannot be written to';
    case 'ENAMETOOLONG':
      return 'the name is too long';
    case 'ENOTDIR':
      return 'a part of the path is no folder';
    case 'EISDIR':
      return 'it is a folder';
    case 'ELOOP':
      return 'its links lead around in a circle';
    case 'EPIPE':
      return 'whoever read it went away';
    default:
      return code ? `the system said ${code}` : 'something went wrong while writing';
  }
}

async function withTemporary<T>(folder: string, work: (temporary: string) => Promise<T>): Promise<T> {
  const temporary = path.join(folder, `.kenosis-${process.pid}-${randomUUID()}.part`);
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
      if (entry.isFile() && TEMPORARY.exec(entry.name)?.[1] === String(process.pid))
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

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
