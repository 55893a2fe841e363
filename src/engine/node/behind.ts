import { setPriority } from 'node:os';
import { workerData } from 'node:worker_threads';

/** What a thread is given that lets others go first: long work for which nobody sits and waits. */
export const BEHIND = { behind: true } as const;

/** A lower priority than usual, of 0 to 19. */
const NICENESS = 10;

/** Whether this thread lets others go first. A thread library wraps what a thread is given. */
export function isBehind(): boolean {
  const given: unknown = workerData;
  const parts: unknown[] = Array.isArray(given) ? given : [given];
  return parts.some((part) => typeof part === 'object' && part !== null && 'behind' in part);
}

/** Lowers the priority of this thread where it is to let others go first; systems that know none for threads refuse. */
export function stepBehind(): void {
  if (!isBehind()) return;
  try {
    setPriority(0, NICENESS);
  } catch {
    // It works as it is.
  }
}
