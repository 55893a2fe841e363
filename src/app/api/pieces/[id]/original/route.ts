import { INPUT_FORMATS, isInputFormat } from '../../../../../core/formats';
import { checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { sendFile } from '../../../../../server/send-file';
import { getPiece } from '../../../../../storage/pieces';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

/** The original, byte for byte as it came. */
export const GET = guarded(async (_request, { params }: Context) => {
  const house = await getHouse();
  const piece = await getPiece(house.database, checkPieceId((await params).id));
  return sendFile(await house.originals.pathOf(piece), {
    type: isInputFormat(piece.format) ? INPUT_FORMATS[piece.format].mime : 'application/octet-stream',
    cache: 'private, no-cache',
    attachment: piece.name,
  });
});
