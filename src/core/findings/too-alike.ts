import type { AlikePlace } from '../stages/edge/alike';
import { foundAt, type Finding } from './finding';

/** Where the subject hardly differs from the background along the edge, so that how they mix cannot be told. */
export function findTooAlike(places: readonly AlikePlace[]): Finding | null {
  const pixels = places.reduce((sum, place) => sum + place.pixels, 0);
  return foundAt(
    'alike',
    'note',
    places.map((place) => ({
      ...place,
      at: { x: place.x + (place.width >> 1), y: place.y + (place.height >> 1) },
    })),
    `Along ${pixels} px the subject hardly differs from the background; there the edge follows Clear.`,
  );
}
