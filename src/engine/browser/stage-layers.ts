import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import { wholeOf } from '../../core/raster/raster';
import { reachMaps, renderPart } from '../../core/render';
import type { Layer } from '../../core/view/compose';
import type { StagePicture } from '../protocol';
import type { Board } from './board';
import { layerAt } from './layers';

/** What a piece looks like after each stage but the last, small. `cut` is placed on the board. */
export function stageLayers(on: Board, cut: Cut): Partial<Record<StagePicture, Layer>> {
  const reduction = on.sizes.length - 1;
  const { scene, cache } = on.sizes[reduction]!;
  const off = <T extends object>(stage: T) => ({ ...stage, on: false });
  const unpainted = { ...cut, ink: off(cut.ink) };
  const unmended = { ...unpainted, touchUp: off(cut.touchUp) };
  const after = {
    clear: { ...unmended, edge: off(cut.edge) },
    edge: unmended,
    touchUp: unpainted,
    ink: cut,
  };
  runToEnd(reachMaps(scene, cut, cache));
  const layerOf = (stage: Cut) => {
    const raster = renderPart(scene, stage, cache, wholeOf(scene.raster));
    return raster ? layerAt(on, raster, { x: 0, y: 0 }, reduction) : undefined;
  };
  const layers: Partial<Record<StagePicture, Layer>> = {
    prepare: layerAt(on, scene.raster, { x: 0, y: 0 }, reduction),
  };
  for (const stage of ['clear', 'edge', 'touchUp', 'ink'] as const) {
    const layer = layerOf(after[stage]);
    if (layer) layers[stage] = layer;
  }
  return layers;
}
