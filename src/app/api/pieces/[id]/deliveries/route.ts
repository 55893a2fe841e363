import { z } from 'zod';
import { LONGEST_COLORWAY } from '../../../../../core/stages/ink/settings';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { deliverPiece } from '../../../../../server/deliver-piece';
import { getHouse } from '../../../../../server/house';
import { listDeliveries } from '../../../../../storage/deliveries';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

const bodySchema = z.strictObject({
  revision: z.int().min(0),
  shownSha256: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable(),
  colorway: z.string().max(LONGEST_COLORWAY).nullable().default(null),
  output: z.int().min(0).default(0),
  date: z.iso.date().optional(),
});

/** The deliveries of a piece, newest first. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  return Response.json({ deliveries: await listDeliveries(house.database, checkPieceId((await params).id)) });
});

/** Delivers one revision of a piece. */
export const POST = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const wanted = await readBody(request, bodySchema);
  const { date = null, ...rest } = wanted;
  const asked = date === null ? rest : { ...rest, date };
  const report = await deliverPiece(house, checkPieceId((await params).id), asked, request.signal);
  return Response.json(report, { status: 201 });
});
