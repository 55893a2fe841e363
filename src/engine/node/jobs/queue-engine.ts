import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import path from 'node:path';
import { Queue, QueueEvents, type Job } from 'bullmq';
import { KenosisError } from '../../../core/errors';
import type { MadeFile, RoutineInput, RoutineResult } from '../routine-task';
import type { JobEngine, RoutineJob } from './job-engine';
import {
  assertAnswers,
  connectionOf,
  readyShared,
  withoutPassword,
  type QueuePlace,
} from './queue-connection';
import { queueName, RETRIES, type QueuedAnswer, type QueuedJob } from './queue-format';
import { putCopy, removeEmpty, takeCopy, removeResults, sharedArea } from './shared-folder';

/** Jobs of one sender that stand in the queue at a time: enough for dozens of machines, and as much as it ever holds. */
const MOST_WAITING = 256;

/**
 * The engine of several machines: jobs stand in a queue (BullMQ on Redis), from which workers of the same program take them;
 * pictures and results lie on a folder that all see. A job that was given before under the same id is not given again: its result
 * is waited for. `sender` is a name of whoever gives them, the same after a restart.
 */
export async function queueEngine(place: QueuePlace, program: string, sender: string): Promise<JobEngine> {
  await readyShared(place.shared);
  await assertAnswers(place.url);
  const area = sharedArea(place.shared, sender);
  const name = queueName(program);
  const connection = { ...connectionOf(place.url), maxRetriesPerRequest: null };
  const queue = new Queue<QueuedJob, QueuedAnswer>(name, { connection });
  const events = new QueueEvents(name, { connection });
  // Where nobody answers it tries again; what waits goes on waiting.
  let toldAt = 0;
  queue.on('error', ({ message }: Error) => {
    if (Date.now() - toldAt < TELL_MS) return;
    toldAt = Date.now();
    console.error(
      `kenosis: the queue at ${withoutPassword(place.url)} went away (${message}); waiting for it.`,
    );
  });
  events.on('error', () => undefined);
  queue.setMaxListeners(0);
  events.setMaxListeners(0);
  /** How many jobs that are under way read a file of the shared folder. */
  const readers = new Map<string, number>();

  const filesOf = ({ bytesKey, materials }: RoutineInput) => [
    area.picture(bytesKey),
    ...Object.keys(materials).map((sha256) => area.material(sha256)),
  ];

  async function letGo(file: string): Promise<void> {
    const left = (readers.get(file) ?? 1) - 1;
    if (left > 0) return void readers.set(file, left);
    readers.delete(file);
    await rm(file, { force: true });
  }

  async function given({ id, input, pixels }: RoutineJob): Promise<Job<QueuedJob, QueuedAnswer>> {
    const { path: from, into, materials, ...rest } = input;
    await putCopy(from, area.picture(input.bytesKey)).catch((error: unknown) => notThere(error, input.name));
    const names: Record<string, string> = {};
    for (const [sha256, { path: place, name: called }] of Object.entries(materials)) {
      names[sha256] = called;
      // What is not there is told by whoever needs it.
      await putCopy(place, area.material(sha256)).catch(orMissing);
    }
    // What was decided lies in this house only: a worker decides anew.
    const piece = rest.piece && { ...rest.piece, decisionsPath: null };
    const own = { ...rest, piece };
    const data: QueuedJob = { sender, picture: input.bytesKey, pixels, input: own, materials: names };
    return queue.add('routine', data, {
      jobId: id,
      ...RETRIES,
      removeOnComplete: false,
      removeOnFail: false,
    });
  }

  async function forget(id: string): Promise<void> {
    await queue.remove(id);
    await removeResults(area.results(id));
  }

  async function answered(job: RoutineJob, signal: AbortSignal | undefined): Promise<RoutineResult> {
    const waiting = await given(job);
    const finished = waiting.waitUntilFinished(events).catch(async (cause: unknown) => {
      // It is given anew when it is tried again.
      await forget(job.id).catch(() => undefined);
      throw new KenosisError(
        'no-queue',
        `No worker could finish "${job.input.name}" (${(cause as Error).message}). Nothing of it was delivered. Try it again.`,
        { cause },
      );
    });
    const answer = await untilAborted(finished, signal, () => waiting.remove());
    if ('refused' in answer) {
      await forget(job.id);
      const { code, message, wayOut } = answer.refused;
      throw new KenosisError(code, message, { wayOut });
    }
    return collected(answer.result, path.join(area.results(job.id), answer.folder), job.input);
  }

  async function carryOut(job: RoutineJob, signal?: AbortSignal): Promise<RoutineResult> {
    const read = filesOf(job.input);
    for (const file of read) readers.set(file, (readers.get(file) ?? 0) + 1);
    try {
      return await answered(job, signal).catch(async (error: unknown) => {
        // The results of an answer of before went: it is done again, once.
        if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
        await forget(job.id);
        return answered(job, signal);
      });
    } finally {
      for (const file of read) await letGo(file);
    }
  }

  return {
    slots: MOST_WAITING,
    words: `the workers at ${withoutPassword(place.url)}`,
    carryOut,
    forget,
    async close() {
      await within(Promise.allSettled([events.close(), queue.close()]));
      await within(Promise.allSettled([events.disconnect(), queue.disconnect()]));
      await removeEmpty(path.join(place.shared, sender));
    },
  };
}

/** That a queue went away is told no more often than this. */
const TELL_MS = 30_000;

/** What a queue that went away is asked for in the end is waited for no longer than this. */
const LAST_MS = 2000;

async function within(work: Promise<unknown>): Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<void>((resolve) => (timer = setTimeout(resolve, LAST_MS)));
  await Promise.race([work, late]);
  clearTimeout(timer);
}

/** Takes what a worker made to where the job wants it; it stays there until the job is let go of, so that it can be taken again. */
async function collected(
  result: RoutineResult,
  from: string,
  { into }: RoutineInput,
): Promise<RoutineResult> {
  const take = async (made: string) => {
    const name = `${into.before}${randomUUID()}${into.after}`;
    await takeCopy(path.join(from, made), path.join(into.folder, name));
    return name;
  };
  const files: MadeFile[] = [];
  for (const file of result.files) files.push({ ...file, made: await take(file.made) });
  const taken = async (made: string | null) => (made === null ? null : take(made));
  const [thumbnail, decisions] = [await taken(result.thumbnail), await taken(result.decisions)];
  return { ...result, files, thumbnail, decisions };
}

/** Waits for an answer, or for the signal; then the job is taken out of the queue, unless a worker has it. */
async function untilAborted<T>(
  answer: Promise<T>,
  signal: AbortSignal | undefined,
  takeOut: () => Promise<unknown>,
): Promise<T> {
  answer.catch(() => undefined);
  if (!signal) return answer;
  const aborted = new Promise<never>((_resolve, reject) => {
    const end = () => reject(new KenosisError('aborted', 'It was cancelled. Nothing was changed.'));
    if (signal.aborted) end();
    signal.addEventListener('abort', end, { once: true });
  });
  try {
    return await Promise.race([answer, aborted]);
  } catch (error) {
    if (signal.aborted) await within(takeOut().catch(() => undefined));
    throw error;
  }
}

function orMissing(error: unknown): void {
  if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error as Error;
}

function notThere(cause: unknown, name: string): never {
  if ((cause as NodeJS.ErrnoException).code !== 'ENOENT') throw cause as Error;
  throw new KenosisError('not-found', `"${name}" is not there any more. Nothing of it was delivered.`, {
    cause,
  });
}
