import { mkdir } from 'node:fs/promises';
import { Redis } from 'ioredis';
import { badArgument, KenosisError } from '../../../core/errors';

/** Where the queue is and where pictures and results lie, as it was said in the environment. */
export interface QueuePlace {
  readonly url: string;
  readonly shared: string;
}

/** What the environment says of a queue; null where it says nothing. Throws `bad-argument` for half of it, or another address. */
export function queuePlace(environment: NodeJS.ProcessEnv): QueuePlace | null {
  const { KENOSIS_QUEUE: url, KENOSIS_SHARED: shared } = environment;
  if (!url) return null;
  if (!/^rediss?:\/\//.test(url) || !URL.canParse(url))
    throw badArgument('KENOSIS_QUEUE', 'an address like redis://:password@host:6379', withoutPassword(url));
  if (!shared)
    throw badArgument('KENOSIS_SHARED', 'the folder that all machines see, beside KENOSIS_QUEUE', 'nothing');
  return { url, shared };
}

/** How a connection is opened: the parts of its address. */
export function connectionOf(url: string) {
  const { hostname, port, username, password, pathname, protocol } = new URL(url);
  return {
    host: hostname.replace(/^\[|\]$/g, ''),
    port: port === '' ? 6379 : Number(port),
    ...(username === '' ? {} : { username: decodeURIComponent(username) }),
    ...(password === '' ? {} : { password: decodeURIComponent(password) }),
    db: Number(pathname.slice(1) || 0),
    ...(protocol === 'rediss:' ? { tls: {} } : {}),
  };
}

/** An address as it may be shown. */
export function withoutPassword(url: string): string {
  return url.replace(/\/\/[^@/]*@/, '//');
}

/** How long a queue may take to answer when it is first asked. */
const ANSWER_MS = 8000;

/** Asks a queue whether it is there and lets us in. Throws `no-queue`. */
export async function assertAnswers(url: string): Promise<void> {
  const connection = new Redis({
    ...connectionOf(url),
    lazyConnect: true,
    maxRetriesPerRequest: 1,
    connectTimeout: ANSWER_MS,
  });
  let why = '';
  connection.on('error', ({ message }: Error) => (why = message));
  const timer = setTimeout(() => connection.disconnect(), ANSWER_MS);
  try {
    await connection.connect();
    await connection.ping();
  } catch (cause) {
    throw new KenosisError(
      'no-queue',
      `The queue at ${withoutPassword(url)} does not let us in (${why || (cause as Error).message}). Nothing was done. See that it runs, and that KENOSIS_QUEUE names its address and password.`,
      { cause },
    );
  } finally {
    clearTimeout(timer);
    connection.disconnect();
  }
}

/** Makes the shared folder ready. Throws `cannot-write` where it is not to be written to. */
export async function readyShared(shared: string): Promise<void> {
  try {
    await mkdir(shared, { recursive: true });
  } catch (cause) {
    throw new KenosisError('cannot-write', `The shared folder ${shared} cannot be written to.`, { cause });
  }
}
