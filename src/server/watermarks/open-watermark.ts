import type { Watermark } from '../../core/watermark/settings';
import { getWatermark, listFonts, type FontEntry, type WatermarkState } from '../../storage/watermarks';
import { knownPieces, type ProofPiece } from '../proofs/open-proof';
import type { House } from '../rooms';

/** A watermark with what its screen shows of it. */
export interface OpenWatermark {
  readonly state: WatermarkState;
  /** By their ids; those that are gone are left out. */
  readonly pieces: Readonly<Record<string, ProofPiece>>;
  readonly fonts: readonly FontEntry[];
}

/** Throws `not-found`. */
export async function openWatermark(house: House, id: number): Promise<OpenWatermark> {
  const state = await getWatermark(house.database, id);
  const [pieces, fonts] = await Promise.all([
    knownPieces(house, pieceIdsOf(state.watermark)),
    listFonts(house.database),
  ]);
  return { state, pieces, fonts };
}

/** The pieces that a watermark shows. */
export function pieceIdsOf({ layout }: Watermark): string[] {
  return layout.groups.flatMap(({ parts }) =>
    parts.flatMap((part) =>
      part.kind === 'cutout' && part.source.kind === 'piece' ? [part.source.piece] : [],
    ),
  );
}
