import { Op, type Transaction } from 'sequelize';
import type { Cut } from '../core/cut/schema';
import { KenosisError } from '../core/errors';
import { parseRoutineText } from '../core/routine/parse';
import type { Routine } from '../core/routine/settings';
import type { Database } from './database';
import { addDeliveryWithin, type NewDelivery } from './deliveries';
import type { RunItemRow, RunRow } from './models';
import { reviseWithin } from './pieces';
import { readable } from './unreadable';

export const RUN_STATES = ['running', 'paused', 'cancelled', 'done'] as const;

/** `done`: nothing waits; what failed may be tried again, what is held back be looked at. */
export type RunState = (typeof RUN_STATES)[number];

export const ITEM_STATES = [
  'waiting',
  'working',
  'delivered',
  'laid',
  'held',
  'skipped',
  'failed',
  'cancelled',
] as const;

export type ItemState = (typeof ITEM_STATES)[number];

/** Whether files are delivered, or settings are only laid on pieces. */
export type Purpose = 'deliver' | 'lay';

/** A routine on many pieces, and how far it is. */
export interface Run {
  readonly id: number;
  readonly name: string;
  readonly routine: Routine;
  readonly purpose: Purpose;
  readonly state: RunState;
  /** Why it stands still, where that needs words; empty where it does not. */
  readonly message: string;
  readonly date: string;
  readonly createdAt: string;
  readonly endedAt: string | null;
  /** How many of its pictures are in each state; states that none is in are left out. */
  readonly counts: Readonly<Partial<Record<ItemState, number>>>;
  /** How long a picture took on the average, in milliseconds; null before the first. */
  readonly meanMs: number | null;
}

/** One picture of a run. */
export interface RunItem {
  readonly id: number;
  readonly runId: number;
  readonly number: number;
  readonly name: string;
  readonly pieceId: string | null;
  readonly state: ItemState;
  readonly tries: number;
  readonly accepted: boolean;
  readonly message: string;
  readonly sure: boolean | null;
  readonly findings: Readonly<Record<string, number>> | null;
  readonly revision: number | null;
  readonly before: number | null;
  readonly deliveries: readonly number[];
  readonly ms: number | null;
}

/** Pictures that one run takes at most. */
export const MOST_ITEMS = 10_000;

export interface NewRun {
  readonly routine: Routine;
  readonly purpose: Purpose;
  readonly date: string;
  /** Pieces, and what was brought and became none, with the reason. */
  readonly items: readonly ({ readonly name: string } & (
    { readonly pieceId: string } | { readonly pieceId: null; readonly message: string }
  ))[];
}

export async function addRun(database: Database, { routine, purpose, date, items }: NewRun): Promise<Run> {
  const id = await database.write(async (transaction) => {
    const row = await database.models.Run.create(
      { name: routine.name, routine: JSON.stringify(routine), purpose, state: 'running', date },
      { transaction },
    );
    await database.models.RunItem.bulkCreate(
      items.map((item, k) => ({
        runId: row.id,
        number: k + 1,
        name: item.name,
        pieceId: item.pieceId,
        ...(item.pieceId === null ? { state: 'failed', message: item.message } : { state: 'waiting' }),
      })),
      { transaction },
    );
    await endIfDone(database, row.id, transaction);
    return row.id;
  });
  return getRun(database, id);
}

/** All runs that can be read, newest first. */
export async function listRuns(database: Database): Promise<Run[]> {
  const rows = await database.models.Run.findAll({ order: [['id', 'DESC']] });
  const tallies = await talliesOf(database, {});
  return readable(rows, (row) => toRun(row, tallies.get(row.id)));
}

/** One run; throws `not-found`. */
export async function getRun(database: Database, id: number): Promise<Run> {
  return toRun(await runRow(database, id), (await talliesOf(database, { runId: id })).get(id));
}

/** The pictures of a run in order, those of some states where they are named. Throws `not-found`. */
export async function listItems(
  database: Database,
  runId: number,
  states: readonly ItemState[] = ITEM_STATES,
): Promise<RunItem[]> {
  await runRow(database, runId);
  const where = { runId, state: { [Op.in]: [...states] } };
  return (await database.models.RunItem.findAll({ where, order: [['number', 'ASC']] })).map(toItem);
}

