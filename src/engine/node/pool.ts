import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { Piscina } from 'piscina';
import { KenosisError, type ErrorCode } from '../../core/errors';
import type { check, deliver, look, Task, thumbnail } from './tasks';

interface Results {
  check: Awaited<ReturnType<typeof check>>;
  deliver: Awaited<ReturnType<typeof deliver>>;
  thumbnail: Awaited<ReturnType<typeof thumbnail>>;
  look: Awaited<ReturnType<typeof look>>;
}

type Answer<K extends Task['kind']> =
  | { readonly result: Results[K] }
  | { readonly refused: { readonly code: ErrorCode; readonly message: string } };

/** Worker threads that run the core for the server. */
export interface CorePool {
  run<K extends Task['kind']>(
    kind: K,
    input: Extract<Task, { kind: K }>['input'],
    signal?: AbortSignal,
  ): Promise<Results[K]>;
  close(): Promise<void>;
}

/** Starts the pool. The workers' bundle is `dist/core-worker.mjs` below the folder the process runs in. */
export function createCorePool(threads: number): CorePool {
  const piscina = new Piscina({
    filename: pathToFileURL(path.join(process.cwd(), 'dist', 'core-worker.mjs')).href,
    minThreads: 0,
    maxThreads: threads,
    idleTimeout: 20_000,
    concurrentTasksPerWorker: 1,
  });
  return {
    async run(kind, input, signal) {
      const answer = (await piscina.run({ kind, input }, signal ? { signal } : {})) as Answer<typeof kind>;
      if ('refused' in answer) throw new KenosisError(answer.refused.code, answer.refused.message);
      return answer.result;
    },
    close: () => piscina.destroy(),
  };
}
