import { KenosisError } from '../../../../../core/errors';
import { checkNumber, checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { sendFile } from '../../../../../server/send-file';
import { thumbnailOf } from '../../../../../server/thumbnail';
import { getPiece } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/**
 * A small picture of the piece with one revision of its cut. A revision's number always means the same picture, of the piece
 * that came in at the moment `since` says; without that the browser asks again each time.
 */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const query = new URL(request.url).searchParams;
  const revision = checkNumber('revision', query.get('revision'));
  const id = checkPieceId((await params).id);
  const since = query.get('since');
  if (since !== null && since !== (await getPiece(house.database, id)).createdAt)
    throw new KenosisError('not-found', 'This piece was deleted; another one came in its place.');
  const path = await thumbnailOf(house, id, revision, request.signal);
  const cache = since === null ? 'private, no-cache' : 'private, max-age=31536000, immutable';
  return sendFile(path, { type: 'image/webp', cache });
});
