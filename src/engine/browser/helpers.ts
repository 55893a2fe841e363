import type { Helpers } from '../../core/helpers';
import { Crew, FEWEST_HELPED_PIXELS, MOST_HELPERS } from '../threads/crew';
import type { SentTask } from '../threads/shared';

/**
 * Workers that help the calling one with a picture, and leave nothing to it, so that it paints whenever something moves: as many
 * as the machine has processors, a few at most. Null where memory cannot be shared, or the picture is small.
 */
export function startHelperWorkers({
  width,
  height,
}: {
  readonly width: number;
  readonly height: number;
}): Helpers | null {
  const count = Math.min(MOST_HELPERS, navigator.hardwareConcurrency);
  if (!crossOriginIsolated || count < 1 || width * height < FEWEST_HELPED_PIXELS) return null;
  const workers = Array.from(
    { length: count },
    () => new Worker(new URL('./helper.worker.ts', import.meta.url), { type: 'module' }),
  );
  const threads = workers.map((worker) => ({ post: (task: SentTask) => worker.postMessage(task) }));
  return new Crew(threads, { doAll: true });
}
