import { Op, type Transaction } from 'sequelize';
import { KenosisError } from '../core/errors';
import type { Database } from './database';
import type { DeliveryRow } from './models';

/** The record of a file that was written and verified. */
export interface Delivery {
  readonly id: number;
  readonly pieceId: string;
  readonly revision: number;
  readonly fileName: string;
  readonly format: string;
  readonly sha256: string;
  readonly pixelSha256: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  readonly transparent: number;
  readonly partly: number;
  readonly opaque: number;
  /** How its file was found when it was read back; null for those made before that was written down. */
  readonly findings: object | null;
  readonly createdAt: string;
}

export type NewDelivery = Omit<Delivery, 'id' | 'createdAt'> & { readonly cut: string };

export async function addDelivery(database: Database, fresh: NewDelivery): Promise<Delivery> {
  return database.write((transaction) => addDeliveryWithin(database, transaction, fresh));
}

/** The same as a part of a larger transaction. */
export async function addDeliveryWithin(
  database: Database,
  transaction: Transaction,
  fresh: NewDelivery,
): Promise<Delivery> {
  const findings = fresh.findings && JSON.stringify(fresh.findings);
  return toDelivery(await database.models.Delivery.create({ ...fresh, findings }, { transaction }));
}

/** The deliveries of a piece, newest first. */
export async function listDeliveries(database: Database, pieceId: string): Promise<Delivery[]> {
  const rows = await database.models.Delivery.findAll({ where: { pieceId }, order: [['id', 'DESC']] });
  return rows.map(toDelivery);
}

/** One delivery; throws `not-found`. */
export async function getDelivery(database: Database, id: number): Promise<Delivery> {
  const row = await database.models.Delivery.findByPk(id);
  if (!row) throw new KenosisError('not-found', 'This delivery is not recorded any more.');
  return toDelivery(row);
}

/** Whether any row names this delivered file. */
export async function isDelivered(database: Database, sha256: string): Promise<boolean> {
  const { Delivery, ProofFile } = database.models;
  return (await Delivery.count({ where: { sha256 } })) + (await ProofFile.count({ where: { sha256 } })) > 0;
}

/** The name of the file that a photo was delivered as with that mark; null where it never was. */
export async function markedAs(database: Database, pieceId: string, mark: string): Promise<string | null> {
  const where = { pieceId, findings: { [Op.like]: `%"mark":"${mark}"%` } };
  const row = await database.models.Delivery.findOne({ where, order: [['id', 'DESC']] });
  return row?.fileName ?? null;
}

/** SHA-256 of every delivered file that a row names. */
export async function deliveriesInUse(database: Database): Promise<Set<string>> {
  const { Delivery, ProofFile } = database.models;
  const rows = await Delivery.findAll({ attributes: ['sha256'], raw: true });
  const ofProofs = await ProofFile.findAll({ attributes: ['sha256'], raw: true });
  return new Set([...rows, ...ofProofs].map((row) => row.sha256));
}

function toDelivery(row: DeliveryRow): Delivery {
  return {
    id: row.id,
    pieceId: row.pieceId,
    revision: row.revision,
    fileName: row.fileName,
    format: row.format,
    sha256: row.sha256,
    pixelSha256: row.pixelSha256,
    bytes: row.bytes,
    width: row.width,
    height: row.height,
    dpi: row.dpi,
    transparent: row.transparent,
    partly: row.partly,
    opaque: row.opaque,
    findings: row.findings === null ? null : (JSON.parse(row.findings) as object),
    createdAt: row.createdAt.toISOString(),
  };
}
