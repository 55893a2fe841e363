import { createCorePool } from '../pool';
import type { JobEngine } from './job-engine';

/** The engine that is there without anything beside: threads of this process. */
export function poolEngine(threads: number): JobEngine {
  const pool = createCorePool(threads, { behind: true });
  return {
    slots: threads,
    words:
      threads === 1 ? 'this machine, 1 picture at a time' : `this machine, ${threads} pictures at a time`,
    carryOut: ({ input, pixels }, signal) => pool.run('routine', input, { signal, pixels }),
    forget: () => Promise.resolve(),
    close: () => pool.close(),
  };
}
