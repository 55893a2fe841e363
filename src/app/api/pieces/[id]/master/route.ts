import { checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { masterOf } from '../../../../../server/master';
import { getPiece } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/** The decoded master as raw RGBA bytes: what the bench computes on is what the server delivers from. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const piece = await getPiece(house.database, checkPieceId((await params).id));
  const master = await masterOf(house, piece, request.signal);
  return new Response(master.data, {
    headers: {
      'content-type': 'application/octet-stream',
      'cache-control': 'no-store',
      'x-width': String(master.width),
      'x-height': String(master.height),
    },
  });
});
