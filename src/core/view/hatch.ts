import type { Rect } from '../raster/raster';
import { CERTAIN_SUBJECT, IN_EDGE } from '../stages/edge/unmix';
import { CHECKER } from './backing';
import type { Ground, View } from './compose';

/** What is certain in a part of a picture, row by row, at `reduction` halvings; see `edgePart`. */
export interface BandLayer {
  readonly marks: Uint8Array;
  readonly part: Rect;
  readonly reduction: number;
}

/** Distance between two lines of hatching and their width, in screen pixels at one device pixel a CSS pixel. */
const SPACING_PX = 8;
const WIDTH_PX = 1;

/** Grays that certain parts are filled with and hatched in: the subject, and what is cleared. */
const SUBJECT = { fill: 0xc4c4c4, line: 0x6e6e6e };
const CLEARED = { fill: 0xececec, line: 0xa8a8a8 };

/**
 * Covers what is certain: the subject by lines that rise to the right, what is cleared by lines that fall. Only the edge
 * stays seen. `out` is a painted view, as `composeInto` leaves it.
 */
export function hatchInto(layer: BandLayer, view: View, ground: Ground, out: Uint8ClampedArray): void {
  const { marks, part, reduction } = layer;
  const size = view.scale * 2 ** reduction;
  const density = Math.max(1, ground.cellPx / CHECKER.cellPx);
  const spacing = Math.round(SPACING_PX * density);
  const width = Math.round(WIDTH_PX * density);
  for (let row = 0; row < view.height; row++) {
    const y = Math.floor((row + 0.5 - view.top) / size) - part.y;
    if (y < 0 || y >= part.height) continue;
    for (let column = 0, q = row * view.width * 4; column < view.width; column++, q += 4) {
      const x = Math.floor((column + 0.5 - view.left) / size) - part.x;
      if (x < 0 || x >= part.width) continue;
      const mark = marks[y * part.width + x]!;
      if (mark === IN_EDGE) continue;
      const isSubject = mark === CERTAIN_SUBJECT;
      const along = isSubject ? column + row : column - row + view.height * spacing;
      const { fill, line } = isSubject ? SUBJECT : CLEARED;
      const color = along % spacing < width ? line : fill;
      out[q] = color >> 16;
      out[q + 1] = (color >> 8) & 255;
      out[q + 2] = color & 255;
    }
  }
}
