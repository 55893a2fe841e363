import { QueryTypes, type Transaction } from 'sequelize';
import { beforeAll, describe, expect, it } from 'vitest';
import { freshFolder } from '../../tests/make/folder';
import { untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import { openDatabase, type Database } from './database';
import { addDelivery, isDelivered, listDeliveries } from './deliveries';
import {
  addPiece,
  addRevision,
  currentCut,
  cutOfRevision,
  deleteTrashed,
  getPiece,
  listPieces,
  renamePiece,
  setFindings,
  setTrashed,
  step,
} from './pieces';
import { getSetting, setSetting } from './settings';
import { AS_NAMED } from '../core/stages/deliver/settings';

let folder: string;
let database: Database;

beforeAll(async () => {
  folder = await freshFolder();
  database = await openDatabase(folder);
  return () => database.close();
});

const hash = (digit: string) => digit.repeat(64);
const fresh = (digit: string) => ({
  sha256: hash(digit),
  name: `${digit}.png`,
  format: 'png',
  bytes: 10,
  width: 4,
  height: 5,
  dpi: null,
  backing: 'checker',
  reason: 'White all around the frame.',
  notes: [],
});
const named = (fileName: string): Cut => ({
  ...untouchedCut(),
  deliver: { ...AS_NAMED, fileName, print: null },
});

describe('the database', () => {
  it('is in WAL mode with foreign keys on, inside of transactions too', async () => {
    const pragma = async (name: string, transaction?: Transaction) => {
      const options = { type: QueryTypes.SELECT, ...(transaction ? { transaction } : {}) } as const;
      const [row] = await database.sequelize.query<{ value: unknown }>(
        `SELECT ${name} AS value FROM pragma_${name}`,
        options,
      );
      return row?.value;
    };
    expect(await pragma('journal_mode')).toBe('wal');
    await database.write(async (transaction) => expect(await pragma('foreign_keys', transaction)).toBe(1));
    await expect(
      addDelivery(database, {
        pieceId: 'nobody',
        revision: 0,
        cut: '{}',
        fileName: 'a.png',
        sha256: hash('9'),
        pixelSha256: hash('9'),
        bytes: 1,
        width: 1,
        height: 1,
        dpi: null,
        transparent: 0,
        partly: 0,
        opaque: 1,
        format: 'png',
        findings: null,
      }),
    ).rejects.toThrow(/FOREIGN KEY/i);
  });

  it('carries out many writes at once without losing one', async () => {
    await Promise.all(Array.from({ length: 60 }, (_, n) => setSetting(database, `at-once-${n}`, String(n))));
    for (let n = 0; n < 60; n++) expect(await getSetting(database, `at-once-${n}`)).toBe(String(n));
  });

  it('undoes a transaction that fails', async () => {
    const failing = database.write(async (transaction) => {
      await database.sequelize.query("INSERT INTO settings (key, value) VALUES ('half', '1')", {
        transaction,
      });
      throw new Error('no');
    });
    await expect(failing).rejects.toThrow('no');
    expect(await getSetting(database, 'half')).toBeNull();
  });

  it('opens again with what was written', async () => {
    await setSetting(database, 'stays', 'yes');
    const again = await openDatabase(folder);
    expect(await getSetting(database, 'stays')).toBe('yes');
    await again.close();
    database = await openDatabase(folder);
  });
});

describe('pieces and revisions', () => {
  it('adds a piece once for the same bytes', async () => {
    const first = await addPiece(database, fresh('a'), null);
    const second = await addPiece(database, { ...fresh('a'), name: 'other name.png' }, null);
    expect([first.known, second.known]).toEqual([false, true]);
    expect(second.piece).toEqual(first.piece);
  });

  it('walks through undo and redo, and drops what was undone when something new comes', async () => {
    const { piece } = await addPiece(database, fresh('b'), null);
    const one = await addRevision(database, piece.id, 0, named('one.png'), 'first');
    expect(one).toMatchObject({ revision: 1, undo: 'first', redo: null });
    const two = await addRevision(database, piece.id, 1, named('two.png'), 'second');
    const back = await step(database, piece.id, 'undo');
    expect(back).toMatchObject({ cut: named('one.png'), undo: 'first', redo: 'second' });
    expect(await step(database, piece.id, 'redo')).toMatchObject({
      cut: named('two.png'),
      revision: two.revision,
    });
    await step(database, piece.id, 'undo');
    await step(database, piece.id, 'undo');
    expect(await currentCut(database, piece.id)).toMatchObject({
      cut: untouchedCut(),
      undo: null,
      redo: 'first',
    });
    await expect(step(database, piece.id, 'undo')).rejects.toMatchObject({ code: 'nothing-to-undo' });
    const three = await addRevision(database, piece.id, 0, named('three.png'), 'third');
    expect(three).toMatchObject({ revision: 3, redo: null });
    await expect(step(database, piece.id, 'redo')).rejects.toMatchObject({ code: 'nothing-to-redo' });
    await expect(cutOfRevision(database, piece.id, 1)).rejects.toMatchObject({ code: 'not-found' });
    expect(await step(database, piece.id, 'undo')).toMatchObject({ revision: 0 });
  });

  it('has the proposal as an ordinary step that can be undone', async () => {
    const { piece } = await addPiece(database, fresh('7'), named('proposed.png'));
    expect(await currentCut(database, piece.id)).toMatchObject({
      cut: named('proposed.png'),
      undo: 'the proposal',
    });
    expect(await step(database, piece.id, 'undo')).toMatchObject({
      cut: untouchedCut(),
      redo: 'the proposal',
    });
  });

  it('refuses a step from another window', async () => {
    const { piece } = await addPiece(database, fresh('c'), null);
    await addRevision(database, piece.id, 0, named('one.png'), 'first');
    await expect(addRevision(database, piece.id, 0, named('two.png'), 'second')).rejects.toMatchObject({
      code: 'conflict',
    });
    expect((await currentCut(database, piece.id)).cut).toEqual(named('one.png'));
  });

  it('keeps every step', async () => {
    const { piece } = await addPiece(database, fresh('d'), null);
    for (let n = 0; n < 80; n++) await addRevision(database, piece.id, n, named(`${n}.png`), `step ${n}`);
    for (let n = 0; n < 80; n++) await step(database, piece.id, 'undo');
    expect((await currentCut(database, piece.id)).cut).toEqual(untouchedCut());
  });

  it('tells untouched, cut and delivered apart', async () => {
    const { piece } = await addPiece(database, fresh('e'), null);
    const stateOf = async () => (await listPieces(database)).find(({ id }) => id === piece.id)?.state;
    expect(await stateOf()).toBe('untouched');
    await addRevision(database, piece.id, 0, named('one.png'), 'first');
    expect(await stateOf()).toBe('cut');
    const facts = {
      format: 'png',
      findings: null,
      width: 4,
      height: 5,
      dpi: null,
      transparent: 5,
      partly: 5,
      opaque: 10,
      bytes: 9,
    };
    const keys = { sha256: hash('f'), pixelSha256: hash('f'), revision: 1, cut: '{}', fileName: 'one.png' };
    await addDelivery(database, { pieceId: piece.id, ...facts, ...keys });
    expect(await stateOf()).toBe('delivered');
    expect(await listDeliveries(database, piece.id)).toMatchObject([{ fileName: 'one.png', transparent: 5 }]);
  });
});

describe('names, findings and the trash', () => {
  it('keeps what was found only for the revision it was found in', async () => {
    const { piece } = await addPiece(database, fresh('b'), null);
    await setFindings(database, piece.id, 0, { speck: 3 });
    expect((await getPiece(database, piece.id)).findings).toEqual({ speck: 3 });
    await addRevision(database, piece.id, 0, named('x.png'), 'rename the file');
    expect((await getPiece(database, piece.id)).findings).toBeNull();
    await step(database, piece.id, 'undo');
    expect((await getPiece(database, piece.id)).findings).toEqual({ speck: 3 });
  });

  it('renames, and says so when the piece is gone', async () => {
    const { piece } = await addPiece(database, fresh('c'), null);
    await renamePiece(database, piece.id, 'spring.png');
    expect((await getPiece(database, piece.id)).name).toBe('spring.png');
    await expect(renamePiece(database, '0'.repeat(16), 'x')).rejects.toThrow(/not on the Shelf/);
  });

  it('deletes only what is in the trash, and keeps files that others name', async () => {
    const { piece: one } = await addPiece(database, fresh('d'), null);
    const { piece: other } = await addPiece(database, fresh('e'), null);
    const facts = {
      format: 'png',
      findings: null,
      bytes: 1,
      width: 1,
      height: 1,
      dpi: null,
      transparent: 0,
      partly: 0,
      opaque: 1,
    };
    const keys = { pixelSha256: hash('f'), revision: 0, cut: '{}', fileName: 'one.png' };
    for (const [pieceId, sha256] of [
      [one.id, hash('8')],
      [one.id, hash('9')],
      [other.id, hash('9')],
    ] as const)
      await addDelivery(database, { pieceId, sha256, ...keys, ...facts });
    await setTrashed(database, [one.id, '0'.repeat(16)], true);
    expect(await deleteTrashed(database, other.id)).toBeNull();
    expect(await deleteTrashed(database, one.id)).toEqual([hash('8'), hash('9')]);
    expect([await isDelivered(database, hash('8')), await isDelivered(database, hash('9'))]).toEqual([
      false,
      true,
    ]);
    const left = (await listPieces(database)).map(({ id }) => id);
    expect(left).toContain(other.id);
    expect(left).not.toContain(one.id);
    expect(await deleteTrashed(database, one.id)).toBeNull();
  });
});
