import type { Raster } from '../../core/raster/raster';
import { composeInto } from '../../core/view/compose';
import type { Opening, ShowRequest } from '../protocol';
import type { EngineHost } from './engine-host';

/** Paints the result from a small picture of it, larger. */
export function previewOf(
  picture: Raster,
  { width: wholeWidth, height: wholeHeight }: Pick<Opening, 'width' | 'height'>,
  { paint, tell }: Pick<EngineHost, 'paint' | 'tell'>,
) {
  const reduction = Math.log2(wholeWidth / picture.width);
  return ({ view, ground, look, compare, turn }: ShowRequest): void => {
    if (look !== 'result' || compare) return;
    const pixels = new Uint8ClampedArray(view.width * view.height * 4);
    composeInto({ raster: picture, x: 0, y: 0, reduction, wholeWidth, wholeHeight }, view, ground, pixels);
    paint(pixels, view.width, view.height);
    tell({ kind: 'painted', turn, exact: false });
  };
}
