import { Helper } from '../threads/helper';
import type { SentTask } from '../threads/shared';

/** A worker that helps the bench's one. */
const helper = new Helper();
addEventListener('message', ({ data }: MessageEvent<SentTask>) => helper.help(data));
