import { parseWatermark } from '../../../core/watermark/parse';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { newWatermarkSchema } from '../../../server/http/requests';
import { makeWatermark } from '../../../server/watermarks/make-watermarks';
import { listWatermarks } from '../../../storage/watermarks';

export const dynamic = 'force-dynamic';

/** All watermarks. */
export const GET = guarded(async () =>
  Response.json({ watermarks: await listWatermarks((await getHouse()).database) }),
);

/** A document that was exported has its fonts and cutouts in it. */
const MOST_WATERMARK_BYTES = 40_000_000;

/** A new watermark. */
export const POST = guarded(async (request) => {
  const wanted = await readBody(request, newWatermarkSchema, MOST_WATERMARK_BYTES);
  const own = 'watermark' in wanted ? { watermark: parseWatermark(wanted.watermark) } : wanted;
  return Response.json({ state: await makeWatermark(await getHouse(), own) }, { status: 201 });
});
