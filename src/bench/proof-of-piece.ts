import { proofsApi, type ProofEntryFacts } from './proofs-api';

/** The proof that a piece is tried on: the one of it that was changed last, or a new one. */
export async function proofOfPiece(piece: string): Promise<number> {
  const { proofs } = await proofsApi.proofs();
  const has = ({ isTemplate, proof }: ProofEntryFacts) =>
    !isTemplate && proof.grounds.some(({ placed }) => placed.some((one) => one.piece === piece));
  const known = proofs.find(has);
  return known ? known.id : (await proofsApi.ofPiece(piece)).state.id;
}
