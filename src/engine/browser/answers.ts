import { lumaOf } from '../../core/color/luma';
import type { Cut } from '../../core/cut/schema';
import { decidePockets, type PocketPlace } from '../../core/findings/pockets';
import type { Steps } from '../../core/numeric/steps';
import { wholeOf } from '../../core/raster/raster';
import { reachMaps, renderPart } from '../../core/render';
import { actingSamples, colorOfSample, hasColor } from '../../core/stages/clear/clear';
import type { Layer } from '../../core/view/compose';
import type { Answer } from '../protocol';
import type { SizedBoard } from './board';
import { layerAt } from './layers';

/** Small pictures are made of at least so many pixels. */
const LEAST_PIXELS = 60_000;

/** What a piece looks like by either answer, small; and whether its background is pale. */
export interface Answers {
  readonly layers: Readonly<Record<Answer, Layer>>;
  readonly isPale: boolean;
}

/** From this luma on a background is pale. */
const PALE = 128;

/**
 * What a piece looks like with all of these areas kept, and with all of them cleared, small. `cut` is placed on the board,
 * the areas lie in pixels of the cutout.
 */
export function* answerSteps(on: SizedBoard, cut: Cut, areas: readonly PocketPlace[]): Steps<Answers> {
  const { x: left, y: top } = on.window;
  const bearings = {
    toOriginal: (x: number, y: number) => ({ x: x + left, y: y + top }),
    toCutout: (x: number, y: number) => ({ x: x - left, y: y - top }),
  };
  const large = on.sizes.findLastIndex(
    ({ scene: { raster } }) => raster.width * raster.height >= LEAST_PIXELS,
  );
  const reduction = Math.max(0, large);
  const { scene, kept } = on.sizes[reduction]!;
  function* layerOf(keep: boolean): Steps<Layer> {
    const answered = decidePockets(cut, areas, bearings, keep);
    yield* reachMaps(scene, answered, kept.maps);
    const raster = renderPart(scene, answered, kept, wholeOf(scene.raster)) ?? scene.raster;
    yield { doing: 'checking', done: keep ? 1 : 2, total: 2 };
    return layerAt(on, raster, { x: 0, y: 0 }, reduction);
  }
  const sample = actingSamples(cut).find(hasColor);
  const color = sample && colorOfSample(on.sizes[0]!.scene, sample);
  const layers = { keep: yield* layerOf(true), clear: yield* layerOf(false) };
  return { layers, isPale: color !== undefined && lumaOf(color.red, color.green, color.blue) >= PALE };
}
