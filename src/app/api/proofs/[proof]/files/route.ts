import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { handOverSchema } from '../../../../../server/http/requests';
import { handOver } from '../../../../../server/proofs/hand-over';

interface Context {
  readonly params: Promise<{ proof: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('proof', (await params).proof);

/** Hands a ground over: as a picture, as the PDF itself, or a piece alone as large as it is placed. */
export const POST = guarded(async (request, context: Context) => {
  const wanted = await readBody(request, handOverSchema);
  const file = await handOver(await getHouse(), await numberOf(context), wanted, request.signal);
  return Response.json({ file }, { status: 201 });
});
