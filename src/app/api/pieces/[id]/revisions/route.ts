import { parseCut } from '../../../../../core/cut/parse';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { revisionRequestSchema } from '../../../../../server/http/requests';
import { addRevision } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

/** Saves a new cut behind the revision it was made from. */
export const POST = guarded(async (request, { params }: Context) => {
  const { database } = await getHouse();
  const { after, label, cut } = await readBody(request, revisionRequestSchema);
  const state = await addRevision(database, checkPieceId((await params).id), after, parseCut(cut), label);
  return Response.json(state, { status: 201 });
});
