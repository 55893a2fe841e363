import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { proofMoveSchema } from '../../../../../server/http/requests';
import { moveProof } from '../../../../../storage/proofs';

interface Context {
  readonly params: Promise<{ proof: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('proof', (await params).proof);

/** Takes the last step back, or brings it again. */
export const POST = guarded(async (request, context: Context) => {
  const { to } = await readBody(request, proofMoveSchema);
  const { database } = await getHouse();
  return Response.json({ state: await moveProof(database, await numberOf(context), to) });
});
