import { keptDecisions } from '../../../../../server/decisions';
import { checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { sendFile } from '../../../../../server/send-file';
import { getPiece } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/** What was decided of a piece, as gzip, for the bench to show it the same; nothing where nothing was. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  const path = await keptDecisions(house, await getPiece(house.database, checkPieceId((await params).id)));
  if (!path) return new Response(null, { status: 204 });
  return sendFile(path, { type: 'application/gzip', cache: 'no-store' });
});
