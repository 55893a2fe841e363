import { access } from 'node:fs/promises';
import { TextReader } from '@zip.js/zip.js';
import { KenosisError } from '../../core/errors';
import { getDelivery, type Delivery } from '../../storage/deliveries';
import { getRun, listItems, type Run, type RunItem } from '../../storage/runs';
import type { House } from '../rooms';
import { withOwnNames, zipOfFiles, type Named } from '../zip-deliveries';
import { reportCsv, reportJson, type ReportRow } from './report';

type Rooms = Pick<House, 'database' | 'files'>;

/** The delivered files of a run in order, under names of which no two are the same; what was deleted for good is left out. */
export async function filesOfRun({ database, files }: Rooms, runId: number): Promise<Named[]> {
  const deliveries: Delivery[] = [];
  for (const { deliveries: numbers } of await listItems(database, runId))
    for (const number of numbers) {
      const delivery = await getDelivery(database, number).catch(() => null);
      const isThere = delivery && (await files.has('deliveries', delivery.sha256));
      if (isThere) deliveries.push(delivery);
    }
  return withOwnNames(deliveries);
}

/** What became of each picture of a run. Throws `not-found`. */
export async function rowsOfRun(rooms: Rooms, runId: number): Promise<ReportRow[]> {
  const named = new Map(
    (await filesOfRun(rooms, runId)).map(({ name, delivery }) => [delivery.id, { name, delivery }]),
  );
  return (await listItems(rooms.database, runId)).map((item) => rowOf(item, named));
}

function rowOf(item: RunItem, named: ReadonlyMap<number, Named>): ReportRow {
  const { name, state, sure, findings, message, ms } = item;
  const files = item.deliveries.flatMap((number) => {
    const found = named.get(number);
    if (!found) return [];
    const { format, bytes, width, height, sha256 } = found.delivery;
    return [{ name: found.name, format, bytes, width, height, sha256 }];
  });
  return { name, state, sure, findings: findings ?? {}, message, ms, files };
}

/** The results of a run in one ZIP, as a stream, with the report as JSON and as CSV. Throws `not-found`. */
export async function zipOfRun(rooms: Rooms, runId: number): Promise<ReadableStream<Uint8Array>> {
  const { routine } = await getRun(rooms.database, runId);
  const named = await filesOfRun(rooms, runId);
  const rows = await rowsOfRun(rooms, runId);
  const paths = named.map(({ name, delivery }) => ({
    name,
    path: rooms.files.pathOf('deliveries', delivery.sha256),
  }));
  for (const { path } of paths) await access(path);
  return zipOfFiles(paths, [
    { name: 'report.json', reader: () => new TextReader(reportJson(routine.name, rows)) },
    { name: 'report.csv', reader: () => new TextReader(reportCsv(rows)) },
  ]);
}

/** Waits until a run does not go on, but no longer than so many seconds, nor than somebody waits for the answer. */
export async function untilOver(
  house: House,
  runId: number,
  seconds: number,
  signal: AbortSignal,
): Promise<Run> {
  const run = await getRun(house.database, runId);
  if (seconds === 0 || run.state !== 'running') return run;
  await new Promise<void>((resolve) => {
    const check = () => {
      void getRun(house.database, runId).then(
        ({ state }) => state !== 'running' && end(),
        () => end(),
      );
    };
    const off = house.runs.listen((change) => {
      if (change.runId === runId && change.item === null) check();
    });
    const timer = setTimeout(() => end(), seconds * 1000);
    const end = () => {
      clearTimeout(timer);
      off();
      signal.removeEventListener('abort', end);
      resolve();
    };
    signal.addEventListener('abort', end, { once: true });
    check();
  });
  return getRun(house.database, runId);
}

/**
 * A delivered file of a run by its place; null while pictures of it are still worked on. Throws `held-back` where a picture of the
 * run was not delivered because somebody should look at it, which says how to take it anyway, `no-cutout` where it was left out or
 * failed, and `not-found` where the run has delivered everything and there are fewer files.
 */
export async function fileOfRun(rooms: Rooms, run: Run, number: number): Promise<Named | null> {
  const files = await filesOfRun(rooms, run.id);
  const found = files[number - 1];
  if (found) return found;
  if (run.state === 'running') return null;
  const items = await listItems(rooms.database, run.id);
  const held = items.find(({ state }) => state === 'held');
  if (held)
    throw new KenosisError(
      'held-back',
      `"${held.name}" was held back. ${held.message} To take it anyway, POST {"action":"accept"} to /api/runs/${run.id}/items/${held.number}, or send the picture with notSure=deliver.`,
    );
  const other = items.find(({ state }) => state !== 'delivered' && state !== 'laid');
  if (other)
    throw new KenosisError(
      'no-cutout',
      `"${other.name}" of run ${run.id} (${run.state}) was not delivered: it is ${other.state}. ${other.message}`.trim(),
    );
  throw new KenosisError(
    'not-found',
    `Run ${run.id} has delivered ${files.length} files, and no file ${number}.`,
  );
}
