import { createHash } from 'node:crypto';
import { Op, type Transaction } from 'sequelize';
import { untouchedCut, parseCutText } from '../core/cut/parse';
import { ONLY_PAGE, pageKey, type Page } from '../core/cut/page';
import type { Cut } from '../core/cut/schema';
import { STAGES } from '../core/stages/stages';
import { KenosisError } from '../core/errors';
import type { Database } from './database';
import type { PieceRow, RevisionRow } from './models';

/** A piece as the rest of the house sees it. */
export interface Piece {
  readonly id: string;
  readonly sha256: string;
  readonly name: string;
  readonly format: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  readonly backing: string;
  /** What the proposal says of the picture, in one sentence. */
  readonly reason: string;
  /** What is to be said of the picture: damage, what its decoder remarked, a name that was lost. */
  readonly notes: readonly string[];
  /** Number of the revision in force. */
  readonly revision: number;
  readonly createdAt: string;
  /** How many findings of each kind are open; null where the revision in force was not checked yet. */
  readonly findings: FindingCounts | null;
  readonly trashed: boolean;
}

/** How many findings of each kind are open; kinds without any are left out. */
export type FindingCounts = Readonly<Record<string, number>>;

/** A piece with what the Shelf shows of it. */
export interface ShelfPiece extends Piece {
  readonly state: 'untouched' | 'cut' | 'delivered';
  readonly deliveries: number;
}

/** The cut in force and where it stands between undo and redo. */
export interface CutState {
  readonly revision: number;
  readonly cut: Cut;
  /** What undo would take back and redo would bring again, in words; null where there is nothing. */
  readonly undo: string | null;
  readonly redo: string | null;
}

/** A saved state of a piece's cut. */
export interface Revision {
  readonly number: number;
  readonly label: string;
  readonly cut: Cut;
  readonly createdAt: string;
}

export type NewPiece = Omit<Piece, 'id' | 'revision' | 'createdAt' | 'findings' | 'trashed'>;

/** What the step is called that a proposal is. */
const PROPOSAL = 'the proposal';

/** The id of the piece of a page of these original bytes. */
export function pieceIdOf(sha256: string, page: Page = ONLY_PAGE): string {
  const rowHash = rowHashOf(sha256, page);
  return rowHash === sha256 ? sha256.slice(0, 16) : partIdOf(rowHash);
}

/**
 * A row of a further piece of an original names it by its hash, this, and a number, or `p` and a page: `sha256` of rows is
 * unique.
 */
const FURTHER = '#';

function rowHashOf(sha256: string, page: Page): string {
  const key = pageKey(page);
  return key === '' ? sha256 : `${sha256}${FURTHER}p${key}`;
}

/** The hash of the original that a row names. */
function originalOf(rowHash: string): string {
  return rowHash.split(FURTHER)[0]!;
}

/** The id of a further piece of an original. */
function partIdOf(rowHash: string): string {
  return createHash('sha256').update(rowHash).digest('hex').slice(0, 16);
}

/**
 * Adds further pieces of the same original, each with a cut of its own as its first step, named after the piece with a number.
 * Throws `not-found`.
 */
export async function addParts(database: Database, id: string, cuts: readonly Cut[]): Promise<Piece[]> {
  const { Piece, Revision } = database.models;
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    const sha256 = originalOf(row.sha256);
    const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(row.name)!;
    const parts: Piece[] = [];
    let number = 0;
    for (const cut of cuts) {
      let rowHash: string;
      do rowHash = `${sha256}${FURTHER}${++number}`;
      while (await Piece.findByPk(partIdOf(rowHash), { transaction }));
      const part = await Piece.create(
        {
          id: partIdOf(rowHash),
          sha256: rowHash,
          name: `${stem}-${number}${ending ?? ''}`,
          format: row.format,
          bytes: row.bytes,
          width: row.width,
          height: row.height,
          dpi: row.dpi,
          backing: row.backing,
          reason: row.reason,
          notes: row.notes,
          position: 1,
          lastNumber: 1,
        },
        { transaction },
      );
      const steps = [
        { number: 0, label: 'untouched', cut: JSON.stringify(untouchedCut(STAGES, cut.page)) },
        { number: 1, label: `a piece of ${row.name}`.slice(0, 120), cut: JSON.stringify(cut) },
      ];
      for (const step of steps) await Revision.create({ pieceId: part.id, ...step }, { transaction });
      parts.push(toPiece(part));
    }
    return parts;
  });
}

