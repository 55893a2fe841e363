import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { previewRequestSchema } from '../../../server/http/requests';
import { previewLaying } from '../../../server/runs/begin-run';

export const dynamic = 'force-dynamic';

/** Shows what laying settings of a piece on up to six others would give; nothing is changed. */
export const POST = guarded(async (request) => {
  const { laying, pieces } = await readBody(request, previewRequestSchema);
  return Response.json({ previews: await previewLaying(await getHouse(), laying, pieces, request.signal) });
});
