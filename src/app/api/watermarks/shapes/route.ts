import { guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { shapesRequestSchema } from '../../../../server/http/requests';
import { shapedTexts } from '../../../../server/watermarks/fonts';

export const dynamic = 'force-dynamic';

/** Sets lines of text as outlines, for the screen. */
export const POST = guarded(async (request) => {
  const { wishes } = await readBody(request, shapesRequestSchema);
  return Response.json({ shapes: await shapedTexts(await getHouse(), wishes, request.signal) });
});
