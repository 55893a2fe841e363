import { z } from 'zod';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { step } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

/** Undo and redo. */
export const POST = guarded(async (request, { params }: Context) => {
  const { database } = await getHouse();
  const { move } = await readBody(request, z.strictObject({ move: z.enum(['undo', 'redo']) }));
  return Response.json(await step(database, checkPieceId((await params).id), move));
});