/**
 * Adds a piece with its untouched revision 0 and, where there is one, the proposed cut as an ordinary revision behind it,
 * unless the piece is there already. It is of that page of its original, and lies on the Shelf unless it is for a run alone.
 */
export async function addPiece(
  database: Database,
  fresh: NewPiece,
  proposed: Cut | null,
  page: Page = ONLY_PAGE,
  shelved = true,
): Promise<{ piece: Piece; known: boolean }> {
  return database.write(async (transaction) => {
    const id = pieceIdOf(fresh.sha256, page);
    const there = await database.models.Piece.findByPk(id, { transaction });
    if (there) return { piece: toPiece(there), known: true };
    const last = proposed ? 1 : 0;
    const row = await database.models.Piece.create(
      {
        ...fresh,
        sha256: rowHashOf(fresh.sha256, page),
        notes: JSON.stringify(fresh.notes),
        id,
        position: last,
        lastNumber: last,
        shelved,
      },
      { transaction },
    );
    await database.models.Revision.create(
      { pieceId: id, number: 0, label: 'untouched', cut: JSON.stringify(untouchedCut(STAGES, page)) },
      { transaction },
    );
    if (proposed) {
      await database.models.Revision.create(
        { pieceId: id, number: 1, label: PROPOSAL, cut: JSON.stringify(proposed) },
        { transaction },
      );
    }
    return { piece: toPiece(row), known: false };
  });
}

/** Every revision of a piece, in order. Throws `not-found`. */
export async function revisionsOf(database: Database, id: string): Promise<Revision[]> {
  await rowOf(database, id);
  const rows = await database.models.Revision.findAll({ where: { pieceId: id }, order: [['number', 'ASC']] });
  return rows.map(({ number, label, cut, createdAt }) => ({
    number,
    label,
    cut: parseCutText(cut),
    createdAt: createdAt.toISOString(),
  }));
}

/**
 * Adds a piece with all its revisions as they were elsewhere. Where the piece is there already with the same cuts it is known;
 * where its work differs, another piece of the same original is added beside it.
 */
export async function addBundled(
  database: Database,
  fresh: NewPiece,
  revisions: readonly Omit<Revision, 'createdAt'>[],
  position: number,
  page: Page,
): Promise<{ piece: Piece; known: boolean }> {
  const { Piece, Revision } = database.models;
  return database.write(async (transaction) => {
    const own = rowHashOf(fresh.sha256, page);
    let rowHash = own;
    for (let n = 1; ; n++) {
      const there = await Piece.findByPk(rowHash === fresh.sha256 ? pieceIdOf(rowHash) : partIdOf(rowHash), {
        transaction,
      });
      if (!there) break;
      const rows = await Revision.findAll({
        where: { pieceId: there.id },
        order: [['number', 'ASC']],
        transaction,
      });
      const isSame =
        there.position === position &&
        rows.length === revisions.length &&
        rows.every(({ number, cut }, k) => {
          const other = revisions[k]!;
          return number === other.number && cut === JSON.stringify(other.cut);
        });
      if (isSame) {
        await there.update({ trashedAt: null }, { transaction });
        return { piece: toPiece(there), known: true };
      }
      rowHash = `${fresh.sha256}${FURTHER}b${n}${own.slice(fresh.sha256.length).replace(FURTHER, '-')}`;
    }
    const row = await Piece.create(
      {
        ...fresh,
        sha256: rowHash,
        notes: JSON.stringify(fresh.notes),
        id: rowHash === fresh.sha256 ? pieceIdOf(rowHash) : partIdOf(rowHash),
        position,
        lastNumber: revisions.at(-1)!.number,
      },
      { transaction },
    );
    for (const { number, label, cut } of revisions)
      await Revision.create({ pieceId: row.id, number, label, cut: JSON.stringify(cut) }, { transaction });
    return { piece: toPiece(row), known: false };
  });
}

/** The piece of a page of the original with this SHA-256, or null. */
export async function findPieceByHash(
  database: Database,
  sha256: string,
  page: Page = ONLY_PAGE,
): Promise<Piece | null> {
  const row = await database.models.Piece.findByPk(pieceIdOf(sha256, page));
  return row ? toPiece(row) : null;
}

/** The piece with this id; throws `not-found`. */
export async function getPiece(database: Database, id: string): Promise<Piece> {
  return toPiece(await rowOf(database, id));
}

