import type { Sample } from '../stages/clear/settings';
import type { Rect } from '../raster/raster';
import { idleSamples } from '../stages/clear/clear';
import type { ReachMap } from '../stages/clear/reach-map';
import { counted, foundAt, type Finding, type Fix } from './finding';
import { placeOfSample } from './tolerance';

/** Samples without which the same would be cleared. */
export function findIdleSamples(
  samples: readonly Sample[],
  maps: readonly ReachMap[],
  window: Rect,
): Finding | null {
  const idle = new Set(idleSamples(samples, maps));
  const places = samples.filter(({ id }) => idle.has(id)).map((sample) => placeOfSample(sample, window));
  return foundAt(
    'idle-sample',
    'note',
    places,
    `${counted(places.length, 'sample')} ${places.length === 1 ? 'clears' : 'clear'} nothing that others do not clear.`,
  );
}

/** Deletes them. */
export const deleteSamples: Fix = (cut, places) => {
  const ids = new Set(places.map(({ sample }) => sample?.id));
  return {
    ...cut,
    clear: { ...cut.clear, samples: cut.clear.samples.filter(({ id }) => !ids.has(id)) },
  };
};
