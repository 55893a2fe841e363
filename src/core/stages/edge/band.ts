import type { Plane } from '../../raster/plane';
import type { Scratch } from '../../numeric/scratch';

/** Uncleared pixels nearer to cleared ones than this, and cleared ones nearer to uncleared, may be mixtures. */
const INNER_PX = 3;
const OUTER_PX = 2;

/**
 * 1 where an uncleared pixel may be a mixture, 2 where a cleared one may, 0 elsewhere. `widthPx` replaces the ordinary
 * width on both sides.
 */
export function bandOf(
  { data: cleared, width, height }: Plane,
  scratch: Scratch,
  widthPx: number | null = null,
): Uint8Array {
  const band = scratch.zeroed('edge band', cleared.length);
  const mark = (x: number, y: number) => {
    const side = cleared[y * width + x]!;
    const radius = widthPx ?? (side === 1 ? INNER_PX : OUTER_PX);
    for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
      for (let nx = Math.max(0, x - radius); nx <= Math.min(width - 1, x + radius); nx++) {
        const j = ny * width + nx;
        if (cleared[j] !== side) band[j] = 1 + cleared[j]!;
      }
    }
  };
  const marked = scratch.zeroed('edge marked', cleared.length);
  const markOnce = (x: number, y: number) => {
    if (marked[y * width + x] === 1) return;
    marked[y * width + x] = 1;
    mark(x, y);
  };
  // Every block of 2 x 2 pixels that are not alike holds a piece of the border.
  const lastRow = Math.max(1, height - 1);
  for (let y = 0; y < lastRow; y++) {
    const down = y + 1 < height ? width : 0;
    let before = cleared[y * width]! + cleared[y * width + down]!;
    for (let x = width > 1 ? 1 : 0, i = y * width + x; x < width; x++, i++) {
      const here = cleared[i]! + cleared[i + down]!;
      if (here === before && here !== 1) continue;
      before = here;
      for (const ny of down > 0 ? [y, y + 1] : [y]) {
        if (x > 0) markOnce(x - 1, ny);
        markOnce(x, ny);
      }
    }
  }
  return band;
}
