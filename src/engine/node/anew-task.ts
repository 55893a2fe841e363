import { boardSteps, renderBoard, sceneOfSource, type Board } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { KeptDecisions } from '../../core/decision/kept-decisions';
import { runToEnd } from '../../core/numeric/steps';
import { besideTold, proposedAgain } from '../../core/proposal/onto-cut';
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
export async function proposedAnew(pictures: OpenPicture, { outPath, cut, ...piece }: AnewInput) {
  const { originalPath, originalName, decisionsPath } = piece;
  const opened = await pictures.source(originalPath, originalPath, originalName, cut.page, decisionsPath);
  const { original, helpers = null } = opened.source;
  const source: Source = { original, helpers, decisions: new KeptDecisions() };
  const { cut: proposed, reason, trouble } = firstCut(sceneOfSource(source), cut.page);
  if (!proposed) return { cut: null, reason, trouble, isSame: false };
  const again = proposedAgain(cut, proposed);
  const board = runToEnd(boardSteps(source, again));
  const before = opened.board(cut);
  const isSame = pixelsOf(board, again) === pixelsOf(before, cut);
  if (isSame) return { cut: null, reason, trouble, isSame };
  const isTold = (told: string) => before.decisions?.isTold(told) ?? false;
  const beside = besideTold(again, original.width, isTold);
  await writeThumbnail(board, beside, outPath);
  return { cut: beside, reason, trouble, isSame };
}

/** A hash of a cutout's pixels. */
function pixelsOf(board: Board, cut: Cut): string {
  return pixelHashOf(runToEnd(renderBoard(board, cut)).raster);
}
