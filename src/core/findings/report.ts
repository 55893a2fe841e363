import type { Point } from '../numeric/matrix3';
import type { Finding } from './finding';

/** A finding as reports hold it: places as boxes in pixels of the cutout, with the pixels that belong to it. */
export function reported({ kind, severity, sentence, count, pixels, amount, places }: Finding) {
  return {
    kind,
    severity,
    sentence,
    count,
    pixels,
    ...(amount === null ? {} : { amount }),
    places: places.map(({ x, y, width, height, pixels: inside }) => ({
      x,
      y,
      width,
      height,
      pixels: inside,
    })),
  };
}

/** Places that a line names. */
const MOST_NAMED = 5;

/** A finding in one line: what is wrong, and where. */
export function lineOf({ kind, sentence, places, count }: Finding): string {
  const where = (place: Point & { width: number; height: number }) =>
    `${place.x},${place.y} (${place.width} x ${place.height})`;
  const more = count > MOST_NAMED ? `, and ${count - MOST_NAMED} more` : '';
  return `${kind}: ${sentence} At ${places.slice(0, MOST_NAMED).map(where).join(', ')}${more}.`;
}
