import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { BlobReader, TextWriter, ZipReader, type FileEntry } from '@zip.js/zip.js';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../../tests/make/files';
import { blotches, disc } from '../../../tests/make/pictures';
import { newRoutine } from '../../core/routine/first-routines';
import type { Routine } from '../../core/routine/settings';
import { deliveriesInUse, listDeliveries } from '../../storage/deliveries';
import { addRevision, currentCut, getPiece, setTrashed, type Piece } from '../../storage/pieces';
import { getRoutine, listRoutines, removeRoutine, saveRoutine } from '../../storage/routines';
import {
  answerItem,
  forgetRun,
  getItem,
  getRun,
  listItems,
  recoverItems,
  settleItem,
  takeItem,
  undoRun,
  type Run,
} from '../../storage/runs';
import { keptDecisions } from '../decisions';
import { openHouse } from '../house';
import { importPiece } from '../import-piece';
import type { House } from '../rooms';
import { emptyTrash } from '../trash';
import { beginRun, previewLaying } from './begin-run';
import { answerHeld, changeRun } from './change-run';
import { filesOfRun, untilOver, zipOfRun } from './run-results';

let house: House;
let kites: Piece[];
let busy: Piece;

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as NodeStream<Uint8Array>;
const bring = async (name: string, bytes: Uint8Array) =>
  (await importPiece(house, name, stream(bytes))).piece;

beforeAll(async () => {
  house = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-runs-')));
  kites = [];
  for (const side of [41, 51, 61])
    kites.push(
      await bring(
        `kite-${side}.png`,
        await asSharp(disc(side, side / 4))
          .png()
          .toBuffer(),
      ),
    );
  busy = await bring(
    'busy.png',
    await asSharp(blotches(90, 70, 3))
      .png()
      .toBuffer(),
  );
  await house.runs.start();
});
afterAll(() => house.close());

const idsOf = (pieces: readonly Piece[]) => pieces.map(({ id }) => id);
const over = (run: Run) => untilOver(house, run.id, 60, new AbortController().signal);
const deliveriesOf = async (pieces: readonly Piece[]) =>
  (await Promise.all(pieces.map(({ id }) => listDeliveries(house.database, id)))).flat();

/** Begins a run and waits until it is over. */
async function carriedOut(routine: Routine, pieces: readonly Piece[]): Promise<Run> {
  return over(await beginRun(house, { routine, pieces: idsOf(pieces), date: '2026-11-30' }));
}

