import { z } from 'zod';
import { findingKindSchema } from '../../../../../core/cut/schema';
import { checkPieceId, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { setFindings } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

const bodySchema = z.strictObject({
  revision: z.int().min(0),
  counts: z.partialRecord(findingKindSchema, z.int().min(1)),
});

/** Notes what the bench's checks found in a revision. */
export const PUT = guarded(async (request, { params }: Context) => {
  const { database } = await getHouse();
  const { revision, counts } = await readBody(request, bodySchema);
  await setFindings(database, checkPieceId((await params).id), revision, counts);
  return Response.json({ revision });
});
