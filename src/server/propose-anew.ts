import { readFile } from 'node:fs/promises';
import type { Cut } from '../core/cut/schema';
import { cutOfRevision, getPiece } from '../storage/pieces';
import { pieceInput } from './decisions';
import type { House } from './rooms';

/** What would be proposed for a piece if it came today; nothing of it is kept. */
export interface ProposedAnew {
  /** Null where nothing is proposed, or where the cutout would be as it is, pixel for pixel. */
  readonly cut: Cut | null;
  readonly isSame: boolean;
  readonly reason: string;
  /** A small picture of it, as WebP in base 64. */
  readonly picture: string | null;
}

/** Proposes for a piece anew beside one of its revisions. Throws `not-found` and what reading a picture throws. */
export async function proposeAnew(
  house: House,
  pieceId: string,
  revision: number,
  signal?: AbortSignal,
): Promise<ProposedAnew> {
  const piece = await getPiece(house.database, pieceId);
  const input = await pieceInput(house, piece, await cutOfRevision(house.database, pieceId, revision));
  const outPath = await house.files.incomingPath();
  try {
    const { trouble, ...anew } = await house.pool.run(
      'anew',
      { ...input, outPath },
      { signal, pixels: piece.width * piece.height },
    );
    if (trouble !== null) console.error(`Nothing was proposed anew for "${piece.name}": ${trouble}`);
    return { ...anew, picture: anew.cut && (await readFile(outPath, 'base64')) };
  } finally {
    await house.files.drop(outPath);
  }
}