/** One picture of a run by its place; throws `not-found`. */
export async function getItem(database: Database, runId: number, number: number): Promise<RunItem> {
  return toItem(await itemRow(database, { runId, number }));
}

/** Pauses, resumes or cancels a run. What waits in a cancelled one is cancelled with it. Throws `not-found` and `conflict`. */
export async function setRunState(
  database: Database,
  id: number,
  state: 'running' | 'paused' | 'cancelled',
  message = '',
): Promise<void> {
  await database.write(async (transaction) => {
    const row = await runRow(database, id, transaction);
    if (row.state === 'done' || row.state === 'cancelled')
      throw new KenosisError('conflict', `This run is ${row.state} already.`);
    await row.update({ state, message, endedAt: state === 'cancelled' ? new Date() : null }, { transaction });
    if (state === 'cancelled')
      await moveItems(database, id, ['waiting', 'working'], 'cancelled', transaction);
  });
}

/** Lets pictures that failed, or were cancelled, be tried again. Returns how many. */
export async function retryItems(database: Database, runId: number): Promise<number> {
  return database.write(async (transaction) => {
    const row = await runRow(database, runId, transaction);
    const [count] = await database.models.RunItem.update(
      { state: 'waiting', message: '' },
      {
        where: { runId, state: { [Op.in]: ['failed', 'cancelled'] }, pieceId: { [Op.ne]: null } },
        transaction,
      },
    );
    if (count > 0) await row.update({ state: 'running', message: '', endedAt: null }, { transaction });
    return count;
  });
}

/** What a person says of a picture that was held back or left out: it is delivered, or left out. Throws `conflict`. */
export async function answerItem(
  database: Database,
  runId: number,
  number: number,
  answer: 'accept' | 'skip',
): Promise<void> {
  await database.write(async (transaction) => {
    const row = await itemRow(database, { runId, number }, transaction);
    if (row.state !== 'held' && row.state !== 'skipped')
      throw new KenosisError('conflict', `"${row.name}" is not held back any more: it is ${row.state}.`);
    if (answer === 'skip') return void (await row.update({ state: 'skipped' }, { transaction }));
    await row.update({ state: 'waiting', accepted: true, message: '' }, { transaction });
    const run = await runRow(database, runId, transaction);
    if (run.state !== 'paused') await run.update({ state: 'running', endedAt: null }, { transaction });
  });
}

/** Whether a picture of a run that goes on waits. */
export async function isWaiting(database: Database): Promise<boolean> {
  const running = await database.models.Run.findAll({ where: { state: 'running' }, attributes: ['id'] });
  const where = { runId: { [Op.in]: running.map(({ id }) => id) }, state: 'waiting' };
  return running.length > 0 && (await database.models.RunItem.findOne({ where })) !== null;
}

/** The next picture of a run that goes on, which is worked on from now on; null where none waits. Older runs first. */
export async function takeItem(database: Database): Promise<{ item: RunItem; run: Run } | null> {
  const { Run, RunItem } = database.models;
  return database.write(async (transaction) => {
    const running = await Run.findAll({ where: { state: 'running' }, order: [['id', 'ASC']], transaction });
    for (const run of running) {
      const [read] = readable([run], (one) => toRun(one, undefined));
      if (!read) {
        // It must not keep the others from going on.
        const message = 'Its routine cannot be read, so the run was paused. What was delivered is safe.';
        await run.update({ state: 'paused', message }, { transaction });
        continue;
      }
      const row = await RunItem.findOne({
        where: { runId: run.id, state: 'waiting' },
        order: [['number', 'ASC']],
        transaction,
      });
      if (!row) continue;
      await row.update({ state: 'working', tries: row.tries + 1 }, { transaction });
      return { item: toItem(row), run: read };
    }
    return null;
  });
}

/** What became of a picture, with everything that belongs to it. */
export interface Settled {
  readonly state: Exclude<ItemState, 'working'>;
  readonly message: string;
  readonly sure: boolean | null;
  readonly findings: Readonly<Record<string, number>> | null;
  readonly ms: number | null;
  /** The cut that was laid on the piece, behind the revision that was in force; null where nothing was. */
  readonly laid: {
    readonly pieceId: string;
    readonly after: number;
    readonly cut: Cut;
    readonly label: string;
  } | null;
  readonly deliveries: readonly NewDelivery[];
}

