import { KenosisError } from '../../errors';
import type { Raster } from '../../raster/raster';

/** How a cutout's pixels divide: counts of alpha 0, alpha 1 to 254, and alpha 255. */
export interface AlphaCounts {
  readonly transparent: number;
  readonly partly: number;
  readonly opaque: number;
}

/**
 * Makes a cutout ready for a file, in place: color under alpha 0 becomes black, so that nothing of the old background
 * can be recovered from it. Returns how its alpha divides. Only pixels `from` up to `to` are touched.
 */
export function removeHiddenColor(cutout: Raster, from: number, to: number): AlphaCounts {
  const { data } = cutout;
  let transparent = 0;
  let opaque = 0;
  for (let p = from * 4; p < to * 4; p += 4) {
    const alpha = data[p + 3]!;
    if (alpha === 0) {
      data[p] = data[p + 1] = data[p + 2] = 0;
      transparent++;
    } else if (alpha === 255) {
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
