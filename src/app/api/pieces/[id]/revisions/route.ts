import { z } from 'zod';
import { parseCut } from '../../../../../core/cut/parse';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { addRevision } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({
  after: z.int().min(0),
  label: z.string().min(1).max(120),
  cut: z.unknown(),
});

/** Saves a new cut behind the revision it was made from. */
export const POST = guarded(async (request, { params }: Context) => {
  const { database } = await getHouse();
  const { after, label, cut } = await readBody(request, bodySchema);
  const state = await addRevision(database, checkPieceId((await params).id), after, parseCut(cut), label);
  return Response.json(state, { status: 201 });
});
