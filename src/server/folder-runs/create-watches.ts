import { KenosisError } from '../../core/errors';
import { parseRoutineText } from '../../core/routine/parse';
import type { WatchRow } from '../../storage/models';
import { readable } from '../../storage/unreadable';
import { dayOf } from '../../core/day-of';
import type { House } from '../rooms';
import { materialFiles } from '../watermarks/materials';
import type { Settled } from './ledger';
import { assertWatchable, troubleOf, watchFolder, type Watching } from './watch-folder';
import type { Watch, Watches } from './watches';

type Needs = Pick<House, 'database' | 'dataFolder' | 'files' | 'runs'>;

interface Open {
  watching: Watching | null;
  trouble: string | null;
  readonly working: Set<string>;
  readonly settled: Settled[];
}

/** How long a folder that could not be watched is left alone before it is tried again. */
const AGAIN_MS = 15_000;

/** What became of files is kept to be shown, so many of each folder. */
const MOST_SHOWN = 500;

export function createWatches({ database, dataFolder, files, runs }: Needs): Watches {
  const open = new Map<number, Open>();
  let closing = false;

  async function begin(row: WatchRow): Promise<void> {
    const one: Open = open.get(row.id) ?? { watching: null, trouble: null, working: new Set(), settled: [] };
    open.set(row.id, one);
    try {
      const routine = parseRoutineText(row.routine);
      one.watching = await watchFolder({
        folder: row.folder,
        out: row.out,
        routine,
        materials: () => materialFiles({ database, files }, routine.mark && routine.mark.watermark),
        date: () => dayOf(new Date()),
        engine: await runs.engine(),
        tell({ name, isWorking, settled }) {
          if (isWorking) one.working.add(name);
          else one.working.delete(name);
          if (!settled) return;
          one.settled.unshift(settled);
          one.settled.length = Math.min(one.settled.length, MOST_SHOWN);
        },
      });
      one.trouble = null;
      one.settled.push(...[...one.watching.history].reverse().slice(0, MOST_SHOWN - one.settled.length));
    } catch (error) {
      one.trouble = troubleOf(error);
      const again = setTimeout(() => {
        if (!closing && open.get(row.id) === one && !one.watching) void begin(row);
      }, AGAIN_MS);
      again.unref();
    }
  }

  async function end(id: number): Promise<void> {
    const one = open.get(id);
    open.delete(id);
    await one?.watching?.close();
  }

  async function rowOf(id: number): Promise<WatchRow> {
    const row = await database.models.Watch.findByPk(id);
    if (!row) throw new KenosisError('not-found', 'This watched folder is not in the list any more.');
    return row;
  }

  return {
    async start() {
      for (const row of await database.models.Watch.findAll({ where: { isOn: true } })) await begin(row);
    },
    async list() {
      const rows = await database.models.Watch.findAll({ order: [['id', 'ASC']] });
      return readable(rows, (row) => factsOf(row, open.get(row.id) ?? null));
    },
    async add({ folder, out, routine }) {
      const real = await assertWatchable({ folder, out });
      for (const place of Object.values(real))
        if (`${place}/`.startsWith(`${dataFolder}/`))
          throw new KenosisError(
            'bad-argument',
            `${place} lies in the data folder of Kenosis. Name another one.`,
          );
      const others = await database.models.Watch.findAll();
      const other = others.find((one) => one.folder === real.folder || one.out === real.out);
      if (other)
        throw new KenosisError(
          'conflict',
          `${other.folder} is watched already, and delivers into ${other.out}. Nothing was changed.`,
        );
      const row = await database.write((transaction) =>
        database.models.Watch.create(
          { ...real, routine: JSON.stringify(routine), isOn: true },
          { transaction },
        ),
      );
      await begin(row);
    },
    async switch(id, isOn) {
      const row = await rowOf(id);
      await database.write((transaction) => row.update({ isOn }, { transaction }));
      await end(id);
      if (isOn) await begin(row);
    },
    async remove(id) {
      const row = await rowOf(id);
      await end(id);
      await database.write((transaction) => row.destroy({ transaction }));
    },
    async close() {
      closing = true;
      for (const id of [...open.keys()]) await end(id);
    },
  };
}

function factsOf(row: WatchRow, one: Open | null): Watch {
  const counts = { delivered: 0, held: 0, skipped: 0, failed: 0 };
  for (const { state } of one?.settled ?? []) counts[state]++;
  return {
    id: row.id,
    folder: row.folder,
    out: row.out,
    routine: parseRoutineText(row.routine),
    isOn: row.isOn,
    trouble: row.isOn ? (one?.trouble ?? null) : null,
    working: [...(one?.working ?? [])],
    settled: one?.settled ?? [],
    counts,
  };
}
