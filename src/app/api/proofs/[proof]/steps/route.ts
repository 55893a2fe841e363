import { parseProof } from '../../../../../core/proof/parse';
import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { proofStepSchema } from '../../../../../server/http/requests';
import { addProofStep } from '../../../../../storage/proofs';

interface Context {
  readonly params: Promise<{ proof: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('proof', (await params).proof);

/** Saves a state of a proof as a step. */
export const POST = guarded(async (request, context: Context) => {
  const { after, label, proof } = await readBody(request, proofStepSchema);
  const { database } = await getHouse();
  const step = { after, label, proof: parseProof(proof) };
  return Response.json({ state: await addProofStep(database, await numberOf(context), step) });
});
