import { checkNumber, guarded, readBody } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { proofMoveSchema } from '../../../../../server/http/requests';
import { moveWatermark } from '../../../../../storage/watermarks';

export const dynamic = 'force-dynamic';

/** Undo and redo. */
export const POST = guarded(
  async (request, { params }: { readonly params: Promise<{ watermark: string }> }) => {
    const id = checkNumber('watermark', (await params).watermark);
    const { to } = await readBody(request, proofMoveSchema);
    return Response.json({ state: await moveWatermark((await getHouse()).database, id, to) });
  },
);