/** The pieces on the Shelf, or those in the trash, newest first. */
export async function listPieces(
  database: Database,
  where: 'shelf' | 'trash' = 'shelf',
): Promise<ShelfPiece[]> {
  const rows = await database.models.Piece.findAll({
    where: where === 'shelf' ? { trashedAt: null, shelved: true } : { trashedAt: { [Op.ne]: null } },
    order: [
      ['createdAt', 'DESC'],
      ['name', 'ASC'],
    ],
  });
  const delivered = (await database.models.Delivery.findAll({
    attributes: ['pieceId', [database.sequelize.fn('COUNT', database.sequelize.col('id')), 'count']],
    group: ['pieceId'],
    raw: true,
  })) as unknown as { pieceId: string; count: number }[];
  const counts = new Map(delivered.map(({ pieceId, count }) => [pieceId, count]));
  return rows.map((row) => {
    const deliveries = counts.get(row.id) ?? 0;
    const state = deliveries > 0 ? 'delivered' : row.position > 0 ? 'cut' : 'untouched';
    return { ...toPiece(row), deliveries, state };
  });
}

/** Lays pieces on the Shelf that were brought for a run alone; those that are not there any more are passed over. */
export async function shelvePieces(database: Database, ids: readonly string[]): Promise<void> {
  await database.write((transaction) =>
    database.models.Piece.update({ shelved: true }, { where: { id: { [Op.in]: [...ids] } }, transaction }),
  );
}

/** Gives a piece another name. Throws `not-found`. */
export async function renamePiece(database: Database, id: string, name: string): Promise<void> {
  await change(database, id, { name });
}

/** Notes what the checks found in one revision; what is noted of a revision that is no longer in force is not shown. */
export async function setFindings(
  database: Database,
  id: string,
  findingsRevision: number,
  counts: FindingCounts,
): Promise<void> {
  await change(database, id, { findingsRevision, findings: JSON.stringify(counts) });
}

/** Puts pieces into the trash, or back on the Shelf; those that are not there any more are passed over. */
export async function setTrashed(
  database: Database,
  ids: readonly string[],
  trashed: boolean,
): Promise<void> {
  await database.write(async (transaction) => {
    await database.models.Piece.update(
      trashed ? { trashedAt: new Date() } : { trashedAt: null, shelved: true },
      { where: { id: { [Op.in]: [...ids] } }, transaction },
    );
  });
}

/**
 * Deletes the row of a piece that is in the trash, with its revisions and deliveries. Returns the delivered files that it
 * named, for the caller to remove where nothing else names them; null where the piece is not in the trash any more.
 */
export async function deleteTrashed(database: Database, id: string): Promise<string[] | null> {
  const { Piece, Revision, Delivery } = database.models;
  return database.write(async (transaction) => {
    const row = await Piece.findOne({ where: { id, trashedAt: { [Op.ne]: null } }, transaction });
    if (!row) return null;
    const files = await Delivery.findAll({ where: { pieceId: id }, attributes: ['sha256'], transaction });
    await Delivery.destroy({ where: { pieceId: id }, transaction });
    await Revision.destroy({ where: { pieceId: id }, transaction });
    await row.destroy({ transaction });
    return [...new Set(files.map(({ sha256 }) => sha256))];
  });
}

/** The ids of all pieces, on the Shelf and in the trash. */
export async function pieceIds(database: Database): Promise<Set<string>> {
  const rows = await database.models.Piece.findAll({ attributes: ['id'], raw: true });
  return new Set(rows.map(({ id }) => id));
}

/** SHA-256 of every original that a piece names. */
export async function originalsInUse(database: Database): Promise<Set<string>> {
  const rows = await database.models.Piece.findAll({ attributes: ['sha256'], raw: true });
  return new Set(rows.map((row) => originalOf(row.sha256)));
}

/** Remembers the backing a piece is looked at on. */
export async function setBacking(database: Database, id: string, backing: string): Promise<void> {
  await change(database, id, { backing });
}

async function change(
  database: Database,
  id: string,
  values: Partial<Pick<PieceRow, 'name' | 'backing' | 'findings' | 'findingsRevision'>>,
): Promise<void> {
  await database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    await row.update(values, { transaction });
  });
}

/** The cut in force. */
export async function currentCut(database: Database, id: string): Promise<CutState> {
  return stateOf(database, await rowOf(database, id));
}

/** The cut of one revision; throws `not-found`. */
export async function cutOfRevision(database: Database, id: string, number: number): Promise<Cut> {
  const row = await database.models.Revision.findOne({ where: { pieceId: id, number } });
  if (!row) throw new KenosisError('not-found', `Revision ${number} of this piece is not there any more.`);
  return parseCutText(row.cut);
}

