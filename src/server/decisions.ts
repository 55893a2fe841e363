import { readFile, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import type { Cut } from '../core/cut/schema';
import { KeptDecisions } from '../core/decision/kept-decisions';
import type { PieceInput } from '../engine/node/open-picture';
import { pieceKey } from '../storage/own-files';
import { getPiece, type Piece } from '../storage/pieces';
import type { House } from './rooms';

/** So many decisions are kept of a piece, each 10 to 60 kB before they are pressed: those that were taken first go first. */
const MOST_KEPT = 64;

/** The file of the decisions that were taken on a piece, as gzip; null where there are none. */
export async function keptDecisions({ files }: Pick<House, 'files'>, piece: Piece): Promise<string | null> {
  const key = pieceKey(piece);
  return (await files.has('decisions', key)) ? files.pathOf('decisions', key) : null;
}

/** A piece as a task opens it with one of its cuts, by what was decided of it before. Throws `missing-original`. */
export async function pieceInput(
  house: Pick<House, 'files' | 'originals'>,
  piece: Piece,
  cut: Cut,
): Promise<PieceInput> {
  const [originalPath, decisionsPath] = await Promise.all([
    house.originals.pathOf(piece),
    keptDecisions(house, piece),
  ]);
  return { originalPath, originalName: piece.name, cut, decisionsPath };
}

/**
 * Keeps what a task decided of a piece beside what was decided before, which stays as it was. A file that cannot be read is written
 * anew. Nothing is kept of a piece that went meanwhile, or where the disk is full: that is decided anew by the checks.
 */
export async function keepDecisions(
  { database, files, locks }: Pick<House, 'database' | 'files' | 'locks'>,
  piece: Piece,
  taken: Uint8Array | null,
): Promise<void> {
  if (!taken) return;
  const key = pieceKey(piece);
  await locks.acquire(`decisions ${key}`, async () => {
    const kept = await readFile(files.pathOf('decisions', key))
      .then((bytes) => promisify(gunzip)(bytes))
      .then((bytes) => new KeptDecisions(bytes))
      .catch(() => new KeptDecisions());
    if (!kept.add(taken)) return;
    const path = await files.incomingPath();
    try {
      await writeFile(path, await promisify(gzip)(kept.pack(MOST_KEPT)), { flush: true });
      if ((await getPiece(database, piece.id)).createdAt === piece.createdAt)
        await files.keep(path, 'decisions', key);
    } catch (error) {
      console.error(`What was decided of "${piece.name}" could not be kept:`, error);
    } finally {
      await files.drop(path);
    }
  });
}
