import type { Cut } from '../cut/schema';
import { MOST_POCKETS, type Sample } from '../stages/clear/settings';
import type { Steps } from '../numeric/steps';
import type { Rect } from '../raster/raster';
import { dotsIn, type Area, type AreaReason } from '../decision/area';
import { decisionOf, plainDistances, reachOfSample, type ReachCache } from '../stages/clear/clear';
import { enclosedRows, findPockets } from '../stages/clear/pockets';
import type { ReachMap } from '../stages/clear/reach-map';
import type { Scene } from '../scene/scene';
import type { Bearings } from './bearings';
import { counted, foundAt, holds, type Finding, type Fix, type Place } from './finding';

/** A pocket of the cutout: an enclosed area that looks like the background, or could be its shade. */
export interface PocketPlace extends Place {
  /** Some of its pixels, spread over it. */
  readonly dots: readonly (readonly [number, number])[];
  /** Whether it goes with the background. */
  readonly goes: boolean;
  /** Why it stays or goes; null where a tolerance decides. */
  readonly why: AreaReason | null;
  /** Whether it was told, or is sure by its look. */
  readonly sure: boolean;
}

/** In pictures of more pixels than these, smaller pockets are left out as they grow: they are no larger to the eye. */
const SMALL_FROM_PIXELS = 1_500_000;
const SMALLEST_PIXELS = 8;

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
  const smallest = SMALLEST_PIXELS * Math.max(1, (raster.width * raster.height) / SMALL_FROM_PIXELS);
  const places: PocketPlace[] = [];
  const keeps = cut.clear.pockets.filter(({ keep }) => keep);
  const decision = yield* decisionOf(scene, cut);
  if (decision)
    places.push(
      ...decision.areas.filter(({ pixels }) => pixels >= smallest).map((area) => placeOf(area, window)),
    );
  for (const { sample, map } of joined) {
    if (sample.reach !== 'joined' || sample.rule === 'whole') continue;
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
        dots: shifted(
          dotsIn(pocket.box, pocket.pixels, Math.max(raster.width, raster.height), (x, y) =>
            pocket.contains(x, y),
          ),
          window,
        ),
        goes: false,
        why: null,
        sure: keeps.some(({ x, y }) => pocket.contains(x, y)),
      });
    }
  }
  return places.sort((one, other) => other.pixels - one.pixels);
}

function shifted(dots: Area['dots'], { x: left, y: top }: Rect): [number, number][] {
  return dots.map(([x, y]) => [x - left, y - top]);
}

function placeOf({ x, y, box, pixels, dots, goes, why, sure }: Area, window: Rect): PocketPlace {
  const [left, top, right, bottom] = box;
  return {
    x: left - window.x,
    y: top - window.y,
    width: right - left + 1,
    height: bottom - top + 1,
    at: { x: x - window.x, y: y - window.y },
    pixels,
    dots: shifted(dots, window),
    goes,
    why,
    sure,
  };
}

/** The pockets that wait for a decision. */
export function findOpenPockets(places: readonly PocketPlace[]): Finding | null {
  const open = places.filter(({ sure }) => !sure);
  const cleared = open.filter(({ goes }) => goes).length;
  const stay = open.length - cleared;
  const one = open.length === 1;
  const what =
    cleared === 0
      ? `${one ? 'stays' : 'stay'}`
      : stay === 0
        ? `${one ? 'is' : 'are'} cleared`
        : `${cleared} ${cleared === 1 ? 'is' : 'are'} cleared, ${stay} ${stay === 1 ? 'stays' : 'stay'}`;
  return foundAt(
    'pocket',
    'doubt',
    open,
    `${counted(open.length, 'area')} ${one ? 'looks' : 'look'} like the background${cleared > 0 && stay > 0 ? ':' : ' and'} ${what}.`,
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
  const pockets = [...others, ...decided].slice(-MOST_POCKETS);
  return { ...cut, clear: { ...cut.clear, pockets } };
}
