import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { Crew } from '../threads/crew';

/** More threads than these gain little: the parts that one does alone take the time then. */
const MOST_HELPERS = 7;

/** As many helping threads as the machine has other processors, a few at most. */
export function usualHelpers(): number {
  return Math.min(MOST_HELPERS, availableParallelism() - 1);
}

/** Threads that help, until they are closed. They do not keep the process running. */
export interface HelperThreads {
  readonly crew: Crew;
  close(): Promise<void>;
}

/**
 * Starts threads that help the calling one; null where none are wanted or their bundle is not there: `helper-worker.mjs` in
 * the folder `dist` below `folder`.
 */
export function startHelpers(count: number, folder = process.cwd()): HelperThreads | null {
  const file = path.join(folder, 'dist', 'helper-worker.mjs');
  if (count < 1 || !existsSync(file)) return null;
  const workers = Array.from({ length: count }, () => {
    const worker = new Worker(file);
    worker.unref();
    // Whoever waits for it notices that it does nothing, and does the work alone.
    worker.on('error', () => undefined);
    return worker;
  });
  return {
    crew: new Crew(workers.map((worker) => ({ post: (task) => worker.postMessage(task) }))),
    async close() {
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}
