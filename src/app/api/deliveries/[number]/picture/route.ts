import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { smallDelivery } from '../../../../../server/small-delivery';

export const dynamic = 'force-dynamic';

/** A small picture of a delivered file (WebP). */
export const GET = guarded(async (request, { params }: { readonly params: Promise<{ number: string }> }) => {
  const number = checkNumber('delivery', (await params).number);
  const bytes = await smallDelivery(await getHouse(), number, request.signal);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/webp', 'cache-control': 'private, max-age=86400, immutable' },
  });
});
