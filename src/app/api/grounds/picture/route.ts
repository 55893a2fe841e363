import { KenosisError } from '../../../../core/errors';
import { groundSourceSchema } from '../../../../core/proof/settings';
import { checkNumber, guarded } from '../../../../server/guard';
import { getHouse } from '../../../../server/house';
import { groundPictureOf } from '../../../../server/proofs/ground-files';

export const dynamic = 'force-dynamic';

const MOST_WIDTH_PX = 4000;

/** A ground as a picture, as `?source={...}&width=800`. */
export const GET = guarded(async (request) => {
  const query = new URL(request.url).searchParams;
  const width = checkNumber('width', query.get('width'));
  if (width < 1 || width > MOST_WIDTH_PX)
    throw new KenosisError('bad-argument', `width: expected 1 to ${MOST_WIDTH_PX} px, got ${width}`);
  const source = groundSourceSchema.safeParse(jsonOf(query.get('source') ?? ''));
  if (!source.success) throw new KenosisError('bad-argument', 'source: expected a ground as JSON');
  const { bytes } = await groundPictureOf(await getHouse(), source.data, width, request.signal);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/webp', 'cache-control': 'private, max-age=3600' },
  });
});

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
