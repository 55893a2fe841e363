import type { Cut, Sample } from '../../core/cut/schema';
import type { Steps } from '../../core/numeric/steps';
import type { Rect } from '../../core/raster/raster';
import {
  actingSamples,
  idleSamples,
  plainDistances,
  reachOfSample,
  type ReachCache,
} from '../../core/stages/clear/clear';
import { enclosedRows, findPockets } from '../../core/stages/clear/pockets';
import type { ReachMap } from '../../core/stages/clear/reach-map';
import type { Scene } from '../../core/stages/clear/scene';
import type { PocketReport } from '../protocol';
import type { Size } from './board';

/** Pockets that are told of at most. */
const MOST_POCKETS = 200;

/** What is noted about a cut beside its pixels. */
export interface Notes {
  readonly pockets: readonly PocketReport[];
  readonly idle: readonly string[];
}

/** Reach maps kept from one note to the next. */
const NOTED_MAPS = 12;

/**
 * The pockets of all joined samples, largest first, and the idle samples, looked for at the size of the view. `cut` is
 * placed on the board; places that are told are those of the crop `window`.
 */
export function* notesOf(
  { scene, cache }: Size,
  cut: Cut,
  window: Rect,
  noteCache: ReachCache,
): Steps<Notes> {
  if (noteCache.size > NOTED_MAPS) noteCache.clear();
  const samples = actingSamples(cut);
  const maps: ReachMap[] = [];
  const pockets: PocketReport[] = [];
  for (const sample of samples) {
    const joined = yield* reachOfSample(scene, sample, cut, cache);
    maps.push(joined);
    if (sample.reach === 'joined')
      pockets.push(...(yield* pocketsOf(scene, cut, window, sample, joined, noteCache)));
  }
  pockets.sort((one, other) => other.pixels - one.pixels);
  return { pockets: pockets.slice(0, MOST_POCKETS), idle: idleSamples(samples, maps) };
}

function* pocketsOf(
  scene: Scene,
  cut: Cut,
  window: Rect,
  sample: Sample,
  joined: ReachMap,
  cache: ReachCache,
): Steps<PocketReport[]> {
  const { raster, reduction } = scene;
  const everywhere = yield* reachOfSample(scene, { ...sample, reach: 'everywhere' }, cut, cache);
  const rows = enclosedRows(joined, everywhere, sample.tolerance);
  if (!rows) return [];
  const plain = plainDistances(scene, sample, rows.from, rows.to);
  const keeps = cut.clear.pockets.filter(({ keep }) => keep);
  return findPockets(raster, joined, everywhere, plain, sample.tolerance).map((pocket) => {
    const [left, top, right, bottom] = pocket.box;
    const x = (at: number) => (at << reduction) - window.x;
    const y = (at: number) => (at << reduction) - window.y;
    return {
      x: x(pocket.x),
      y: y(pocket.y),
      pixels: pocket.pixels * 4 ** reduction,
      box: [x(left), y(top), x(right), y(bottom)],
      kept: keeps.some(({ x, y }) => pocket.contains(x >> reduction, y >> reduction)),
    };
  });
}
