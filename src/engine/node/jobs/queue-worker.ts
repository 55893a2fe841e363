import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { Worker } from 'bullmq';
import { isKenosisError } from '../../../core/errors';
import type { MaterialFiles } from '../shape-texts';
import type { JobEngine } from './job-engine';
import { assertAnswers, connectionOf, readyShared, type QueuePlace } from './queue-connection';
import { LOOK_MS, queueName, SILENT_MS, type QueuedAnswer, type QueuedJob } from './queue-format';
import { sharedArea } from './shared-folder';

/** What is told of a worker's doings. */
export interface WorkerVoice {
  done(name: string, ms: number): void;
  refused(name: string, message: string): void;
  trouble(message: string): void;
}

/** A worker that takes jobs until it is closed; what it works on then is finished. */
export interface QueueWorker {
  close(): Promise<void>;
}

/**
 * Takes jobs from the queue and carries them out with `engine`. Each try writes into a folder of its own, so that one whose
 * worker was killed harms none after it.
 */
export async function startQueueWorker(
  { url, shared }: QueuePlace,
  program: string,
  engine: JobEngine,
  voice: WorkerVoice,
): Promise<QueueWorker> {
  await readyShared(shared);
  await assertAnswers(url);
  const worker = new Worker<QueuedJob, QueuedAnswer>(
    queueName(program),
    async (job) => {
      const { sender, picture, pixels, input, materials } = job.data;
      const area = sharedArea(shared, sender);
      const folder = randomUUID();
      const place = path.join(area.results(job.id!), folder);
      await mkdir(place, { recursive: true });
      const into = { folder: place, before: '', after: '' };
      const near: Record<string, MaterialFiles[string]> = {};
      for (const [sha256, name] of Object.entries(materials))
        near[sha256] = { path: area.material(sha256), name };
      try {
        const result = await engine.carryOut({
          id: `${job.id!}-${folder}`,
          input: { ...input, path: area.picture(picture), into, materials: near },
          pixels,
        });
        voice.done(input.name, result.ms);
        return { result, folder };
      } catch (error) {
        // A full disk may have room again at the next try, on this machine or on another.
        if (!isKenosisError(error) || error.code === 'no-space') throw error;
        voice.refused(input.name, error.message);
        return { refused: { code: error.code, message: error.message, wayOut: error.wayOut } };
      }
    },
    {
      connection: { ...connectionOf(url), maxRetriesPerRequest: null },
      concurrency: engine.slots,
      lockDuration: SILENT_MS,
      stalledInterval: LOOK_MS,
      // Each kill of a machine counts as one; what ends every worker that takes it is given up.
      maxStalledCount: 5,
    },
  );
  worker.on('error', ({ message }) => voice.trouble(message));
  await worker.waitUntilReady();
  return {
    async close() {
      await worker.close();
      await engine.close();
    },
  };
}
