import { z } from 'zod';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { readyPiece } from '../../../../../server/ready-piece';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({ revision: z.int().min(0) });

/** Makes one revision of a piece ready to be delivered. */
export const POST = guarded(async (request, { params }: Context) => {
  const { revision } = await readBody(request, bodySchema);
  await readyPiece(await getHouse(), checkPieceId((await params).id), revision);
  return Response.json({ revision });
});
