import { isKenosisError } from '../../core/errors';
import type { Proof } from '../../core/proof/settings';
import { currentCut, getPiece } from '../../storage/pieces';
import { getProof, proofFiles, type ProofFile, type ProofState } from '../../storage/proofs';
import type { House } from '../rooms';
import { groundFactsOf, type KnownGround } from './ground-files';

/** A piece that is laid in a proof. */
export interface ProofPiece {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly colorways: readonly { readonly name: string; readonly color: string }[];
}

/** A proof with what its screen shows of it. */
export interface OpenProof {
  readonly state: ProofState;
  /** By the ids of its grounds; those that cannot be drawn say why. */
  readonly grounds: Readonly<Record<string, KnownGround | { readonly trouble: string }>>;
  /** By their ids; those that are gone are left out. */
  readonly pieces: Readonly<Record<string, ProofPiece>>;
  readonly files: readonly ProofFile[];
}

/** A proof with all that is known of its grounds and pieces. Throws `not-found`. */
export async function openProof(house: House, id: number): Promise<OpenProof> {
  const state = await getProof(house.database, id);
  const [grounds, pieces, files] = await Promise.all([
    groundsOf(house, state.proof),
    piecesOf(house, state.proof),
    proofFiles(house.database, id),
  ]);
  return { state, grounds, pieces, files };
}

export async function groundsOf(house: House, { grounds }: Proof): Promise<OpenProof['grounds']> {
  const known: Record<string, KnownGround | { readonly trouble: string }> = {};
  await Promise.all(
    grounds.map(async ({ id, source }) => {
      known[id] = await groundFactsOf(house, source).catch((error: unknown) => {
        if (!isKenosisError(error)) throw error;
        return { trouble: error.message };
      });
    }),
  );
  return known;
}

export function piecesOf(house: House, { grounds }: Proof): Promise<OpenProof['pieces']> {
  return knownPieces(
    house,
    grounds.flatMap(({ placed }) => placed.map(({ piece }) => piece)),
  );
}

/** What is known of pieces, by their ids; those that are gone are left out. */
export async function knownPieces(
  { database }: House,
  ids: readonly string[],
): Promise<Readonly<Record<string, ProofPiece>>> {
  const known: Record<string, ProofPiece> = {};
  for (const id of new Set(ids)) {
    const piece = await getPiece(database, id).catch(() => null);
    if (!piece) continue;
    const { cut, revision } = await currentCut(database, id);
    known[id] = { id, name: piece.name, revision, colorways: cut.ink.colorways };
  }
  return known;
}
