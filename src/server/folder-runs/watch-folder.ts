import { lstat, mkdir, realpath, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { watch as watchFiles } from 'chokidar';
import PQueue from 'p-queue';
import { badArgument, isKenosisError, KenosisError } from '../../core/errors';
import { wordsOf } from '../../core/system-words';
import type { Routine } from '../../core/routine/settings';
import type { JobEngine } from '../../engine/node/jobs/job-engine';
import type { MaterialFiles } from '../../engine/node/shape-texts';
import { isRealFolder } from '../../storage/own-files';
import { bytesOf, folderRun, keyOf, routineKey, type AfterPlacing } from './folder-run';
import { openLedger, type Settled } from './ledger';
import { sweepParts } from './parts';
import { moveInto } from './place-files';

/** Folders within a watched one, into which files go when something became of them. */
const AFTERWARDS = { delivered: 'done', held: 'held', skipped: 'skipped', failed: 'failed' } as const;

/** How long a file must have had the same size before it is taken, and how often that is looked at. */
const STILL_MS = 2000;
const LOOK_MS = 250;

/** How long a file waits of which nothing could be written down. */
const AGAIN_MS = 15_000;

export interface WatchedFolder {
  readonly folder: string;
  readonly out: string;
  readonly routine: Routine;
  /** Where the fonts and cutouts lie that its watermark names. Throws `missing-material`. */
  readonly materials: () => Promise<MaterialFiles>;
  readonly date: () => string;
  readonly engine: JobEngine;
  /** Whether a file is worked on, and what became of it where something did. */
  readonly tell: (change: {
    readonly name: string;
    readonly isWorking: boolean;
    readonly settled: Settled | null;
  }) => void;
}

export interface Watching {
  readonly history: readonly Settled[];
  close(): Promise<void>;
}

/**
 * Watches a folder: files are taken when they have stopped growing, delivered into `out`, and moved to `done`, `held`, `skipped` or
 * `failed` within the folder, all but the first with a text beside them that says why. Links, and whatever is no regular file right
 * in the folder, are not touched. Throws `bad-argument` where the folders cannot be watched, and `folder-in-use`.
 */
export async function watchFolder(watched: WatchedFolder): Promise<Watching> {
  const { routine, materials, date, engine, tell } = watched;
  const { folder, out } = await assertWatchable(watched);
  const ledger = await openLedger(out);
  try {
    await sweepParts(out);
    for (const name of Object.values(AFTERWARDS)) await readyFolder(path.join(folder, name));
    if (!ledger.begun)
      await ledger.begin({ routine: routine.name, routineKey: routineKey(routine), files: null });
  } catch (error) {
    await ledger.close();
    throw error;
  }
  const run = folderRun({ out, routine, materials, date, engine, ledger });
  const queue = new PQueue({ concurrency: engine.slots });
  const closing = new AbortController();
  const known = new Set<string>();

  async function take(file: string): Promise<void> {
    const name = path.basename(file);
    const before = await bytesOf({ path: file, name }).catch(() => null);
    // It was delivered, but could not be moved out of the way.
    if (before && ledger.settled.get(keyOf(name, before.sha256))?.stays) return;
    tell({ name, isWorking: true, settled: null });
    const settled = await run.perform({ path: file, name }, putAway(folder, file), closing.signal);
    tell({ name, isWorking: false, settled });
  }

  const enqueue = (file: string): void => {
    if (closing.signal.aborted || path.dirname(file) !== folder || known.has(file) || isHidden(file)) return;
    known.add(file);
    void queue
      .add(() => take(file))
      .catch((error: unknown) => {
        if (closing.signal.aborted) return;
        // A full disk may have room again.
        console.error(`"${file}" waits in the watched folder: ${troubleOf(error)}`);
        tell({ name: path.basename(file), isWorking: false, settled: null });
        setTimeout(() => enqueue(file), AGAIN_MS).unref();
      })
      .finally(() => known.delete(file));
  };
  const watcher = watchFiles(folder, {
    depth: 0,
    followSymlinks: false,
    ignored: (file, facts) => isHidden(file) || (file !== folder && Boolean(facts?.isDirectory())),
    awaitWriteFinish: { stabilityThreshold: STILL_MS, pollInterval: LOOK_MS },
  });
  watcher.on('add', enqueue);
  watcher.on('error', (error) => console.error(`Watching ${folder}:`, error));
  await new Promise<void>((resolve) => watcher.once('ready', resolve));
  return {
    history: ledger.history,
    async close() {
      await watcher.close();
      closing.abort();
      queue.clear();
      await queue.onIdle();
      await ledger.close();
    },
  };
}

/** The folders as they really are. */
export async function assertWatchable({
  folder,
  out,
}: Pick<WatchedFolder, 'folder' | 'out'>): Promise<{ readonly folder: string; readonly out: string }> {
  const real = { folder: await realFolder('folder', folder), out: await realFolder('out', out) };
  const isInside = (inner: string, outer: string) =>
    inner === outer || inner.startsWith(`${outer}${path.sep}`);
  if (isInside(real.out, real.folder) || isInside(real.folder, real.out))
    throw badArgument('out', 'a folder beside the watched one, neither in it nor around it', out);
  return real;
}

async function realFolder(field: string, folder: string): Promise<string> {
  if (!path.isAbsolute(folder)) throw badArgument(field, 'a full path like /pictures/in', folder);
  const facts = await lstat(folder).catch((cause: unknown) => {
    throw new KenosisError('bad-argument', `${field}: ${folder} cannot be used: ${wordsOf(cause)}.`, {
      cause,
    });
  });
  if (facts.isSymbolicLink()) throw badArgument(field, 'a folder itself, not a link to one', folder);
  if (!facts.isDirectory()) throw badArgument(field, 'a folder', folder);
  return realpath(folder);
}

async function readyFolder(folder: string): Promise<void> {
  await mkdir(folder).catch((cause: unknown) => {
    if ((cause as NodeJS.ErrnoException).code !== 'EEXIST')
      throw new KenosisError('cannot-write', `${folder} cannot be made: ${wordsOf(cause)}.`, { cause });
  });
  if (!(await isRealFolder(folder)))
    throw new KenosisError(
      'foreign-folder',
      `${folder} is not a folder but a link or a file. Nothing was touched. Put a real folder there, or take it away.`,
    );
}

/** Moves a file where it belongs, with a text beside it where it was not delivered. What is no regular file is left alone. */
function putAway(folder: string, file: string): AfterPlacing {
  return async ({ state, message, name }) => {
    const to = path.join(folder, AFTERWARDS[state]);
    await readyFolder(to);
    const facts = await lstat(file).catch(() => null);
    const moved = facts?.isFile() ? await moveInto(to, file) : null;
    if (state === 'delivered') return;
    const text = moved === null ? path.join(to, `${name}.txt`) : await freeText(to, moved);
    await writeFile(text, `${message}\n`, { flag: 'wx' }).catch((error: unknown) => {
      // What was not moved is met again at each start; one text about it is enough.
      if (moved !== null || (error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    });
  };
}

async function freeText(folder: string, name: string): Promise<string> {
  let place = path.join(folder, `${name}.txt`);
  for (let n = 2; await lstat(place).catch(() => null); n++) place = path.join(folder, `${name}-${n}.txt`);
  return place;
}

function isHidden(file: string): boolean {
  return path.basename(file).startsWith('.');
}

/** Why a folder is not watched, in words. */
export function troubleOf(error: unknown): string {
  return isKenosisError(error) ? error.message : `It cannot be watched: ${wordsOf(error)}.`;
}
