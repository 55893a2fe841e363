import { Op, type Transaction } from 'sequelize';
import { KenosisError } from '../core/errors';
import { newProof } from '../core/proof/first-proof';
import { parseProofText } from '../core/proof/parse';
import type { Proof } from '../core/proof/settings';
import type { Database } from './database';
import type { ProofFileRow, ProofRow } from './models';
import { addStep, contentOf, firstStep, moveStep, stepState } from './steps';
import { readable } from './unreadable';

/** A proof as lists of them show it. */
export interface ProofEntry {
  readonly id: number;
  readonly name: string;
  /** Whether PDFs that are brought to it become proofs of their own. */
  readonly isTemplate: boolean;
  readonly createdAt: string;
  readonly changedAt: string;
  /** As it is in force. */
  readonly proof: Proof;
}

/** A proof and where it stands between undo and redo. */
export interface ProofState extends ProofEntry {
  /** The number of the step in force. */
  readonly step: number;
  readonly undo: string | null;
  readonly redo: string | null;
  /** The revisions of pieces that it was looked at with last, by their ids. */
  readonly seen: Readonly<Record<string, number>>;
}

/** How a file was found when it was read back. */
export interface ProofFileFindings {
  readonly kind: string;
  readonly decoder: string;
  readonly dpi: number | null;
  readonly color: { readonly largest: number; readonly mean: number };
  /** How far a PDF's page, drawn by another library, lies from the proof. */
  readonly page?: { readonly beside: number; readonly mean: number; readonly block: number } | null;
}

/** A file that was handed over of a proof. */
export interface ProofFile {
  readonly id: number;
  readonly proofId: number;
  readonly ground: string;
  readonly fileName: string;
  readonly format: string;
  readonly sha256: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly findings: ProofFileFindings;
  readonly createdAt: string;
}

/** A PDF that was brought as a ground. */
export interface GroundEntry {
  readonly sha256: string;
  readonly name: string;
  readonly bytes: number;
}

/** All proofs that can be read, the newest change first. */
export async function listProofs(database: Database): Promise<ProofEntry[]> {
  const rows = await database.models.Proof.findAll({
    order: [
      ['changedAt', 'DESC'],
      ['id', 'DESC'],
    ],
  });
  const { ProofStep } = database.models;
  const kept = await Promise.all(rows.map(async (row) => ({ row, text: await contentOf(ProofStep, row) })));
  return readable(kept, ({ row, text }) => ({ ...entryOf(row), proof: parseProofText(text) }));
}

/** Throws `not-found`. */
export async function getProof(database: Database, id: number): Promise<ProofState> {
  return stateOf(database, await rowOf(database, id));
}

export async function addProof(
  database: Database,
  fresh: { readonly name: string; readonly isTemplate?: boolean; readonly proof?: Proof },
): Promise<ProofState> {
  const { name, isTemplate = false, proof = newProof([]) } = fresh;
  return database.write(async (transaction) => {
    const now = new Date();
    const row = await database.models.Proof.create(
      { name, isTemplate, position: 0, lastNumber: 0, createdAt: now, changedAt: now },
      { transaction },
    );
    await firstStep(database.models.ProofStep, row, 'a new proof', JSON.stringify(proof), transaction);
    return stateOf(database, row, transaction);
  });
}

/** Gives a proof another name, or makes a template of it, or none. Throws `not-found`. */
export async function changeProof(
  database: Database,
  id: number,
  change: {
    readonly name?: string;
    readonly isTemplate?: boolean;
    readonly seen?: Readonly<Record<string, number>>;
  },
): Promise<ProofState> {
  const { seen, ...plain } = change;
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    await row.update({ ...plain, ...(seen ? { seen: JSON.stringify(seen) } : {}) }, { transaction });
    return stateOf(database, row, transaction);
  });
}

/**
 * Saves a state of a proof behind step `after`, which must be the one in force; what was undone is forgotten. Throws `not-found`
 * and `conflict`.
 */
export async function addProofStep(
  database: Database,
  id: number,
  step: { readonly after: number; readonly label: string; readonly proof: Proof },
): Promise<ProofState> {
  const { after, label, proof } = step;
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    const saved = { after, label, content: JSON.stringify(proof), noun: 'proof' };
    await addStep(database.models.ProofStep, row, saved, transaction);
    return stateOf(database, row, transaction);
  });
}

/** Takes the last step of a proof back, or brings it again. Throws `nothing-to-undo` and `nothing-to-redo`. */
export async function moveProof(database: Database, id: number, to: 'undo' | 'redo'): Promise<ProofState> {
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    await moveStep(database.models.ProofStep, row, to, transaction);
    return stateOf(database, row, transaction);
  });
}

