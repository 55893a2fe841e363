import { decodeMaster } from '../codec/decode';
import { readerOf } from '../codec/readers/readers';
import { isInputFormat } from '../core/formats';
import type { Raster } from '../core/raster/raster';
import { currentCut, type Piece } from '../storage/pieces';
import type { House } from './rooms';

/**
 * The decoded picture that a piece is of. Formats with readers of their own are decoded in a thread, since they would keep the
 * house from answering. Throws `missing-original`, `changed-original` and `damaged-picture`.
 */
export async function masterOf(house: House, piece: Piece, signal?: AbortSignal): Promise<Raster> {
  const { page } = (await currentCut(house.database, piece.id)).cut;
  const path = await house.originals.pathOf(piece);
  const isSlow = isInputFormat(piece.format) && readerOf(piece.format) !== null;
  if (!isSlow) return decodeMaster(path, piece.name, page);
  const pixels = piece.width * piece.height;
  return house.pool.run('master', { path, name: piece.name, page }, { signal, pixels });
}
