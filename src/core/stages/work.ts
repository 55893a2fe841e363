import type { Cut } from '../cut/schema';
import { clipRect, copyPixels, createRaster, growRect, type Raster, type Rect } from '../raster/raster';
import type { Alike } from './edge/alike';
import type { ReachMap } from './clear/reach-map';
import type { Scene } from '../scene/scene';

/** A picture after some stages, drawn part by part. Colors under alpha 0 mean nothing: no stage reads them. */
export interface Layer {
  /** Draws the part `rect` of the scene into `out`, a raster of its size that is all clear. */
  into(rect: Rect, out: Raster): void;
}

/** A cut that is drawn on a scene: what all its stages share. */
export interface Drawing {
  readonly scene: Scene;
  /** Its places are those of the scene. */
  readonly cut: Cut;
  /** The reach maps of the samples that act. */
  readonly maps: readonly ReachMap[];
  /** Gathers where the edge cannot be told; null where nobody asks. */
  readonly alike: Alike | null;
  /** Gathers which strokes change a pixel, by their places in the list; null where nobody asks. */
  readonly strokesThatAct: Set<number> | null;
  /** What several stages need of this cut, made when first asked for. */
  once<T>(what: string, make: () => T): T;
}

/** What a stage does to pixels. `R` is what it knows beforehand of a whole drawing. */
export interface Work<R = unknown> {
  /** What it needs to know to draw any part; null where the stage changes nothing. */
  ready(drawing: Drawing): R | null;
  /** The part that must be known before it so that `rect` can be drawn; null where the stage changes nothing there. */
  around(ready: R, rect: Rect, drawing: Drawing): Rect | null;
  /** Draws the part `rect`, where `around` says `wide`, into `out`, a raster of its size that is all clear. */
  into(ready: R, before: Layer, wide: Rect, rect: Rect, out: Raster, drawing: Drawing, base: Layer): void;
  /** Whether a layer of it is worth keeping for what stands behind it; or only of what is seen, while a setting moves. */
  readonly keeps: boolean | 'while moving';
  /** Steps of the same base are told the layer that stands before the first of them; others the one before themselves. */
  readonly base?: string;
  /** The side of the squares in which it is drawn best, in pixels; whole rows where absent. */
  readonly tilePx?: number;
  /** What of the cut decides about it, where its stage has other steps too; all that decides about the stage's pixels elsewhere. */
  pixels?(cut: Cut): unknown;
}

/** A part of a layer as a raster of its own. */
export function partOf(layer: Layer, rect: Rect): Raster {
  const out = createRaster(rect.width, rect.height);
  layer.into(rect, out);
  return out;
}

/** A part with its surroundings, that far and no farther than the picture goes. */
export function widened(
  rect: Rect,
  { width, height }: { readonly width: number; readonly height: number },
  margin: number,
): Rect {
  return clipRect(growRect(rect, margin), width, height);
}

/** Copies the part `rect` of a raster, whose own first pixel lies at (`x`, `y`), into one of that size. */
export function copyPart(
  from: Raster,
  { x, y }: { readonly x: number; readonly y: number },
  rect: Rect,
  out: Raster,
): void {
  copyPixels(from, { x: rect.x - x, y: rect.y - y }, rect, out, { x: 0, y: 0 });
}