/** Forgets a proof with its steps and what was handed over. Returns the files that it named, for the caller to remove. */
export async function removeProof(database: Database, id: number): Promise<string[]> {
  const { ProofStep, ProofFile } = database.models;
  return database.write(async (transaction) => {
    const row = await rowOf(database, id, transaction);
    const files = await ProofFile.findAll({ where: { proofId: id }, transaction });
    await ProofFile.destroy({ where: { proofId: id }, transaction });
    await ProofStep.destroy({ where: { ownerId: id }, transaction });
    await row.destroy({ transaction });
    return [...new Set(files.map(({ sha256 }) => sha256))];
  });
}

export async function addProofFile(
  database: Database,
  fresh: Omit<ProofFile, 'id' | 'createdAt'>,
): Promise<ProofFile> {
  return database.write(async (transaction) => {
    await rowOf(database, fresh.proofId, transaction);
    const row = { ...fresh, findings: JSON.stringify(fresh.findings) };
    return toFile(await database.models.ProofFile.create(row, { transaction }));
  });
}

/** What was handed over of a proof, the newest first. */
export async function proofFiles(database: Database, proofId: number): Promise<ProofFile[]> {
  const rows = await database.models.ProofFile.findAll({ where: { proofId }, order: [['id', 'DESC']] });
  return rows.map(toFile);
}

/** Throws `not-found`. */
export async function getProofFile(database: Database, id: number): Promise<ProofFile> {
  const row = await database.models.ProofFile.findByPk(id);
  if (!row) throw new KenosisError('not-found', 'This file is not recorded any more.');
  return toFile(row);
}

export async function saveGround(database: Database, { sha256, name, bytes }: GroundEntry): Promise<void> {
  await database.write((transaction) =>
    database.models.Ground.upsert({ sha256, name, bytes }, { transaction }),
  );
}

/** Throws `not-found`. */
export async function getGround(database: Database, sha256: string): Promise<GroundEntry> {
  const row = await database.models.Ground.findByPk(sha256);
  if (!row) throw new KenosisError('not-found', 'This PDF is not in the house any more. Bring it again.');
  return { sha256: row.sha256, name: row.name, bytes: row.bytes };
}

/** Forgets the PDFs that no step of any proof names; returns them, for the caller to remove. */
export async function forgetUnusedGrounds(database: Database): Promise<string[]> {
  return database.write(async (transaction) => {
    const rows = await database.models.Ground.findAll({ transaction });
    const gone: string[] = [];
    for (const row of rows) {
      const named = await database.models.ProofStep.count({
        where: { content: { [Op.like]: `%${row.sha256}%` } },
        transaction,
      });
      if (named > 0) continue;
      gone.push(row.sha256);
      await row.destroy({ transaction });
    }
    return gone;
  });
}

/** SHA-256 of every PDF that was brought as a ground. */
export async function groundsInUse(database: Database): Promise<Set<string>> {
  const rows = await database.models.Ground.findAll({ attributes: ['sha256'], raw: true });
  return new Set(rows.map(({ sha256 }) => sha256));
}

async function rowOf(database: Database, id: number, transaction?: Transaction): Promise<ProofRow> {
  const row = await database.models.Proof.findByPk(id, transaction ? { transaction } : {});
  if (!row) throw new KenosisError('not-found', 'There is no proof under this address.');
  return row;
}

function entryOf(row: ProofRow): Omit<ProofEntry, 'proof'> {
  return {
    id: row.id,
    name: row.name,
    isTemplate: row.isTemplate,
    createdAt: row.createdAt.toISOString(),
    changedAt: row.changedAt.toISOString(),
  };
}

async function stateOf(database: Database, row: ProofRow, transaction?: Transaction): Promise<ProofState> {
  const { content, ...stands } = await stepState(database.models.ProofStep, row, transaction);
  return {
    ...entryOf(row),
    proof: parseProofText(content),
    ...stands,
    seen: JSON.parse(row.seen) as Record<string, number>,
  };
}

function toFile(row: ProofFileRow): ProofFile {
  const { id, proofId, ground, fileName, format, sha256, bytes, width, height } = row;
  return {
    id,
    proofId,
    ground,
    fileName,
    format,
    sha256,
    bytes,
    width,
    height,
    findings: JSON.parse(row.findings) as ProofFileFindings,
    createdAt: row.createdAt.toISOString(),
  };
}
