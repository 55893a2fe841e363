import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { exportWatermark } from '../../../../../server/watermarks/make-watermarks';

export const dynamic = 'force-dynamic';

/** A watermark as a document with its cutouts and fonts in it, as it is exported. */
export const POST = guarded(
  async (_request, { params }: { readonly params: Promise<{ watermark: string }> }) => {
    const id = checkNumber('watermark', (await params).watermark);
    return Response.json({ watermark: await exportWatermark(await getHouse(), id) });
  },
);
