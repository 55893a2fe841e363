import type { Rect, Raster } from '../raster/raster';
import type { ReachCache } from './clear/clear';
import type { AlphaCounts } from './deliver/finish';
import type { AlikePlace } from './edge/alike';

/** A picture after some stages, as far as it was made. */
export interface KeptLayer {
  /** The part `rect` of the scene. Not to be written to. */
  readonly raster: Raster;
  readonly rect: Rect;
  /** Where along the edge subject and background are too alike, in pixels of the scene; null where it was not looked for. */
  readonly alike: readonly AlikePlace[] | null;
  /** How alpha divides, where it is ready for a file: without color under alpha 0. */
  readonly alpha: AlphaCounts | null;
}

/** Layers of small pictures are kept up to so many bytes, of others up to so many times their own bytes. */
const LEAST_BYTES = 64 << 20;
const MOST_TIMES = 2.2;

/** So many layers are kept of a picture at a reduced size: of all its sizes together twice the bytes of the full one. */
const REDUCED_LAYERS = 6;

/**
 * What was computed of one picture at one size, kept for the next cut of it: reach maps, and layers by what was done up to
 * them. The oldest layers go first when they become too many.
 */
export class Kept {
  readonly maps: ReachCache = new Map();
  private readonly layers = new Map<string, KeptLayer>();
  private used = 0;

  /** `mostBytes` bounds the layers; with 0 none is kept. */
  constructor(readonly mostBytes: number) {}

  /** A bound that suits a picture. */
  static of({ width, height }: { readonly width: number; readonly height: number }): Kept {
    return new Kept(Math.max(LEAST_BYTES, Math.round(MOST_TIMES * width * height * 4)));
  }

  /** A bound that suits a picture at a reduced size, which is there for drafts. */
  static ofReduced({ width, height }: { readonly width: number; readonly height: number }): Kept {
    return new Kept(REDUCED_LAYERS * width * height * 4);
  }

  /** The bytes of all layers. */
  get bytes(): number {
    return this.used;
  }

  /** The layer of that key, where it holds all of `rect`. */
  layer(key: string, rect: Rect): KeptLayer | null {
    const layer = this.layers.get(key);
    if (!layer || !covers(layer.rect, rect)) return null;
    this.layers.delete(key);
    this.layers.set(key, layer);
    return layer;
  }

  /** Whether a layer is kept whose picture this is. */
  holds(raster: Raster): boolean {
    return [...this.layers.values()].some((layer) => layer.raster === raster);
  }

  /** Whether a layer of that size would be kept. */
  hasRoomFor({ width, height }: Rect): boolean {
    return width * height * 4 <= this.mostBytes;
  }

  /** Forgets a layer of which it is not known where the edge cannot be told. */
  forgetDraft(key: string): void {
    if (this.layers.get(key)?.alike === null) this.forget(key);
  }

  /** Keeps a part that was drawn while a setting moves; what a whole rendering left stays instead. */
  keepDraft(key: string, raster: Raster, rect: Rect): void {
    const before = this.layers.get(key);
    if (!before || before.alike === null) this.keep(key, { raster, rect, alike: null, alpha: null });
  }

  keep(key: string, layer: KeptLayer): void {
    this.forget(key);
    const size = layer.raster.data.length;
    if (size > this.mostBytes) return;
    for (const oldest of this.layers.keys()) {
      if (this.used + size <= this.mostBytes) break;
      this.forget(oldest);
    }
    this.layers.set(key, layer);
    this.used += size;
  }

  private forget(key: string): void {
    this.used -= this.layers.get(key)?.raster.data.length ?? 0;
    this.layers.delete(key);
  }
}

function covers(outer: Rect, inner: Rect): boolean {
  return (
    inner.x >= outer.x &&
    inner.y >= outer.y &&
    inner.x + inner.width <= outer.x + outer.width &&
    inner.y + inner.height <= outer.y + outer.height
  );
}
