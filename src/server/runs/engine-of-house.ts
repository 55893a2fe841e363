import { availableParallelism } from 'node:os';
import type { JobEngine } from '../../engine/node/jobs/job-engine';
import { poolEngine } from '../../engine/node/jobs/pool-engine';
import { queuePlace } from '../../engine/node/jobs/queue-connection';

/**
 * The engine that the environment names: the workers of a queue, or threads of this process, as many as the machine has
 * processors. `sender` is a name of whoever gives jobs, the same after a restart. Throws `bad-argument`.
 */
export async function openEngine(
  environment: NodeJS.ProcessEnv,
  program: string,
  sender: string,
  jobs: number | null = null,
): Promise<JobEngine> {
  const place = queuePlace(environment);
  if (!place) return poolEngine(jobs ?? availableParallelism());
  // What nobody uses is not loaded.
  const { queueEngine } = await import('../../engine/node/jobs/queue-engine');
  return queueEngine(place, program, sender);
}
