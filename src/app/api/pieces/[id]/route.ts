import { z } from 'zod';
import { isBacking } from '../../../../core/view/backing';
import { checkPieceId, guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { currentCut, getPiece, setBacking } from '../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({
  backing: z.string().refine(isBacking, 'expected "checker" or a color like #ff00ff'),
});

export const dynamic = 'force-dynamic';

/** A piece and its cut in force. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  const id = checkPieceId((await params).id);
  return Response.json({
    piece: await getPiece(house.database, id),
    state: await currentCut(house.database, id),
  });
});

/** Remembers the backing the piece is looked at on. */
export const PATCH = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const { backing } = await readBody(request, bodySchema);
  await setBacking(house.database, checkPieceId((await params).id), backing);
  return Response.json({ backing });
});
