import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { bundlePath } from './bundles';
import { Crew, MOST_HELPERS } from '../threads/crew';

/** As many helping threads for each of some that work as the machine has other processors, a few at most. */
export function usualHelpers(working = 1): number {
  return Math.min(MOST_HELPERS, Math.floor((availableParallelism() - working) / working));
}

/** Threads that help, until they are closed. They do not keep the process running. */
export interface HelperThreads {
  readonly crew: Crew;
  close(): Promise<void>;
}

/**
 * Starts threads that help the calling one; null where none are wanted or their bundle is not there: `helper-worker.mjs`
 * beside the bundle that runs, or in `dist` below the folder that the process runs in.
 */
export function startHelpers(
  count: number,
  options: { readonly doAll?: boolean } = {},
): HelperThreads | null {
  const file = bundlePath('helper-worker.mjs');
  if (count < 1 || !file) return null;
  const workers = Array.from({ length: count }, () => {
    const worker = new Worker(file);
    worker.unref();
    // Whoever waits for it notices that it does nothing, and does the work alone.
    worker.on('error', () => undefined);
    return worker;
  });
  return {
    crew: new Crew(
      workers.map((worker) => ({ post: (task) => worker.postMessage(task) })),
      options,
    ),
    async close() {
      await Promise.all(workers.map((worker) => worker.terminate()));
    },
  };
}
