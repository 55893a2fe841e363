import { PLACED_PX } from '../core/proof/looks';
import type { Look } from '../core/proof/seen';
import { ApiError } from './api';
import { proofsApi } from './proofs-api';

/** A piece as it is laid on grounds: where its picture is, and how large it is at full size. */
export interface PlacedPicture {
  readonly source: string | ImageBitmap;
  readonly width: number;
  readonly height: number;
}

/** How a piece is told from others, and its versions from each other. */
export function pictureKey(piece: string, revision: number, { colorway, light }: Look): string {
  return JSON.stringify([piece, revision, colorway, light]);
}

/** Pictures of pieces, each asked for once. `onChange` is called when one came, or could not. */
export function createPlacedPictures(onChange: () => void) {
  const known = new Map<string, PlacedPicture | { readonly trouble: string } | null>();

  async function load(key: string, piece: string, revision: number, look: Look): Promise<void> {
    try {
      const response = await fetch(proofsApi.placedAddress(piece, revision, look, PLACED_PX));
      if (!response.ok) {
        const { message } = (await response.json()) as { readonly message: string };
        throw new ApiError('unexpected', message);
      }
      const [width, height] = (response.headers.get('x-kenosis-size') ?? '1x1').split('x').map(Number);
      const source = URL.createObjectURL(await response.blob());
      known.set(key, { source, width: width!, height: height! });
    } catch (error) {
      known.set(key, { trouble: error instanceof Error ? error.message : String(error) });
    }
    onChange();
  }

  return {
    /** The picture of a piece; null while it is on its way. */
    of(piece: string, revision: number, look: Look): PlacedPicture | { readonly trouble: string } | null {
      const key = pictureKey(piece, revision, look);
      const found = known.get(key);
      if (found === undefined) {
        known.set(key, null);
        void load(key, piece, revision, look);
      }
      return found ?? null;
    },
    close(): void {
      for (const one of known.values())
        if (one && 'source' in one && typeof one.source === 'string') URL.revokeObjectURL(one.source);
      known.clear();
    },
  };
}

export type PlacedPictures = ReturnType<typeof createPlacedPictures>;
