import { halve, halvingsTo } from '../../core/raster/reduce';
import { clipRect, createRaster, type Raster, type Rect } from '../../core/raster/raster';
import type { Cutout } from '../../core/render';
import type { Scene } from '../../core/scene/scene';
import { visiblePart, type Layer, type View } from '../../core/view/compose';
import type { SizedBoard } from './board';

/** A full-size cutout of a cut, by its key. */
export interface Finished {
  readonly key: string;
  readonly cutout: Cutout;
  /** The cutout at 0, 1, 2, ... halvings, made when needed. */
  readonly sizes: Raster[];
}

/** How much coarser than the screen a draft may be, as a power of two. */
const DRAFT = 0.3;

/** Pixels that are worked on while a setting moves. */
const VIEW_PIXELS = 1_500_000;

/** The view as it lies on a board's work area, of which the crop is a part. */
export function viewOn({ window }: SizedBoard, view: View): View {
  return { ...view, left: view.left - window.x * view.scale, top: view.top - window.y * view.scale };
}

/** A raster of a board's work area at a reduction, its pixel (0, 0) lying at `at` of it, as a layer of the crop. */
export function layerAt(
  { window }: SizedBoard,
  raster: Raster,
  at: { x: number; y: number },
  reduction: number,
): Layer {
  const unit = 1 << reduction;
  return {
    raster,
    x: at.x - window.x / unit,
    y: at.y - window.y / unit,
    reduction,
    wholeWidth: window.width,
    wholeHeight: window.height,
  };
}

export function viewReductionOf({ sizes }: SizedBoard): number {
  const { width, height } = sizes[0]!.scene.raster;
  return Math.min(sizes.length - 1, halvingsTo(VIEW_PIXELS, width, height));
}

export const BLACK = { light: 0, dark: 0 };

/** Alpha with its low end stretched, so that a few steps above nothing are seen: the fourth root. */
export const STRETCHED = Uint8Array.from({ length: 256 }, (_, alpha) =>
  Math.round(255 * Math.sqrt(Math.sqrt(alpha / 255))),
);

/** What is seen of a layer in white with its alpha, or what `table` makes of it, which shows as gray over black. */
export function inWhite(layer: Layer, view: View, table: Uint8Array | null = null): Layer {
  const { width, height, data } = layer.raster;
  const seen = visiblePart(view, layer.reduction);
  const part = clipRect({ ...seen, x: seen.x - layer.x, y: seen.y - layer.y }, width, height);
  if (part.width === 0 || part.height === 0) return layer;
  const raster = createRaster(part.width, part.height);
  raster.data.fill(255);
  for (let y = 0, q = 3; y < part.height; y++) {
    let p = ((part.y + y) * width + part.x) * 4 + 3;
    for (let x = 0; x < part.width; x++, p += 4, q += 4) raster.data[q] = table ? table[data[p]!]! : data[p]!;
  }
  return { ...layer, raster, x: layer.x + part.x, y: layer.y + part.y };
}

/** Pixels of a part that lie within the picture. */
export function pixelsIn({ raster }: Scene, part: Rect): number {
  const { width, height } = clipRect(part, raster.width, raster.height);
  return width * height;
}

export function cornerOf({ x, y }: Rect): { x: number; y: number } {
  return { x: Math.max(0, x), y: Math.max(0, y) };
}

/** The most halvings at which a screen pixel still has at least one pixel of its own. */
export function reductionFor(scale: number, sizes: number): number {
  return Math.min(sizes - 1, Math.max(0, Math.floor(Math.log2(1 / scale))));
}

/** The same while a setting moves: a screen pixel may have a little less than one pixel of its own. */
export function draftReductionFor(scale: number, sizes: number): number {
  return Math.min(sizes - 1, Math.max(0, Math.floor(Math.log2(1 / scale) + DRAFT)));
}

export function sizeOfFinished(finished: Finished, reduction: number): Raster {
  while (finished.sizes.length <= reduction) finished.sizes.push(halve(finished.sizes.at(-1)!));
  return finished.sizes[reduction]!;
}
