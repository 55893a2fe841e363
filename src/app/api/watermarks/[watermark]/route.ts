import { checkNumber, guarded } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { openWatermark } from '../../../../server/watermarks/open-watermark';
import { removeWatermark } from '../../../../storage/watermarks';

interface Context {
  readonly params: Promise<{ watermark: string }>;
}

export const dynamic = 'force-dynamic';

const numberOf = async ({ params }: Context) => checkNumber('watermark', (await params).watermark);

/** A watermark with what is known of the pieces in it, and the fonts that were brought. */
export const GET = guarded(async (_request, context: Context) =>
  Response.json(await openWatermark(await getHouse(), await numberOf(context))),
);

/** Forgets a watermark; what was marked with it stays. */
export const DELETE = guarded(async (_request, context: Context) => {
  await removeWatermark((await getHouse()).database, await numberOf(context));
  return Response.json({ forgotten: true });
});
