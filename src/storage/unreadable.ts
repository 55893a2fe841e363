import { DOCUMENT_KINDS, type RowKind, type UnreadableRow } from '../core/document';
import { isKenosisError, KenosisError } from '../core/errors';
import { parseProofText } from '../core/proof/parse';
import { parseRoutineText } from '../core/routine/parse';
import { parseSetText } from '../core/stages/deliver/set-document';
import { parseWatermarkText } from '../core/watermark/parse';
import type { Database } from './database';
import type { Models } from './models';

interface Kept {
  readonly id: string;
  readonly name: string;
  readonly text: string;
}

interface Kind {
  readonly rows: (models: Models) => Promise<readonly Kept[]>;
  readonly parse: (text: string) => unknown;
}

const KINDS: Readonly<Record<RowKind, Kind>> = {
  proof: {
    rows: async ({ Proof, ProofStep }) => withSteps(await Proof.findAll(), await ProofStep.findAll()),
    parse: parseProofText,
  },
  watermark: {
    rows: async ({ Watermark, WatermarkStep }) =>
      withSteps(await Watermark.findAll(), await WatermarkStep.findAll()),
    parse: parseWatermarkText,
  },
  routine: {
    rows: async ({ Routine }) =>
      (await Routine.findAll()).map(({ name, content }) => ({ id: name, name, text: content })),
    parse: parseRoutineText,
  },
  set: {
    rows: async ({ OutputSet }) =>
      (await OutputSet.findAll()).map(({ name, content }) => ({ id: name, name, text: content })),
    parse: parseSetText,
  },
  run: {
    rows: async ({ Run }) =>
      (await Run.findAll()).map(({ id, name, routine }) => ({ id: String(id), name, text: routine })),
    parse: parseRoutineText,
  },
  watch: {
    rows: async ({ Watch }) =>
      (await Watch.findAll()).map(({ id, folder, routine }) => ({
        id: String(id),
        name: folder,
        text: routine,
      })),
    parse: parseRoutineText,
  },
};

/** Documents that have steps: the text of the one in force; none at all cannot be read either. */
function withSteps(
  rows: readonly { readonly id: number; readonly name: string; readonly position: number }[],
  steps: readonly { readonly ownerId: number; readonly number: number; readonly content: string }[],
): Kept[] {
  const texts = new Map(steps.map(({ ownerId, number, content }) => [`${ownerId} ${number}`, content]));
  return rows.map(({ id, name, position }) => ({
    id: String(id),
    name,
    text: texts.get(`${id} ${position}`) ?? '',
  }));
}

/** What can be read of rows, in their order; `unreadableRows` has the others. */
export function readable<Row, T>(rows: readonly Row[], read: (row: Row) => T): T[] {
  return rows.flatMap((row) => {
    try {
      return [read(row)];
    } catch (error) {
      if (isKenosisError(error)) return [];
      throw error;
    }
  });
}

/** The rows of some kinds whose documents cannot be read. */
export async function unreadableRows(
  { models }: Database,
  kinds: readonly RowKind[] = DOCUMENT_KINDS,
): Promise<UnreadableRow[]> {
  const found: UnreadableRow[] = [];
  for (const kind of kinds) {
    const { rows, parse } = KINDS[kind];
    for (const { id, name, text } of await rows(models))
      try {
        parse(text);
      } catch (error) {
        found.push({ kind, id, name, why: (error as Error).message });
      }
  }
  return found;
}

/** The text of a row's document, as it is. Throws `not-found`. */
export async function documentText({ models }: Database, kind: RowKind, id: string): Promise<string> {
  const row = (await KINDS[kind].rows(models)).find((one) => one.id === id);
  if (!row) throw new KenosisError('not-found', `There is no ${kind} under this address.`);
  return row.text;
}
