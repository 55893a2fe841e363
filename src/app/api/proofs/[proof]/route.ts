import { checkNumber, guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { proofChangeSchema } from '../../../../server/http/requests';
import { forgetProof } from '../../../../server/proofs/make-proofs';
import { openProof } from '../../../../server/proofs/open-proof';
import { changeProof } from '../../../../storage/proofs';

interface Context {
  readonly params: Promise<{ proof: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('proof', (await params).proof);

/** A proof with what is known of its grounds and pieces. */
export const GET = guarded(async (_request, context: Context) =>
  Response.json(await openProof(await getHouse(), await numberOf(context))),
);

/** Renames a proof, or notes with which revisions of its pieces it was looked at. */
export const PATCH = guarded(async (request, context: Context) => {
  const { name, seen } = await readBody(request, proofChangeSchema);
  const change = { ...(name === undefined ? {} : { name }), ...(seen === undefined ? {} : { seen }) };
  const { database } = await getHouse();
  return Response.json({ state: await changeProof(database, await numberOf(context), change) });
});

/** Forgets a proof and what was handed over of it; its pieces stay. */
export const DELETE = guarded(async (_request, context: Context) => {
  await forgetProof(await getHouse(), await numberOf(context));
  return Response.json({ forgotten: true });
});
