import { Op, type Transaction } from 'sequelize';
import { KenosisError } from '../core/errors';
import { parseWatermarkText } from '../core/watermark/parse';
import type { Watermark } from '../core/watermark/settings';
import type { Database } from './database';
import type { WatermarkRow } from './models';
import { addStep, contentOf, firstStep, moveStep, stepState } from './steps';
import { readable } from './unreadable';

/** A watermark as lists of them show it. */
export interface WatermarkEntry {
  readonly id: number;
  readonly createdAt: string;
  readonly changedAt: string;
  /** As it is in force; its name is in it. */
  readonly watermark: Watermark;
}

/** A watermark and where it stands between undo and redo. */
export interface WatermarkState extends WatermarkEntry {
  readonly step: number;
  readonly undo: string | null;
  readonly redo: string | null;
}

/** A font file that was brought. */
export interface FontEntry {
  readonly sha256: string;
  readonly name: string;
  readonly bytes: number;
  readonly facts: {
    readonly family: string;
    readonly kind: string;
    readonly weights: { readonly min: number; readonly max: number } | null;
  };
}

/** All watermarks that can be read, the newest change first. */
export async function listWatermarks({ models }: Database): Promise<WatermarkEntry[]> {
  const rows = await models.Watermark.findAll({
    order: [
      ['changedAt', 'DESC'],
      ['id', 'DESC'],
    ],
  });
  const kept = await Promise.all(
    rows.map(async (row) => ({ row, text: await contentOf(models.WatermarkStep, row) })),
  );
  return readable(kept, ({ row, text }) => ({ ...entryOf(row), watermark: parseWatermarkText(text) }));
}

/** Throws `not-found`. */
export async function getWatermark(database: Database, id: number): Promise<WatermarkState> {
  return stateOf(database, await rowOf(database, id));
}

export async function addWatermark(database: Database, watermark: Watermark): Promise<WatermarkState> {
  return database.write(async (transaction) => {
    const now = new Date();
    const row = await database.models.Watermark.create(
      { name: watermark.name, position: 0, lastNumber: 0, createdAt: now, changedAt: now },
      { transaction },
    );
    const content = JSON.stringify(watermark);
    await firstStep(database.models.WatermarkStep, row, 'a new watermark', content, transaction);
    return stateOf(database, row, transaction);
  });
}

/** Saves a state of a watermark behind step `after`, which must be the one in force. Throws `not-found` and `conflict`. */
export async function addWatermarkStep(
  database: Database,
  id: number,
  {
    after,
    label,
    watermark,
  }: { readonly after: number; readonly label: string; readonly watermark: Watermark },
): Promise<WatermarkState> {
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    const saved = { after, label, content: JSON.stringify(watermark), noun: 'watermark' };
    await addStep(database.models.WatermarkStep, row, saved, transaction);
    await row.update({ name: watermark.name }, { transaction });
    return stateOf(database, row, transaction);
  });
}

/** Takes the last step of a watermark back, or brings it again. Throws `nothing-to-undo` and `nothing-to-redo`. */
export async function moveWatermark(
  database: Database,
  id: number,
  to: 'undo' | 'redo',
): Promise<WatermarkState> {
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    await moveStep(database.models.WatermarkStep, row, to, transaction);
    const state = await stateOf(database, row, transaction);
    await row.update({ name: state.watermark.name }, { transaction });
    return state;
  });
}

/** Forgets a watermark with its steps. Marked photos stay. */
export async function removeWatermark(database: Database, id: number): Promise<void> {
  await database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    await database.models.WatermarkStep.destroy({ where: { ownerId: id }, transaction });
    await row.destroy({ transaction });
  });
}

export async function saveFont(database: Database, { sha256, name, bytes, facts }: FontEntry): Promise<void> {
  await database.write((transaction) =>
    database.models.Font.upsert({ sha256, name, bytes, facts: JSON.stringify(facts) }, { transaction }),
  );
}

/** The fonts that were brought, by their names. */
export async function listFonts(database: Database): Promise<FontEntry[]> {
  const rows = await database.models.Font.findAll({ order: [['name', 'ASC']] });
  return rows.map(({ sha256, name, bytes, facts }) => ({
    sha256,
    name,
    bytes,
    facts: JSON.parse(facts) as FontEntry['facts'],
  }));
}

/** Forgets a font. Throws `conflict` where a watermark, or a routine that marks photos, is set in it. */
export async function removeFont(database: Database, sha256: string): Promise<void> {
  await database.write(async (transaction) => {
    const { WatermarkStep, Routine, Run, Watch } = database.models;
    const names = { [Op.like]: `%${sha256}%` };
    const named = [
      await WatermarkStep.count({ where: { content: names }, transaction }),
      await Routine.count({ where: { content: names }, transaction }),
      await Run.count({ where: { routine: names, state: { [Op.in]: ['running', 'paused'] } }, transaction }),
      await Watch.count({ where: { routine: names }, transaction }),
    ];
    if (named.some((count) => count > 0))
      throw new KenosisError(
        'conflict',
        'A watermark is set in this font, or was, or a routine marks photos with it. Nothing was changed. Forget that first.',
      );
    await database.models.Font.destroy({ where: { sha256 }, transaction });
  });
}

/** SHA-256 of every font that was brought. */
export async function fontsInUse(database: Database): Promise<Set<string>> {
  const rows = await database.models.Font.findAll({ attributes: ['sha256'], raw: true });
  return new Set(rows.map(({ sha256 }) => sha256));
}

async function rowOf(database: Database, id: number, transaction?: Transaction): Promise<WatermarkRow> {
  const row = await database.models.Watermark.findByPk(id, transaction ? { transaction } : {});
  if (!row) throw new KenosisError('not-found', 'There is no watermark under this address.');
  return row;
}

function entryOf(row: WatermarkRow): Omit<WatermarkEntry, 'watermark'> {
  return { id: row.id, createdAt: row.createdAt.toISOString(), changedAt: row.changedAt.toISOString() };
}

async function stateOf(
  database: Database,
  row: WatermarkRow,
  transaction?: Transaction,
): Promise<WatermarkState> {
  const { content, ...stands } = await stepState(database.models.WatermarkStep, row, transaction);
  return { ...entryOf(row), watermark: parseWatermarkText(content), ...stands };
}
