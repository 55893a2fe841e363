import { parseWatermark } from '../../../../../core/watermark/parse';
import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { watermarkStepSchema } from '../../../../../server/http/requests';
import { addWatermarkStep } from '../../../../../storage/watermarks';

export const dynamic = 'force-dynamic';

/** Saves a state of a watermark. */
export const POST = guarded(
  async (request, { params }: { readonly params: Promise<{ watermark: string }> }) => {
    const id = checkNumber('watermark', (await params).watermark);
    const { after, label, watermark } = await readBody(request, watermarkStepSchema);
    const step = { after, label, watermark: parseWatermark(watermark) };
    const state = await addWatermarkStep((await getHouse()).database, id, step);
    return Response.json({ state }, { status: 201 });
  },
);
