import { z } from 'zod';
import { parseCut } from '../../../../../core/cut/parse';
import { MOST_PIECES_LEFT } from '../../../../../core/stages/touch-up/islands-left';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { addParts } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({ cuts: z.array(z.unknown()).min(1).max(MOST_PIECES_LEFT) });

/** Puts further pieces of the same original on the Shelf, each with a cut of its own. */
export const POST = guarded(async (request, { params }: Context) => {
  const { database } = await getHouse();
  const { cuts } = await readBody(request, bodySchema);
  const parsed = cuts.map((cut) => parseCut(cut));
  const pieces = await addParts(database, checkPieceId((await params).id), parsed);
  return Response.json({ pieces: pieces.map(({ id, name }) => ({ id, name })) }, { status: 201 });
});