describe('a run on pieces', () => {
  it('delivers each once with its step, holds back what is not sure, and keeps what was refused before', async () => {
    const before = (await deliveriesOf(kites)).length;
    const decisions = (await keptDecisions(house, kites[0]!))!;
    const decided = await readFile(decisions);
    await rm(decisions);
    const begun = await beginRun(house, {
      routine: newRoutine('soft', { edge: { softnessPx: 2 } }),
      pieces: idsOf([...kites, busy]),
      refused: [{ name: 'broken.png', message: 'It is not a picture.' }],
      date: '2026-11-30',
    });
    const run = await over(begun);
    expect(run).toMatchObject({ state: 'done', counts: { delivered: 3, held: 1, failed: 1 } });
    expect((await deliveriesOf(kites)).length - before).toBe(3);
    const items = await listItems(house.database, run.id);
    for (const [k, piece] of kites.entries()) {
      const state = await currentCut(house.database, piece.id);
      expect(state).toMatchObject({ undo: 'routine soft', cut: { edge: { softnessPx: 2 } } });
      expect(items[k]).toMatchObject({ state: 'delivered', sure: true, revision: state.revision });
      // Its checks are those of the run: nobody has to do them again.
      expect((await getPiece(house.database, piece.id)).findings).not.toBeNull();
    }
    // What a run decided anew is kept as well.
    await expect.poll(() => readFile(decisions).catch(() => null)).toEqual(decided);
    expect(items[3]).toMatchObject({ state: 'held', sure: false, deliveries: [] });
    expect(items[3]!.message).not.toBe('');
    expect(items[4]).toMatchObject({
      name: 'broken.png',
      state: 'failed',
      message: 'It is not a picture.',
      pieceId: null,
    });
    expect((await readdir(path.join(house.dataFolder, 'incoming'))).length).toBe(0);
  });

  it('keeps what it decided of a piece for which it looks for a cut itself', async () => {
    const png = await asSharp(disc(71, 20)).png().toBuffer();
    const { piece } = await importPiece(house, 'plain.png', stream(png), { proposes: false });
    expect(await keptDecisions(house, piece)).toBeNull();
    const run = await carriedOut(newRoutine('plain'), [piece]);
    expect(run.counts).toMatchObject({ delivered: 1 });
    await expect.poll(() => keptDecisions(house, piece)).not.toBeNull();
  });

  it('gives its files and reports in one ZIP', async () => {
    const run = await carriedOut(newRoutine('zip'), kites.slice(0, 2));
    const bytes = await new Response(await zipOfRun(house, run.id)).blob();
    const entries = (await new ZipReader(new BlobReader(bytes)).getEntries()) as FileEntry[];
    expect(entries.map(({ filename }) => filename)).toEqual([
      'kite-41-cutout.png',
      'kite-51-cutout.png',
      'report.json',
      'report.csv',
    ]);
    const report = JSON.parse(await entries[2]!.getData(new TextWriter())) as {
      rows: { files: { name: string }[] }[];
    };
    expect(report.rows.map(({ files }) => files[0]!.name)).toEqual([
      'kite-41-cutout.png',
      'kite-51-cutout.png',
    ]);
  });

  it('delivers what was held back as it is when somebody accepts it, and only once', async () => {
    const run = await carriedOut(newRoutine('asking'), [busy]);
    expect(run.counts).toEqual({ held: 1 });
    const { cut, revision } = await currentCut(house.database, busy.id);
    // Somebody puts it right by hand before.
    const mended = { ...cut, edge: { ...cut.edge, softnessPx: 7 } };
    await addRevision(house.database, busy.id, revision, mended, 'softness 7 px');
    const before = (await deliveriesOf([busy])).length;
    await answerHeld(house, run.id, 1, 'accept');
    await over(run);
    expect(await getItem(house.database, run.id, 1)).toMatchObject({
      state: 'delivered',
      accepted: true,
      sure: false,
    });
    expect((await currentCut(house.database, busy.id)).cut.edge.softnessPx).toBe(7);
    expect((await deliveriesOf([busy])).length - before).toBe(1);
    await expect(answerItem(house.database, run.id, 1, 'accept')).rejects.toMatchObject({ code: 'conflict' });
  });

  it('leaves out what is told to be', async () => {
    const run = await carriedOut(newRoutine('skipping', { notSure: 'skip' }), [busy]);
    expect(run.counts).toEqual({ skipped: 1 });
    const held = await carriedOut(newRoutine('asking'), [busy]);
    await answerHeld(house, held.id, 1, 'skip');
    expect((await getRun(house.database, held.id)).counts).toEqual({ skipped: 1 });
  });

  it('says of a piece in the trash, and of one that went, what became of it, and tries again', async () => {
    const piece = await bring('late.png', await asSharp(disc(31, 8)).png().toBuffer());
    await setTrashed(house.database, [piece.id], true);
    const run = await carriedOut(newRoutine('late'), [piece, kites[0]!]);
    expect(run.counts).toEqual({ failed: 1, delivered: 1 });
    expect((await getItem(house.database, run.id, 1)).message).toContain('is in the trash');
    await setTrashed(house.database, [piece.id], false);
    await changeRun(house, run.id, 'retry');
    expect((await over(run)).counts).toEqual({ delivered: 2 });
    await setTrashed(house.database, [piece.id], true);
    await emptyTrash(house);
    // Its files went with it; the rest of the run stands.
    expect((await filesOfRun(house, run.id)).map(({ name }) => name)).toEqual(['kite-41-cutout.png']);
  });

  it('stands still while it is paused, and goes on when it is resumed', async () => {
    // Paused before anything of it was taken.
    const quiet = { ...house, runs: { ...house.runs, wake: () => undefined } };
    const begun = await beginRun(quiet, { routine: newRoutine('pausing'), pieces: idsOf(kites) });
    await changeRun(house, begun.id, 'pause');
    // Whoever wakes up takes what came later, and leaves this alone.
    await over(await beginRun(house, { routine: newRoutine('later'), pieces: idsOf(kites.slice(0, 1)) }));
    expect(await getRun(house.database, begun.id)).toMatchObject({ state: 'paused', counts: { waiting: 3 } });
    await changeRun(house, begun.id, 'resume');
    expect((await over(begun)).counts).toEqual({ delivered: 3 });
  });

  it('is cancelled, and does nothing afterwards', async () => {
    const begun = await beginRun(house, { routine: newRoutine('slow'), pieces: idsOf(kites) });
    await changeRun(house, begun.id, 'cancel');
    const run = await getRun(house.database, begun.id);
    expect(run.state).toBe('cancelled');
    await over(await beginRun(house, { routine: newRoutine('after it'), pieces: idsOf(kites.slice(0, 1)) }));
    const { counts } = await getRun(house.database, begun.id);
    expect((counts.waiting ?? 0) + (counts.working ?? 0)).toBe(0);
    await expect(changeRun(house, begun.id, 'resume')).rejects.toMatchObject({ code: 'conflict' });
    await changeRun(house, begun.id, 'retry');
    expect((await over(run)).counts).toEqual({ delivered: 3 });
    await forgetRun(house.database, run.id);
    await expect(getRun(house.database, run.id)).rejects.toMatchObject({ code: 'not-found' });
    expect((await deliveriesOf(kites)).length).toBeGreaterThan(0);
  });

  it('begins with pieces and a routine that are there, or not at all', async () => {
    await expect(beginRun(house, { routine: 'none', pieces: idsOf(kites) })).rejects.toThrow(
      'There is no routine "none"',
    );
    await expect(
      beginRun(house, { routine: newRoutine('x'), pieces: ['0123456789abcdef'] }),
    ).rejects.toMatchObject({ code: 'not-found' });
  });
});

