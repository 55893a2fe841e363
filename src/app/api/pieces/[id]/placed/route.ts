import { KenosisError } from '../../../../../core/errors';
import { checkNumber, checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { placedPictureOf } from '../../../../../server/proofs/placed-picture';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

const MOST_PX = 4000;

/**
 * A piece as it is laid on grounds, as `?revision=3&size=800`, with `colorway=navy` or `light=1`: a PNG without the empty space
 * around it, whose size at full resolution is in the header `x-kenosis-size`.
 */
export const GET = guarded(async (request, { params }: Context) => {
  const query = new URL(request.url).searchParams;
  const mostPx = checkNumber('size', query.get('size'));
  if (mostPx < 1 || mostPx > MOST_PX)
    throw new KenosisError('bad-argument', `size: expected 1 to ${MOST_PX} px, got ${mostPx}`);
  const wanted = {
    revision: checkNumber('revision', query.get('revision')),
    look: { colorway: query.get('colorway'), light: query.get('light') === '1' },
    mostPx,
  };
  const id = checkPieceId((await params).id);
  const { bytes, width, height } = await placedPictureOf(await getHouse(), id, wanted, request.signal);
  return new Response(new Uint8Array(bytes), {
    headers: {
      'content-type': 'image/png',
      'cache-control': 'private, max-age=31536000, immutable',
      'x-kenosis-size': `${width}x${height}`,
    },
  });
});
