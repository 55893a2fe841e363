import { availableParallelism } from 'node:os';
import { badArgument } from '../core/errors';
import { nameProgram } from '../engine/node/bundles';
import { poolEngine } from '../engine/node/jobs/pool-engine';
import { queuePlace, withoutPassword } from '../engine/node/jobs/queue-connection';
import { startQueueWorker } from '../engine/node/jobs/queue-worker';
import type { RunArguments } from './run-args';
import { untilEnded } from './until-ended';

/** Runs `kenosis worker` until a signal ends it. Returns the exit code. */
export async function workerCommand({ jobs }: Extract<RunArguments, { command: 'worker' }>): Promise<number> {
  const place = queuePlace(process.env);
  if (!place) throw badArgument('KENOSIS_QUEUE', 'an address like redis://:password@host:6379', 'nothing');
  const program = await nameProgram();
  const say = (row: object, words: string) => console.log(process.stdout.isTTY ? words : JSON.stringify(row));
  const worker = await startQueueWorker(place, program, poolEngine(jobs ?? availableParallelism()), {
    done: (name, ms) => say({ name, ms }, `${name}: ${ms} ms`),
    refused: (name, message) => say({ name, refused: message }, `${name}: ${message}`),
    trouble: (message) => console.error(`kenosis: ${message}`),
  });
  console.error(`kenosis: working for ${withoutPassword(place.url)}, program ${program}. Ctrl+C ends it.`);
  await untilEnded();
  await worker.close();
  return 0;
}
