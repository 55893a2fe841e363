import path from 'node:path';
import { pathToFileURL } from 'node:url';
import PQueue from 'p-queue';
import { Piscina } from 'piscina';
import { BEHIND } from './behind';
import { bundlePath } from './bundles';
import { KenosisError, type ErrorCode, type WayOut } from '../../core/errors';
import type { InputOf, ResultOf, Task, TaskKind } from './tasks';

type Answer<K extends TaskKind> =
  | { readonly result: ResultOf<K> }
  | {
      readonly refused: {
        readonly code: ErrorCode;
        readonly message: string;
        readonly wayOut: WayOut | null;
      };
    };

/** What ends a task before its time: whoever asked for it went away, or it took longer than such a picture may. */
export interface TaskBounds {
  readonly signal?: AbortSignal | undefined;
  readonly pixels: number;
  /** How long it may run; where absent what its pixels may take. */
  readonly limitMs?: number;
}

/** Worker threads that run the core for the server. */
export interface CorePool {
  /** Throws what the task throws, `aborted` where its signal ended it, and `too-slow` past `timeLimitMs`. */
  run<K extends TaskKind>(kind: K, input: InputOf<K>, bounds: TaskBounds): Promise<ResultOf<K>>;
  /** Starts all threads, which begin with their first tasks otherwise. */
  begin(): void;
  close(): Promise<void>;
}

const LEAST_LIMIT_MS = 120_000;
const LIMIT_MS_PER_MEGAPIXEL = 12_000;

/** How long a task on so many pixels may run: several times what the slowest honest picture was measured to take. */
export function timeLimitMs(pixels: number): number {
  return LEAST_LIMIT_MS + (pixels / 1e6) * LIMIT_MS_PER_MEGAPIXEL;
}

/** What somebody waits for goes first; checks, for which nobody does, last. */
const PRIORITIES: Readonly<Record<TaskKind, number>> = {
  deliver: 4,
  look: 3,
  anew: 3,
  inspect: 3,
  leaf: 3,
  master: 4,
  ready: 2,
  proof: 4,
  ground: 3,
  'ground-picture': 3,
  placed: 3,
  seen: 2,
  shape: 4,
  font: 3,
  small: 1,
  routine: 1,
  thumbnail: 1,
  check: 0,
};

/** A thread, and the picture it has open. */
interface Lane {
  readonly start: () => Piscina;
  path: string | null;
  /** Ends with what it does now; null where it is free. */
  working: Promise<unknown> | null;
}

/**
 * Starts the pool: threads that each have their own queue of one, so that a task goes where its picture is open. What they
 * run is `core-thread.cjs` and `core-worker.mjs`, where `bundlePath` finds them. Those of a pool that works
 * `behind` let whatever else runs on the machine go first, and have no threads that help them.
 */
export function createCorePool(threads: number, { behind = false } = {}): CorePool {
  const queue = new PQueue({ concurrency: threads });
  const started: Piscina[] = [];
  const lanes = Array.from({ length: threads }, (_, k): Lane => ({
    start: () => (started[k] ??= oneThread(behind)),
    path: null,
    working: null,
  }));

  /** A free thread, the one that has the picture open where there is one. There are as many as tasks at a time. */
  function freeLane(path: string): Lane {
    const free = lanes.filter(({ working }) => working === null);
    const lane = free.find((one) => one.path === path) ?? free.find((one) => one.path === null) ?? free[0]!;
    lane.path = path;
    return lane;
  }

  async function perform<K extends TaskKind>(
    kind: K,
    input: InputOf<K>,
    bounds: TaskBounds,
  ): Promise<ResultOf<K>> {
    const path = pathOf(input);
    // What is being made ready for a delivery is waited for.
    if (kind === 'deliver') await lanes.find((one) => one.path === path && one.working !== null)?.working;
    const lane = freeLane(path);
    const result = within(lane.start(), { kind, input }, bounds);
    lane.working = result.then(
      () => (lane.working = null),
      () => (lane.working = null),
    );
    return result as Promise<ResultOf<K>>;
  }

  return {
    run<K extends TaskKind>(kind: K, input: InputOf<K>, bounds: TaskBounds): Promise<ResultOf<K>> {
      return queue.add(() => perform(kind, input, bounds), { priority: PRIORITIES[kind] });
    },
    begin() {
      for (const { start } of lanes) start();
    },
    async close() {
      await Promise.all(started.map((piscina) => piscina.destroy()));
    },
  };
}

function oneThread(behind: boolean): Piscina {
  return new Piscina({
    filename: pathToFileURL(bundlePath('core-thread.cjs') ?? path.resolve('dist', 'core-thread.cjs')).href,
    // An aborted task ends its thread; with none left, and none that must be there, what waits would wait for good.
    minThreads: 1,
    maxThreads: 1,
    concurrentTasksPerWorker: 1,
    ...(behind ? { workerData: BEHIND } : {}),
  });
}

/** Runs a task within its bounds. */
async function within(
  piscina: Piscina,
  task: { readonly kind: TaskKind; readonly input: Task['input'] },
  { signal, pixels, limitMs }: TaskBounds,
): Promise<ResultOf<TaskKind>> {
  const clock = new AbortController();
  const begun = Date.now();
  const timer = setTimeout(() => clock.abort(), limitMs ?? timeLimitMs(pixels));
  try {
    const signals = signal ? [signal, clock.signal] : [clock.signal];
    const answer = (await piscina.run(task, { signal: AbortSignal.any(signals) })) as Answer<TaskKind>;
    if (!('refused' in answer)) return answer.result;
    const { code, message, wayOut } = answer.refused;
    throw new KenosisError(code, message, { wayOut });
  } catch (error) {
    if (signal?.aborted)
      throw new KenosisError('aborted', 'It was cancelled. Nothing was changed.', { cause: error });
    if (!clock.signal.aborted) throw error;
    throw new KenosisError(
      'too-slow',
      `It was not done after ${Math.round((Date.now() - begun) / 1000)} s and was ended. Nothing was changed. Try it with a smaller picture or fewer strokes.`,
      { cause: error },
    );
  } finally {
    clearTimeout(timer);
  }
}

/** The file that a task opens; none where it opens no picture. */
function pathOf(input: Task['input']): string {
  if ('originalPath' in input) return input.originalPath;
  return 'path' in input ? input.path : '';
}
