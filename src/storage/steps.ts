import { Op, type Model, type ModelStatic, type Transaction } from 'sequelize';
import { KenosisError } from '../core/errors';
import type { StepRow } from './models';

/** A row whose content is kept as steps, one of which is in force. */
export interface SteppedRow extends Model {
  id: number;
  /** The number of the step in force, and the highest that was ever given. */
  position: number;
  lastNumber: number;
  changedAt: Date;
}

/** Steps that are kept at most; the oldest go first. */
const MOST_STEPS = 500;

type Steps = ModelStatic<StepRow>;

/** Where a document stands between undo and redo. */
export interface StepState {
  /** The text of the step in force, and its number. */
  readonly content: string;
  readonly step: number;
  readonly undo: string | null;
  readonly redo: string | null;
}

/**
 * Saves a state behind step `after`, which must be the one in force; what was undone is forgotten. `noun` is what the document is
 * called. Throws `conflict`.
 */
export async function addStep(
  steps: Steps,
  row: SteppedRow,
  {
    after,
    label,
    content,
    noun,
  }: { readonly after: number; readonly label: string; readonly content: string; readonly noun: string },
  transaction: Transaction,
): Promise<void> {
  if (row.position !== after)
    throw new KenosisError(
      'conflict',
      `This ${noun} was changed in another window meanwhile. Nothing was lost there: reload this page to go on from it.`,
    );
  const ownerId = row.id;
  await steps.destroy({ where: { ownerId, number: { [Op.gt]: row.position } }, transaction });
  const number = row.lastNumber + 1;
  await steps.create({ ownerId, number, label, content }, { transaction });
  await steps.destroy({ where: { ownerId, number: { [Op.lte]: number - MOST_STEPS } }, transaction });
  row.set({ position: number, lastNumber: number, changedAt: new Date() });
  await row.save({ transaction });
}

/** Takes the last step back, or brings it again. Throws `nothing-to-undo` and `nothing-to-redo`. */
export async function moveStep(
  steps: Steps,
  row: SteppedRow,
  to: 'undo' | 'redo',
  transaction: Transaction,
): Promise<void> {
  const beside = await neighborOf(steps, row, to, transaction);
  if (!beside)
    throw new KenosisError(
      to === 'undo' ? 'nothing-to-undo' : 'nothing-to-redo',
      to === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.',
    );
  row.set({ position: beside.number, changedAt: new Date() });
  await row.save({ transaction });
}

/** The first step of a new row. */
export async function firstStep(
  steps: Steps,
  row: SteppedRow,
  label: string,
  content: string,
  transaction: Transaction,
): Promise<void> {
  await steps.create({ ownerId: row.id, number: 0, label, content }, { transaction });
}

/** The text in force; empty where its step is gone. */
export async function contentOf(steps: Steps, row: SteppedRow): Promise<string> {
  return (await steps.findOne({ where: { ownerId: row.id, number: row.position } }))?.content ?? '';
}

export async function stepState(
  steps: Steps,
  row: SteppedRow,
  transaction?: Transaction,
): Promise<StepState> {
  const within = transaction ? { transaction } : {};
  const before = await neighborOf(steps, row, 'undo', transaction);
  const behind = await neighborOf(steps, row, 'redo', transaction);
  const own = await steps.findOne({ where: { ownerId: row.id, number: row.position }, ...within });
  return {
    content: own?.content ?? '',
    step: row.position,
    undo: before && own ? own.label : null,
    redo: behind?.label ?? null,
  };
}

/** The step before or behind the one in force. */
function neighborOf(steps: Steps, row: SteppedRow, to: 'undo' | 'redo', transaction?: Transaction) {
  const isUndo = to === 'undo';
  return steps.findOne({
    where: { ownerId: row.id, number: { [isUndo ? Op.lt : Op.gt]: row.position } },
    order: [['number', isUndo ? 'DESC' : 'ASC']],
    ...(transaction ? { transaction } : {}),
  });
}
