import { cutOfRevision, getPiece } from '../storage/pieces';
import { keepingCutout } from './cutouts';
import { keepDecisions, pieceInput } from './decisions';
import type { House } from './rooms';

/** Renders one revision of a piece ahead, so that delivering it is a matter of writing the file. */
export async function readyPiece(house: House, pieceId: string, revision: number): Promise<void> {
  const piece = await getPiece(house.database, pieceId);
  const cut = await cutOfRevision(house.database, pieceId, revision);
  const input = await pieceInput(house, piece, cut);
  const pixels = piece.width * piece.height;
  const { decisions } = await keepingCutout(house, piece, revision, (cutoutPath) =>
    house.pool.run('ready', { ...input, cutoutPath }, { pixels }),
  );
  await keepDecisions(house, piece, decisions);
}