describe('what is written down', () => {
  const nothing = { message: '', sure: null, findings: null, ms: null, laid: null, deliveries: [] } as const;

  it('is written once: a second answer about a picture is refused, and no file is left of it', async () => {
    const { counts, id } = await carriedOut(newRoutine('once'), kites.slice(0, 1));
    expect(counts).toEqual({ delivered: 1 });
    const item = await getItem(house.database, id, 1);
    await expect(
      settleItem(house.database, item.id, { ...nothing, state: 'delivered' }),
    ).rejects.toMatchObject({ code: 'conflict' });
    const files = await readdir(path.join(house.dataFolder, 'deliveries'), {
      recursive: true,
      withFileTypes: true,
    });
    const named = await deliveriesInUse(house.database);
    for (const file of files.filter((entry) => entry.isFile())) expect(named).toContain(file.name);
  });

  it('lets wait what was worked on when the process ended', async () => {
    // Nobody carries runs out in a house of its own that was not started.
    const other = await openHouse(await mkdtemp(path.join(tmpdir(), 'kenosis-runs-')));
    try {
      const bytes = await asSharp(disc(41, 10)).png().toBuffer();
      const { piece } = await importPiece(other, 'kite.png', stream(bytes));
      const run = await beginRun(
        { ...other, runs: { ...other.runs, wake: () => undefined } },
        { routine: newRoutine('r'), pieces: [piece.id] },
      );
      expect((await takeItem(other.database))!.item).toMatchObject({ state: 'working', tries: 1 });
      expect(await takeItem(other.database)).toBeNull();
      expect(await recoverItems(other.database)).toBe(1);
      expect((await takeItem(other.database))!.item).toMatchObject({ state: 'working', tries: 2 });
      await other.runs.start();
      expect((await untilOver(other, run.id, 60, new AbortController().signal)).counts).toEqual({
        delivered: 1,
      });
      expect(await listDeliveries(other.database, piece.id)).toHaveLength(1);
    } finally {
      await other.close();
    }
  });
});

describe('laying settings of a piece on others', () => {
  it('shows what it gives, does it, and is taken back on all of them that were not changed since', async () => {
    const [from, second, third] = kites as [Piece, Piece, Piece];
    const { cut, revision } = await currentCut(house.database, from.id);
    await addRevision(
      house.database,
      from.id,
      revision,
      { ...cut, edge: { ...cut.edge, evenness: 60 }, ink: { ...cut.ink, color: '#2a7f86' } },
      'x',
    );
    const laying = { piece: from.id, stages: ['edge', 'ink'] as const };
    const cuts = async () =>
      Promise.all([second, third].map(async ({ id }) => (await currentCut(house.database, id)).cut));
    const before = await cuts();
    const previews = await previewLaying(house, laying, idsOf([second, third]), new AbortController().signal);
    expect(previews.map(({ name, message }) => [name, message])).toEqual([
      [second.name, ''],
      [third.name, ''],
    ]);
    expect(Buffer.from(previews[0]!.picture!, 'base64').subarray(8, 12).toString()).toBe('WEBP');
    expect(await cuts()).toEqual(before);

    const run = await over(await beginRun(house, { laying, pieces: idsOf([from, second, third]) }));
    expect(run).toMatchObject({ purpose: 'lay', state: 'done', counts: { laid: 2 } });
    for (const now of await cuts())
      expect(now).toMatchObject({ edge: { evenness: 60 }, ink: { color: '#2a7f86' } });

    const { revision: at, cut: changed } = await currentCut(house.database, third.id);
    await addRevision(
      house.database,
      third.id,
      at,
      { ...changed, edge: { ...changed.edge, firmness: 5 } },
      'firmness',
    );
    expect(await undoRun(house.database, run.id)).toEqual({ undone: 1, changed: [third.name] });
    expect((await cuts())[0]).toEqual(before[0]);
    expect((await currentCut(house.database, third.id)).cut.edge.firmness).toBe(5);
    expect(await undoRun(house.database, run.id)).toEqual({ undone: 0, changed: [third.name] });
  });
});

describe('routines of the house', () => {
  it('are kept by name beside the first ones, which come back when theirs is forgotten', async () => {
    const own = newRoutine('signature-to-ink', { edge: { firmness: 9 } });
    await saveRoutine(house.database, own);
    expect(await getRoutine(house.database, own.name)).toEqual(own);
    const names = (await listRoutines(house.database)).map(({ name }) => name);
    expect(names.filter((name) => name === own.name)).toHaveLength(1);
    await removeRoutine(house.database, own.name);
    expect((await getRoutine(house.database, own.name)).edge).toBeNull();
  });
});
