import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { deliverPiece } from '../../../../../server/deliver-piece';
import { getHouse } from '../../../../../server/house';
import { deliverRequestSchema } from '../../../../../server/http/requests';
import { listDeliveries } from '../../../../../storage/deliveries';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/** The deliveries of a piece, newest first. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  return Response.json({ deliveries: await listDeliveries(house.database, checkPieceId((await params).id)) });
});

/** Delivers one revision of a piece. */
export const POST = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const wanted = await readBody(request, deliverRequestSchema);
  const { date = null, ...rest } = wanted;
  const asked = date === null ? rest : { ...rest, date };
  const report = await deliverPiece(house, checkPieceId((await params).id), asked, request.signal);
  return Response.json(report, { status: 201 });
});