/**
 * Writes down what became of a picture: its new revision, its deliveries and its state, all or nothing, and only where it is
 * still worked on, so that nothing is delivered twice. Throws `conflict` where the run was cancelled meanwhile, or the piece was
 * changed, and `not-found` where the piece went. Returns the picture, and the number of its revision.
 */
export async function settleItem(
  database: Database,
  id: number,
  { laid, deliveries, findings, ...rest }: Settled,
): Promise<RunItem> {
  return database.write(async (transaction) => {
    const row = await itemRow(database, { id }, transaction);
    if (row.state !== 'working')
      throw new KenosisError('conflict', `"${row.name}" is not worked on any more: it is ${row.state}.`);
    const fresh = laid && { before: laid.after, revision: await revisionFor(database, transaction, laid) };
    const numbers: number[] = [];
    for (const one of deliveries) {
      const revision = fresh?.revision ?? one.revision;
      numbers.push((await addDeliveryWithin(database, transaction, { ...one, revision })).id);
    }
    await row.update(
      {
        ...rest,
        ...fresh,
        findings: findings && JSON.stringify(findings),
        deliveries: JSON.stringify(numbers),
      },
      { transaction },
    );
    await endIfDone(database, row.runId, transaction);
    return toItem(row);
  });
}

/** The revision of a cut: the one in force where it is that cut already. Throws `conflict` where another one is in force. */
async function revisionFor(
  database: Database,
  transaction: Transaction,
  { pieceId, after, cut, label }: NonNullable<Settled['laid']>,
): Promise<number> {
  const now = await database.models.Revision.findOne({ where: { pieceId, number: after }, transaction });
  if (now?.cut === JSON.stringify(cut)) return after;
  return reviseWithin(database, transaction, pieceId, { after, cut, label });
}

/** What was worked on when the process ended waits again. Returns how many. */
export async function recoverItems(database: Database): Promise<number> {
  return database.write(async (transaction) => {
    const [count] = await database.models.RunItem.update(
      { state: 'waiting' },
      { where: { state: 'working' }, transaction },
    );
    return count;
  });
}

/**
 * Takes what a run laid on its pieces back on all of them; a piece that was changed afterwards stays. Deliveries stay. Returns
 * how many went back, and the names of those that did not.
 */
export async function undoRun(
  database: Database,
  runId: number,
): Promise<{ readonly undone: number; readonly changed: string[] }> {
  const { Piece, RunItem } = database.models;
  return database.write(async (transaction) => {
    await runRow(database, runId, transaction);
    const rows = await RunItem.findAll({ where: { runId, revision: { [Op.ne]: null } }, transaction });
    const changed: string[] = [];
    let undone = 0;
    for (const row of rows) {
      if (row.revision === row.before) continue;
      const [count] = await Piece.update(
        { position: row.before! },
        { where: { id: row.pieceId!, position: row.revision! }, transaction },
      );
      if (count === 1) undone++;
      else if (
        await Piece.count({ where: { id: row.pieceId!, position: { [Op.ne]: row.before! } }, transaction })
      )
        changed.push(row.name);
    }
    return { undone, changed };
  });
}

/** Forgets a run that does not go on; its pieces and their deliveries stay. Throws `not-found` and `conflict`. */
export async function forgetRun(database: Database, id: number): Promise<void> {
  await shelveRun(database, id);
  await database.write(async (transaction) => {
    const row = await runRow(database, id, transaction);
    if (row.state === 'running' || row.state === 'paused')
      throw new KenosisError('conflict', 'This run is not over. Cancel it first.');
    await database.models.RunItem.destroy({ where: { runId: id }, transaction });
    await row.destroy({ transaction });
  });
}

/** Lays the pieces of a run on the Shelf that were brought for it alone. Returns how many. */
export async function shelveRun(database: Database, runId: number): Promise<number> {
  const { Piece } = database.models;
  const where = { id: { [Op.in]: await piecesOf(database, runId) }, shelved: false };
  return database.write(
    async (transaction) => (await Piece.update({ shelved: true }, { where, transaction }))[0],
  );
}

