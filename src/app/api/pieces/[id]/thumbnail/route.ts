import { checkNumber, checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { sendFile } from '../../../../../server/send-file';
import { thumbnailOf } from '../../../../../server/thumbnail';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/** A small picture of the piece with one revision of its cut. A revision's number always means the same picture. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const revision = checkNumber('revision', new URL(request.url).searchParams.get('revision'));
  const path = await thumbnailOf(house, checkPieceId((await params).id), revision);
  return sendFile(path, { type: 'image/webp', cache: 'private, max-age=31536000, immutable' });
});
