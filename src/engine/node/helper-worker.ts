import { parentPort } from 'node:worker_threads';
import { Helper } from '../threads/helper';
import type { SentTask } from '../threads/shared';

/** The entry of a thread that helps another one. */
const helper = new Helper();
parentPort!.on('message', (task: SentTask) => helper.help(task));
