import { randomUUID } from 'node:crypto';
import { open, readFile, type FileHandle } from 'node:fs/promises';
import path from 'node:path';
import PQueue from 'p-queue';
import { z } from 'zod';
import { KenosisError } from '../../core/errors';
import { wordsOf } from '../../core/system-words';
import { lockFolder, type FolderLock } from '../../storage/folder-lock';

/** What a folder run writes into the folder that it delivers to, beside the files. */
export const LEDGER_FILE = '.kenosis-run.jsonl';
export const LEDGER_LOCK = '.kenosis-run.lock';

const sha256Schema = z.string().regex(/^[0-9a-f]{64}$/);

/** A run that was begun: what it is known again by. */
const begunSchema = z.strictObject({
  kind: z.literal('begun'),
  id: z.uuid(),
  routine: z.string(),
  /** SHA-256 of the routine as JSON. */
  routineKey: sha256Schema,
  /** How many files it was given; null where they come by and by. */
  files: z.int().nullable(),
  at: z.iso.datetime(),
});

/** Files of a picture that are made and are being given their names. */
const placingSchema = z.strictObject({
  kind: z.literal('placing'),
  /** SHA-256 of the picture's bytes and its name. */
  key: z.string(),
  files: z.array(z.strictObject({ made: z.string(), name: z.string(), sha256: sha256Schema })),
});

/** What became of a picture. */
const settledSchema = z.strictObject({
  kind: z.literal('settled'),
  key: z.string(),
  name: z.string(),
  state: z.enum(['delivered', 'held', 'skipped', 'failed']),
  message: z.string(),
  sure: z.boolean().nullable(),
  findings: z.record(z.string(), z.int()),
  files: z.array(
    z.strictObject({
      name: z.string(),
      format: z.string(),
      bytes: z.int(),
      width: z.int(),
      height: z.int(),
      sha256: sha256Schema,
    }),
  ),
  ms: z.int().nullable(),
  /** It was delivered, but its original could not be moved out of the way: it is not to be taken again. */
  stays: z.boolean().default(false),
  at: z.iso.datetime(),
});

const endedSchema = z.strictObject({ kind: z.literal('ended'), id: z.uuid() });

const lineSchema = z.discriminatedUnion('kind', [begunSchema, placingSchema, settledSchema, endedSchema]);

type Line = z.infer<typeof lineSchema>;
export type Placing = z.infer<typeof placingSchema>;
export type Settled = z.infer<typeof settledSchema>;
type Begun = z.infer<typeof begunSchema>;

/**
 * What was done in a folder, line by line, each on the disk before anything that follows from it: so that nothing is done twice
 * however the process ends. One process writes it at a time.
 */
export interface Ledger {
  /** The run that was not ended; null where there is none. */
  readonly begun: Begun | null;
  /** What became of pictures of that run, by their keys. */
  readonly settled: ReadonlyMap<string, Settled>;
  /** Pictures whose files were being given their names when the process ended. */
  readonly placing: ReadonlyMap<string, Placing>;
  /** The newest delivery of a picture by a routine in any run of this folder, by `routineKey` and the picture's key. */
  deliveredBy(routineKey: string, key: string): Settled | null;
  /** Everything that became of pictures in this folder, the newest last, as much as is kept. */
  readonly history: readonly Settled[];
  begin(run: Pick<Begun, 'routine' | 'routineKey' | 'files'>): Promise<string>;
  place(placing: Omit<Placing, 'kind'>): Promise<void>;
  settle(settled: Omit<Settled, 'kind' | 'at'>): Promise<Settled>;
  end(): Promise<void>;
  close(): Promise<void>;
}

/** Settled pictures that are shown again after a restart. */
const MOST_HISTORY = 500;

/**
 * Opens the ledger of a folder, or begins one. Throws `folder-in-use` where another run writes there, and `cannot-write` where
 * nobody may. A last line that was cut short by a kill is as if it had not been written.
 */
export async function openLedger(folder: string): Promise<Ledger> {
  const lock = await locked(folder);
  let file: FileHandle;
  let lines: Line[];
  try {
    const place = path.join(folder, LEDGER_FILE);
    lines = linesOf(await readFile(place, 'utf8').catch(orNothing));
    file = await open(place, 'a', 0o600);
  } catch (cause) {
    await lock.release();
    throw notWritable(folder, cause);
  }
  let begun: Begun | null = null;
  const settled = new Map<string, Settled>();
  const placing = new Map<string, Placing>();
  const history: Settled[] = [];
  const delivered = new Map<string, Settled>();
  const take = (line: Line) => {
    if (line.kind === 'begun' || line.kind === 'ended') {
      begun = line.kind === 'begun' ? line : null;
      settled.clear();
      placing.clear();
    } else if (line.kind === 'placing') placing.set(line.key, line);
    else {
      placing.delete(line.key);
      settled.set(line.key, line);
      if (begun && line.state === 'delivered') delivered.set(`${begun.routineKey} ${line.key}`, line);
      history.push(line);
      if (history.length > MOST_HISTORY) history.shift();
    }
  };
  for (const line of lines) take(line);
  // A line that a kill cut short must not run into the next one.
  let start = lines.length > 0 ? '\n' : '';
  const queue = new PQueue({ concurrency: 1 });
  const write = (line: Line) =>
    queue.add(async () => {
      try {
        await file.appendFile(`${start}${JSON.stringify(line)}\n`);
        await file.sync();
      } catch (cause) {
        throw notWritable(folder, cause);
      }
      start = '';
      take(line);
    });
  return {
    get begun() {
      return begun;
    },
    settled,
    placing,
    history,
    deliveredBy: (routineKey, key) => delivered.get(`${routineKey} ${key}`) ?? null,
    async begin(run) {
      const id = randomUUID();
      await write({ kind: 'begun', id, ...run, at: new Date().toISOString() });
      return id;
    },
    place: (one) => write({ kind: 'placing', ...one }),
    async settle(one) {
      const line: Settled = { kind: 'settled', ...one, at: new Date().toISOString() };
      await write(line);
      return line;
    },
    async end() {
      if (begun) await write({ kind: 'ended', id: begun.id });
    },
    async close() {
      await queue.onIdle();
      await file.close();
      await lock.release();
    },
  };
}

async function locked(folder: string): Promise<FolderLock> {
  let lock: FolderLock | null;
  try {
    lock = await lockFolder(folder, LEDGER_LOCK);
  } catch (cause) {
    throw notWritable(folder, cause);
  }
  if (lock) return lock;
  throw new KenosisError(
    'folder-in-use',
    `Another run is delivering into ${folder}. Nothing was done. Wait until it is over, or name another folder.`,
  );
}

function notWritable(folder: string, cause: unknown): KenosisError {
  const words = /SQLITE_CANTOPEN|SQLITE_READONLY/.test((cause as Error).message)
    ? 'you may not write there'
    : wordsOf(cause);
  return new KenosisError('cannot-write', `Nothing can be written into ${folder}: ${words}.`, { cause });
}

function orNothing(error: unknown): string {
  if ((error as NodeJS.ErrnoException).code === 'ENOENT') return '';
  throw error as Error;
}

/** The lines that are whole; whatever else stands there is passed over. */
function linesOf(text: string): Line[] {
  return text.split('\n').flatMap((line) => {
    if (line === '') return [];
    try {
      const read = lineSchema.safeParse(JSON.parse(line));
      return read.success ? [read.data] : [];
    } catch {
      return [];
    }
  });
}
