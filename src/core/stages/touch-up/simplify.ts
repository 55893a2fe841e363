import { square } from '../../numeric/exact';
import type { PathPlace } from './path';

/**
 * A path with fewer places that stays within `far` of it (Ramer, 1972; Douglas and Peucker, 1973). Where pressure changes, a
 * change of all of it counts as `pressedFar` pixels.
 */
export function simplified(places: readonly PathPlace[], far: number, pressedFar = 0): PathPlace[] {
  if (places.length < 3) return [...places];
  const kept = new Uint8Array(places.length);
  kept[0] = kept[places.length - 1] = 1;
  const spans: [number, number][] = [[0, places.length - 1]];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span;
    let worst = far * far;
    let at = -1;
    for (let k = from + 1; k < to; k++) {
      const off = offSquared(places[k]!, places[from]!, places[to]!, pressedFar);
      if (off <= worst) continue;
      worst = off;
      at = k;
    }
    if (at < 0) continue;
    kept[at] = 1;
    spans.push([from, at], [at, to]);
  }
  return places.filter((_, k) => kept[k] === 1);
}

/** How far a place lies from the line between two others, squared. */
function offSquared(place: PathPlace, one: PathPlace, other: PathPlace, pressedFar: number): number {
  const [wayX, wayY] = [other[0] - one[0], other[1] - one[1]];
  const [dx, dy] = [place[0] - one[0], place[1] - one[1]];
  const length = wayX * wayX + wayY * wayY;
  const along = length > 0 ? Math.min(1, Math.max(0, (dx * wayX + dy * wayY) / length)) : 0;
  const pressed = (p: PathPlace) => (p[2] ?? 1) * pressedFar;
  const meant = pressed(one) + along * (pressed(other) - pressed(one));
  return square(dx - along * wayX) + square(dy - along * wayY) + square(pressed(place) - meant);
}
