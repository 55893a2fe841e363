import { z } from 'zod';
import { parseRoutine } from '../../../../core/routine/parse';
import { withWatermark } from '../../../../engine/node/materials';
import { guarded, readBody } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { wholeWatermark } from '../../../../server/watermarks/materials';

export const dynamic = 'force-dynamic';

/** A routine as a document with the cutouts and fonts of its mark in it, as it is exported. */
export const POST = guarded(async (request) => {
  const house = await getHouse();
  const routine = parseRoutine(await readBody(request, z.unknown()));
  return Response.json({
    routine: await withWatermark(routine, (watermark) => wholeWatermark(house, watermark)),
  });
});
