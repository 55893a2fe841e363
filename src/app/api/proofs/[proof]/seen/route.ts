import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { seenRequestSchema } from '../../../../../server/http/requests';
import { seenOnGround } from '../../../../../server/proofs/hand-over';

interface Context {
  readonly params: Promise<{ proof: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('proof', (await params).proof);

/** Measures the pieces on a ground: contrast, pixels, old background that shows there. */
export const POST = guarded(async (request, context: Context) => {
  const { ground } = await readBody(request, seenRequestSchema);
  const house = await getHouse();
  return Response.json({ seen: await seenOnGround(house, await numberOf(context), ground, request.signal) });
});
