import { LIMITS, type Cut, type Sample } from '../cut/schema';
import type { Steps } from '../numeric/steps';
import type { Rect } from '../raster/raster';
import { plainDistances, reachOfSample, type ReachCache } from '../stages/clear/clear';
import { enclosedRows, findPockets } from '../stages/clear/pockets';
import type { ReachMap } from '../stages/clear/reach-map';
import type { Scene } from '../stages/clear/scene';
import type { Bearings } from './bearings';
import { counted, foundAt, holds, type Finding, type Fix, type Place } from './finding';

/** A pocket of the cutout, and whether the cut says that it stays. */
export interface PocketPlace extends Place {
  readonly kept: boolean;
}

/** In pictures of more pixels than these, smaller pockets are left out as they grow: they are no larger to the eye. */
const SMALL_FROM = 1_500_000;
const SMALLEST = 8;

/**
 * Enclosed regions that look like the background of a joined sample but are not joined to it, largest first. `cut` and the
 * maps of `joined` are those of the scene; places are those of `window` in it. Reach maps are left in `cache`.
 */
export function* pocketPlaces(
  scene: Scene,
  cut: Cut,
  window: Rect,
  joined: readonly { readonly sample: Sample; readonly map: ReachMap }[],
  cache: ReachCache,
): Steps<PocketPlace[]> {
  const { raster } = scene;
  const smallest = SMALLEST * Math.max(1, (raster.width * raster.height) / SMALL_FROM);
  const places: PocketPlace[] = [];
  const keeps = cut.clear.pockets.filter(({ keep }) => keep);
  for (const { sample, map } of joined) {
    if (sample.reach !== 'joined') continue;
    const everywhere = yield* reachOfSample(scene, { ...sample, reach: 'everywhere' }, cut, cache);
    const rows = enclosedRows(map, everywhere, sample.tolerance);
    if (!rows) continue;
    const plain = plainDistances(scene, sample, rows.from, rows.to);
    for (const pocket of findPockets(raster, map, everywhere, plain, sample.tolerance)) {
      if (pocket.pixels < smallest) continue;
      const [left, top, right, bottom] = pocket.box;
      places.push({
        x: left - window.x,
        y: top - window.y,
        width: right - left + 1,
        height: bottom - top + 1,
        at: { x: pocket.x - window.x, y: pocket.y - window.y },
        pixels: pocket.pixels,
        kept: keeps.some(({ x, y }) => pocket.contains(x, y)),
      });
    }
  }
  return places.sort((one, other) => other.pixels - one.pixels);
}

/** The pockets that wait for a decision. */
export function findOpenPockets(places: readonly PocketPlace[]): Finding | null {
  const open = places.filter(({ kept }) => !kept);
  return foundAt(
    'pocket',
    'doubt',
    open,
    `${counted(open.length, 'enclosed region')} ${open.length === 1 ? 'looks' : 'look'} like the background and ${open.length === 1 ? 'stays' : 'stay'}.`,
  );
}

/** Clears pockets together with the background. */
export const clearPockets: Fix = (cut, places, bearings) => decidePockets(cut, places, bearings, false);

/** Notes for pockets whether they stay, instead of what was decided of any place in their boxes before. */
export function decidePockets(
  cut: Cut,
  places: readonly Place[],
  { toOriginal, toCutout }: Bearings,
  keep: boolean,
): Cut {
  const others = cut.clear.pockets.filter(({ x, y }) => {
    const at = toCutout(x, y);
    return !places.some((place) => holds(place, at));
  });
  const decided = places.map(({ at }) => ({ ...toOriginal(at.x, at.y), keep }));
  const pockets = [...others, ...decided].slice(-LIMITS.pockets);
  return { ...cut, clear: { ...cut.clear, pockets } };
}
