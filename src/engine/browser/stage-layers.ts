import type { Cut } from '../../core/cut/schema';
import type { Steps } from '../../core/numeric/steps';
import { wholeOf } from '../../core/raster/raster';
import { reachMaps, renderStages } from '../../core/render';
import { STAGES } from '../../core/stages/stages';
import type { Layer } from '../../core/view/compose';
import type { StagePicture } from '../protocol';
import type { SizedBoard } from './board';
import { layerAt } from './layers';

/** What a piece looks like after each stage but the last, small. `cut` is placed on the board. */
export function* stageLayers(on: SizedBoard, cut: Cut): Steps<Partial<Record<StagePicture, Layer>>> {
  const reduction = on.sizes.length - 1;
  const { scene, kept } = on.sizes[reduction]!;
  yield* reachMaps(scene, cut, kept.maps);
  const after = renderStages(scene, cut, kept, wholeOf(scene.raster));
  const layers: Partial<Record<StagePicture, Layer>> = {};
  let raster = scene.raster;
  for (const { key } of STAGES.slice(0, -1)) {
    raster = after?.get(key) ?? raster;
    layers[key] = layerAt(on, raster, { x: 0, y: 0 }, reduction);
  }
  return layers;
}
