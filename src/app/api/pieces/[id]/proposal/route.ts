import { z } from 'zod';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { proposeAnew } from '../../../../../server/propose-anew';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({ revision: z.int().min(0) });

/** What would be proposed for a piece if it came today, beside one of its revisions. */
export const POST = guarded(async (request, { params }: Context) => {
  const { revision } = await readBody(request, bodySchema);
  const id = checkPieceId((await params).id);
  return Response.json(await proposeAnew(await getHouse(), id, revision, request.signal));
});
