import { KenosisError } from '../../errors';
import { wordsOf, type Raster } from '../../raster/raster';

/** How a cutout's pixels divide: counts of alpha 0, alpha 1 to 254, and alpha 255. */
export interface AlphaCounts {
  readonly transparent: number;
  readonly partly: number;
  readonly opaque: number;
}

/** From where on a pixel's number has some alpha, and all of it. */
const SEEN_FROM = 2 ** 24;
const FULL_FROM = 255 * SEEN_FROM;

/**
 * Makes a cutout ready for a file, in place: color under alpha 0 becomes black, so that nothing of the old background
 * can be recovered from it. Returns how its alpha divides. Only pixels `from` up to `to` are touched.
 */
export function removeHiddenColor(cutout: Raster, from: number, to: number): AlphaCounts {
  const { words, shares } = wordsOf(cutout);
  let transparent = 0;
  let opaque = 0;
  for (let i = from; i < to; i++) {
    const word = words[i]!;
    if (word < SEEN_FROM) {
      if (word !== 0 && shares) words[i] = 0;
      else if (word !== 0) cutout.data.fill(0, 4 * i, 4 * i + 4);
      transparent++;
    } else if (word >= FULL_FROM) {
      opaque++;
    }
  }
  return { transparent, partly: to - from - transparent - opaque, opaque };
}

/** Throws `nothing-left` where all of a cutout is transparent: an empty file is nobody's cutout. `name` is the piece's. */
export function assertSomethingLeft({ partly, opaque }: AlphaCounts, name: string): void {
  if (partly + opaque > 0) return;
  throw new KenosisError(
    'nothing-left',
    `Everything of "${name}" would be cleared, so no file was written. The original and the cut are safe. Lower the tolerance, move the points of the ink, or keep more of the picture.`,
  );
}