/**
 * Saves a new cut behind revision `after`; what could be redone until now is gone. Throws `conflict` if another
 * revision is in force, which happens when the piece is open in two windows, and `bad-cut` for a cut of another page.
 */
export async function addRevision(
  database: Database,
  id: string,
  after: number,
  cut: Cut,
  label: string,
): Promise<CutState> {
  return database.write(async (transaction) => {
    await reviseWithin(database, transaction, id, { after, cut, label });
    return stateOf(database, await rowOf(database, id, transaction), transaction);
  });
}

/** The same as a part of a larger transaction. Returns the number of the revision. */
export async function reviseWithin(
  database: Database,
  transaction: Transaction,
  id: string,
  { after, cut, label }: { readonly after: number; readonly cut: Cut; readonly label: string },
): Promise<number> {
  const row = await rowOf(database, id, transaction);
  if (row.position !== after) {
    throw new KenosisError(
      'conflict',
      'This piece was changed in another window. Your last change was not saved; reload to go on from the other one.',
    );
  }
  const { page } = (await stateOf(database, row, transaction)).cut;
  if (pageKey(page) !== pageKey(cut.page))
    throw new KenosisError('bad-cut', `cut.page: expected that of the piece, ${JSON.stringify(page)}`);
  await database.models.Revision.destroy({
    where: { pieceId: id, number: { [Op.gt]: after } },
    transaction,
  });
  const number = row.lastNumber + 1;
  await database.models.Revision.create(
    { pieceId: id, number, label, cut: JSON.stringify(cut) },
    { transaction },
  );
  await row.update({ position: number, lastNumber: number }, { transaction });
  return number;
}

/** The cut that was proposed for a piece when it came in; null where none was. */
export async function proposedCut(database: Database, id: string): Promise<Cut | null> {
  const row = await database.models.Revision.findOne({ where: { pieceId: id, number: 1, label: PROPOSAL } });
  return row ? parseCutText(row.cut) : null;
}

/** Steps back or forth by one revision. Throws `nothing-to-undo` or `nothing-to-redo` at the ends. */
export async function step(database: Database, id: string, direction: 'undo' | 'redo'): Promise<CutState> {
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    const target = await neighbor(database, row, direction, transaction);
    if (!target) throw new KenosisError(`nothing-to-${direction}`, `There is nothing to ${direction}.`);
    await row.update({ position: target.number }, { transaction });
    return stateOf(database, row, transaction);
  });
}

async function stateOf(database: Database, row: PieceRow, transaction?: Transaction): Promise<CutState> {
  const now = await database.models.Revision.findOne({
    where: { pieceId: row.id, number: row.position },
    ...within(transaction),
  });
  if (!now) throw new KenosisError('not-found', `The cut of "${row.name}" is missing from the database.`);
  const later = await neighbor(database, row, 'redo', transaction);
  return {
    revision: row.position,
    cut: parseCutText(now.cut),
    undo: row.position > 0 ? now.label : null,
    redo: later?.label ?? null,
  };
}

/** The revision before or behind the one in force. Numbers rise but have gaps, since none is given twice. */
function neighbor(
  database: Database,
  row: PieceRow,
  direction: 'undo' | 'redo',
  transaction?: Transaction,
): Promise<RevisionRow | null> {
  const back = direction === 'undo';
  return database.models.Revision.findOne({
    where: { pieceId: row.id, number: back ? { [Op.lt]: row.position } : { [Op.gt]: row.position } },
    order: [['number', back ? 'DESC' : 'ASC']],
    ...within(transaction),
  });
}

async function rowOf(database: Database, id: string, transaction?: Transaction): Promise<PieceRow> {
  const row = await database.models.Piece.findByPk(id, within(transaction));
  if (!row) throw new KenosisError('not-found', 'This piece is not on the Shelf any more.');
  return row;
}

function toPiece(row: PieceRow): Piece {
  return {
    id: row.id,
    sha256: originalOf(row.sha256),
    name: row.name,
    format: row.format,
    bytes: row.bytes,
    width: row.width,
    height: row.height,
    dpi: row.dpi,
    backing: row.backing,
    reason: row.reason,
    notes: JSON.parse(row.notes) as string[],
    revision: row.position,
    createdAt: row.createdAt.toISOString(),
    findings:
      row.findings && row.findingsRevision === row.position
        ? (JSON.parse(row.findings) as FindingCounts)
        : null,
    trashed: Boolean(row.trashedAt),
  };
}

function within(transaction: Transaction | undefined): { transaction?: Transaction } {
  return transaction ? { transaction } : {};
}