/** How many pieces of a run lie nowhere else. */
export async function unshelvedIn(database: Database, runId: number): Promise<number> {
  const where = { id: { [Op.in]: await piecesOf(database, runId) }, shelved: false };
  return database.models.Piece.count({ where });
}

async function piecesOf({ models }: Database, runId: number): Promise<string[]> {
  const rows = await models.RunItem.findAll({ where: { runId }, attributes: ['pieceId'] });
  return rows.flatMap(({ pieceId }) => (pieceId === null ? [] : [pieceId]));
}

async function endIfDone(database: Database, id: number, transaction: Transaction): Promise<void> {
  const where = { runId: id, state: { [Op.in]: ['waiting', 'working'] } };
  if ((await database.models.RunItem.count({ where, transaction })) > 0) return;
  await database.models.Run.update(
    { state: 'done', message: '', endedAt: new Date() },
    { where: { id, state: { [Op.in]: ['running', 'paused'] } }, transaction },
  );
}

async function moveItems(
  database: Database,
  runId: number,
  from: readonly ItemState[],
  state: ItemState,
  transaction: Transaction,
): Promise<void> {
  const where = { runId, state: { [Op.in]: [...from] } };
  await database.models.RunItem.update({ state }, { where, transaction });
}

interface Tally {
  readonly counts: Partial<Record<ItemState, number>>;
  meanMs: number | null;
}

/** How many pictures of runs are in each state. */
async function talliesOf(
  database: Database,
  where: { readonly runId?: number },
): Promise<Map<number, Tally>> {
  const { fn, col } = database.sequelize;
  const rows = (await database.models.RunItem.findAll({
    where,
    attributes: [
      'runId',
      'state',
      [fn('COUNT', col('id')), 'count'],
      [fn('SUM', col('ms')), 'ms'],
      [fn('COUNT', col('ms')), 'timed'],
    ],
    group: ['runId', 'state'],
    raw: true,
  })) as unknown as { runId: number; state: ItemState; count: number; ms: number | null; timed: number }[];
  const tallies = new Map<number, Tally>();
  const times = new Map<number, { ms: number; timed: number }>();
  for (const { runId, state, count, ms, timed } of rows) {
    const tally = tallies.get(runId) ?? { counts: {}, meanMs: null };
    tally.counts[state] = count;
    tallies.set(runId, tally);
    const time = times.get(runId) ?? { ms: 0, timed: 0 };
    times.set(runId, { ms: time.ms + (ms ?? 0), timed: time.timed + timed });
  }
  for (const [runId, { ms, timed }] of times)
    tallies.get(runId)!.meanMs = timed === 0 ? null : Math.round(ms / timed);
  return tallies;
}

async function runRow(database: Database, id: number, transaction?: Transaction): Promise<RunRow> {
  const row = await database.models.Run.findByPk(id, transaction ? { transaction } : {});
  if (!row) throw new KenosisError('not-found', 'This run is not there any more.');
  return row;
}

async function itemRow(
  database: Database,
  where: { readonly id: number } | { readonly runId: number; readonly number: number },
  transaction?: Transaction,
): Promise<RunItemRow> {
  const row = await database.models.RunItem.findOne({ where, ...(transaction ? { transaction } : {}) });
  if (!row) throw new KenosisError('not-found', 'This picture of the run is not there any more.');
  return row;
}

function toRun(row: RunRow, tally: Tally | undefined): Run {
  return {
    id: row.id,
    name: row.name,
    routine: parseRoutineText(row.routine),
    purpose: row.purpose as Purpose,
    state: row.state as RunState,
    message: row.message,
    date: row.date,
    createdAt: row.createdAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
    counts: tally?.counts ?? {},
    meanMs: tally?.meanMs ?? null,
  };
}

function toItem(row: RunItemRow): RunItem {
  return {
    id: row.id,
    runId: row.runId,
    number: row.number,
    name: row.name,
    pieceId: row.pieceId,
    state: row.state as ItemState,
    tries: row.tries,
    accepted: row.accepted,
    message: row.message,
    sure: row.sure ?? null,
    findings: row.findings ? (JSON.parse(row.findings) as Record<string, number>) : null,
    revision: row.revision ?? null,
    before: row.before ?? null,
    deliveries: JSON.parse(row.deliveries) as number[],
    ms: row.ms ?? null,
  };
}
