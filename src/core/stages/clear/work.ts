import { createRaster, type Raster, type Rect } from '../../raster/raster';
import type { Drawing, Work } from '../work';
import { byInkInto, inkWorkOf, type InkWork } from './by-ink/by-ink';
import { actingSamples, keptPockets, rampInto } from './clear';
import type { Sample } from './settings';

/** What acts on a drawing in Clear. */
export interface Clearing {
  readonly samples: readonly Sample[];
  /** The pixels of pockets that are kept. */
  readonly kept: Uint8Array | null;
  readonly ink: InkWork | null;
}

/** What Clear clears; Edge solves the border of the same. */
export function clearingOf({ scene, cut, maps, once }: Drawing): Clearing {
  return once('clearing', () => {
    const samples = actingSamples(cut);
    return { samples, kept: keptPockets(scene, cut, samples, maps), ink: inkWorkOf(scene, cut) };
  });
}

/** Alpha by samples in a short ramp, by ink, or what is left by both. */
export const CLEAR_WORK: Work<Clearing> = {
  keeps: false,
  ready(drawing) {
    const clearing = clearingOf(drawing);
    return clearing.samples.length === 0 && !clearing.ink ? null : clearing;
  },
  around: (_, rect) => rect,
  into(clearing, _before, _wide, rect, out, drawing) {
    const { scene, maps } = drawing;
    clearedInto(clearing, 0, rect, out, drawing, (to) =>
      rampInto(scene.raster, clearing.samples, maps, clearing.kept, rect, to),
    );
  },
};

/** What is left by ink, of whose colors the share `cleaned` of the paper leaves, and by samples, which `bySamples` draws. */
export function clearedInto(
  { ink, samples }: Clearing,
  cleaned: number,
  rect: Rect,
  out: Raster,
  { scene }: Drawing,
  bySamples: (out: Raster) => void,
): void {
  if (!ink) {
    bySamples(out);
    return;
  }
  byInkInto(scene, ink, cleaned, rect, out);
  if (samples.length === 0) return;
  const other = createRaster(rect.width, rect.height);
  bySamples(other);
  for (let p = 3; p < out.data.length; p += 4)
    if (other.data[p]! < out.data[p]!) out.data[p] = other.data[p]!;
}
