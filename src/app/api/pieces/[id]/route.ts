import { z } from 'zod';
import { isBacking } from '../../../../core/view/backing';
import { checkPieceId, guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { pieceName } from '../../../../server/piece-name';
import { currentCut, getPiece, renamePiece, setBacking } from '../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.union([
  z.strictObject({
    backing: z
      .string()
      .refine(isBacking, 'expected checker, checker-dark, a color like #ff00ff, or piece: and an id'),
  }),
  z.strictObject({ name: z.string().trim().min(1, 'expected a name').max(200) }),
]);

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

/** Remembers the backing the piece is looked at on, or gives it another name. */
export const PATCH = guarded(async (request, { params }: Context) => {
  const { database } = await getHouse();
  const body = await readBody(request, bodySchema);
  const id = checkPieceId((await params).id);
  if ('backing' in body) {
    await setBacking(database, id, body.backing);
    return Response.json(body);
  }
  const name = pieceName(body.name);
  await renamePiece(database, id, name);
  return Response.json({ name });
});
