import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { Piscina } from 'piscina';
import { KenosisError, type ErrorCode, type WayOut } from '../../core/errors';
import type { check, deliver, look, Task, thumbnail } from './tasks';

interface Results {
  check: Awaited<ReturnType<typeof check>>;
  deliver: Awaited<ReturnType<typeof deliver>>;
  thumbnail: Awaited<ReturnType<typeof thumbnail>>;
  look: Awaited<ReturnType<typeof look>>;
}

type Answer<K extends Task['kind']> =
  | { readonly result: Results[K] }
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
}

/** Worker threads that run the core for the server. */
export interface CorePool {
  /** Throws what the task throws, `aborted` where its signal ended it, and `too-slow` past `timeLimitMs`. */
  run<K extends Task['kind']>(
    kind: K,
    input: Extract<Task, { kind: K }>['input'],
    bounds: TaskBounds,
  ): Promise<Results[K]>;
  close(): Promise<void>;
}

const LEAST_LIMIT_MS = 120_000;
const LIMIT_MS_PER_MEGAPIXEL = 12_000;

/** How long a task on so many pixels may run: several times what the slowest honest picture was measured to take. */
export function timeLimitMs(pixels: number): number {
  return LEAST_LIMIT_MS + (pixels / 1e6) * LIMIT_MS_PER_MEGAPIXEL;
}

/** Starts the pool. The workers' bundle is `dist/core-worker.mjs` below the folder the process runs in. */
export function createCorePool(threads: number): CorePool {
  const piscina = new Piscina({
    filename: pathToFileURL(path.join(process.cwd(), 'dist', 'core-worker.mjs')).href,
    // An aborted task ends its thread; with none left, and none that must be there, what waits would wait for good.
    minThreads: 1,
    maxThreads: threads,
    idleTimeout: 20_000,
    concurrentTasksPerWorker: 1,
  });
  return {
    async run(kind, input, { signal, pixels }) {
      const clock = new AbortController();
      const begun = Date.now();
      const limit = timeLimitMs(pixels);
      const timer = setTimeout(() => clock.abort(), limit);
      try {
        const signals = signal ? [signal, clock.signal] : [clock.signal];
        const answer = (await piscina.run({ kind, input }, { signal: AbortSignal.any(signals) })) as Answer<
          typeof kind
        >;
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
    },
    close: () => piscina.destroy(),
  };
}
