import type { Helpers } from '../../core/helpers';
import { Crew, FEWEST_HELPED_PIXELS, MOST_HELPERS } from '../threads/crew';

/**
 * Workers that help the calling one with a picture: as many as the machine has other processors, a few at most. Null where
 * memory cannot be shared, or the picture is small.
 */
export function startHelperWorkers({
  width,
  height,
}: {
  readonly width: number;
  readonly height: number;
}): Helpers | null {
  const count = Math.min(MOST_HELPERS, navigator.hardwareConcurrency - 1);
  if (!crossOriginIsolated || count < 1 || width * height < FEWEST_HELPED_PIXELS) return null;
  const workers = Array.from(
    { length: count },
    () => new Worker(new URL('./helper.worker.ts', import.meta.url), { type: 'module' }),
  );
  return new Crew(workers.map((worker) => ({ post: (task) => worker.postMessage(task) })));
}
