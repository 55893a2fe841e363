import { boardSteps, renderBoard, sceneOfSource } from '../../core/board';
import { proposedAgain } from '../../core/proposal/again';
import { KeptDecisions } from '../../core/decision/kept-decisions';
import { runToEnd } from '../../core/numeric/steps';
import type { Source } from '../../core/stages/prepare/prepare';
import { firstCut } from './first-cut';
import type { OpenPicture, PieceInput } from './open-picture';
import { pixelHashOf } from './pixel-hash';
import { writeThumbnail } from './write-thumbnail';

export interface AnewInput extends PieceInput {
  /** Where to write the thumbnail of what is proposed. */
  readonly outPath: string;
}

/**
 * Proposes for a piece as if it had come today, whatever was decided of it before, which stays. `isSame` says whether its cutout
 * would be as it is now, pixel for pixel. No cut where nothing is proposed, or where it is the same.
 */
export async function proposedAnew(pictures: OpenPicture, { outPath, ...piece }: AnewInput) {
  const before = await pictures.board(piece);
  const source: Source = { original: before.original, decisions: new KeptDecisions() };
  const { cut: proposed, reason, trouble } = firstCut(sceneOfSource(source), piece.cut.page);
  if (!proposed) return { cut: null, reason, trouble, isSame: false };
  const isTold = (told: string) => before.decisions?.isTold(told) ?? false;
  const cut = proposedAgain(piece.cut, proposed, before.original.width, isTold);
  const board = runToEnd(boardSteps(source, cut));
  const cutout = runToEnd(renderBoard(board, cut));
  const now = runToEnd(renderBoard(before, piece.cut));
  const isSame = pixelHashOf(cutout.raster) === pixelHashOf(now.raster);
  if (isSame) return { cut: null, reason, trouble, isSame };
  await writeThumbnail(board, cut, outPath);
  return { cut, reason, trouble, isSame };
}
