import type { Look } from '../../core/proof/seen';
import { cutOfRevision, getPiece } from '../../storage/pieces';
import { pieceInput } from '../decisions';
import type { House } from '../rooms';
import { keptPicture, type KeptPicture } from './ground-files';

/**
 * A piece as it is laid on grounds, at one of its revisions in one of its versions: a picture of it (PNG) whose longer side is at
 * most `mostPx`, and its size in pixels without the empty space around it. Throws `nothing-left`.
 */
export async function placedPictureOf(
  house: House,
  pieceId: string,
  wanted: { readonly revision: number; readonly look: Look; readonly mostPx: number },
  signal?: AbortSignal,
): Promise<KeptPicture> {
  const { database, pool } = house;
  const piece = await getPiece(database, pieceId);
  const { revision, look, mostPx } = wanted;
  const key = `placed ${piece.id} ${piece.createdAt} ${revision} ${JSON.stringify(look)} ${mostPx}`;
  return keptPicture(house, key, async (outPath) => {
    const cut = await cutOfRevision(database, piece.id, revision);
    const input = { ...(await pieceInput(house, piece, cut)), look, mostPx, outPath };
    return pool.run('placed', input, { pixels: piece.width * piece.height, signal });
  });
}
