import { offsetsWithin } from '../../numeric/ring';
import { overlapRect, type Raster, type Rect } from '../../raster/raster';
import type { Rgb } from '../clear/sample-color';

/** What is known of a pixel when the rim of a stroke is un-mixed. */
export const UNKNOWN = 0;
export const SUBJECT = 1;
export const BACKGROUND = 2;
const BOTH = SUBJECT | BACKGROUND;

// What the figures of this file rest on: docs/decisions/017-strokes-by-hand.md

/** How far certain subject and certain background are looked for, and how many of the nearest pixels of each count. */
const SEARCH_PX = 10;
const COUNT = 6;

/** How wide the rim is in which pixels may be mixtures. */
const RIM_PX = 3;

/** Colors nearer than this, encoded, cannot be told apart. */
const LEAST_APART_ENCODED = 14;

/** A color this many times as far beside the line from background to subject as along it is neither. */
const MOST_BESIDE_SHARE = 0.9;

/** Opacities as near to nothing or all count as such. */
const SLACK_OPACITY = 0.06;

/** The faintest opacity at which a pixel's own color says anything about its subject's. */
const OWN_OPACITY = 0.2;

export function rimPxAt(reduction: number): number {
  return Math.max(1, RIM_PX >> reduction);
}

/** How far around a part the layer before must be known to un-mix the rims of strokes in it. */
export function rimMarginAt(reduction: number): number {
  return searchPxAt(reduction) + BLOCK_PX;
}

function searchPxAt(reduction: number): number {
  return Math.max(3, SEARCH_PX >> reduction);
}

/** Side of the blocks of pixels, counted from the picture's own corner, that share what is found around their first one. */
const BLOCK_SHIFT = 1;
const BLOCK_PX = 1 << BLOCK_SHIFT;
const NOT_SEARCHED = 255;

/** Side of a cell, as a power of two. */
const CELL_SHIFT = 2;

const RINGS = new Map<number, Int8Array>();

function ringOf(radius: number): Int8Array {
  let ring = RINGS.get(radius);
  if (!ring) RINGS.set(radius, (ring = offsetsWithin(radius)));
  return ring;
}

/**
 * Un-mixes single pixels along the rim of a stroke: C = aF + (1 - a)B in encoded sRGB, with F the mean of the nearest certain
 * subject and B that of the nearest certain background, as Edge does with what it is told by Clear.
 */
export class RimMix {
  /** The subject's color where the pixel was un-mixed, 0 to 255. */
  readonly color = new Float64Array(3);
  private readonly f = new Float64Array(3);
  private readonly b = new Float64Array(3);
  private readonly ring: Int8Array;
  private readonly reach: number;
  /** What is known somewhere in each cell of CELL_PX, so that most places where nothing is near are told at once. */
  private readonly cells: Uint8Array;
  private readonly across: number;
  /** What was found for each block of pixels: which colors, and those. */
  private readonly found: Uint8Array;
  private readonly colors: Float64Array;
  private readonly blocksAcross: number;

  /**
   * `sure` says of each pixel of `around` what is known of it; `picture` is the prepared picture, `base` the part
   * `baseAt` of the layer before all strokes.
   */
  constructor(
    private readonly sure: Uint8Array,
    private readonly around: Rect,
    private readonly picture: Raster,
    private readonly base: Raster,
    private readonly baseAt: Rect,
    reduction: number,
  ) {
    this.reach = searchPxAt(reduction);
    this.ring = ringOf(this.reach);
    this.blocksAcross = (around.width >> BLOCK_SHIFT) + 2;
    const blocks = this.blocksAcross * ((around.height >> BLOCK_SHIFT) + 2);
    this.found = new Uint8Array(blocks).fill(NOT_SEARCHED);
    this.colors = new Float64Array(blocks * 6);
    this.across = (around.width >> CELL_SHIFT) + 1;
    this.cells = new Uint8Array(this.across * ((around.height >> CELL_SHIFT) + 1));
    for (let y = 0, i = 0; y < around.height; y++) {
      const row = (y >> CELL_SHIFT) * this.across;
      for (let x = 0; x < around.width; x++, i++) this.cells[row + (x >> CELL_SHIFT)]! |= sure[i]!;
    }
  }

  /** What may be known near a place: SUBJECT, BACKGROUND, both together, or nothing. */
  private knownNear(x: number, y: number): number {
    const { around, reach, across, cells } = this;
    const left = Math.max(0, x - around.x - reach - BLOCK_PX) >> CELL_SHIFT;
    const right = Math.min(around.width - 1, x - around.x + reach) >> CELL_SHIFT;
    const top = Math.max(0, y - around.y - reach - BLOCK_PX) >> CELL_SHIFT;
    const bottom = Math.min(around.height - 1, y - around.y + reach) >> CELL_SHIFT;
    let known = UNKNOWN;
    for (let v = top; v <= bottom; v++) for (let u = left; u <= right; u++) known |= cells[v * across + u]!;
    return known;
  }

  /**
   * The opacity of a pixel of the picture, 0 to 1; its color goes to `color`. Null where it cannot be told: no background or
   * no subject is near, they are too alike, or the pixel is neither.
   */
  opacityAt(x: number, y: number): number | null {
    const { f, b, picture } = this;
    if (this.knownNear(x, y) !== BOTH || this.gather(x, y) !== BOTH) return null;
    const p = (y * picture.width + x) * 4;
    let [dot, length] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const way = f[c]! - b[c]!;
      dot += (picture.data[p + c]! - b[c]!) * way;
      length += way * way;
    }
    if (length < LEAST_APART_ENCODED * LEAST_APART_ENCODED) return null;
    const along = dot / length;
    let aside = 0;
    for (let c = 0; c < 3; c++) {
      const off = picture.data[p + c]! - b[c]! - along * (f[c]! - b[c]!);
      aside += off * off;
    }
    if (aside > MOST_BESIDE_SHARE * MOST_BESIDE_SHARE * length) return null;
    const opacity = Math.min(1, Math.max(0, (along - SLACK_OPACITY) / (1 - 2 * SLACK_OPACITY)));
    const share = Math.min(1, Math.max(0, (opacity - OWN_OPACITY) / (1 - OWN_OPACITY)));
    for (let c = 0; c < 3; c++) {
      const own = opacity > 0 ? (picture.data[p + c]! - (1 - opacity) * b[c]!) / opacity : f[c]!;
      this.color[c] = Math.min(255, Math.max(0, f[c]! + (own - f[c]!) * share));
    }
    return opacity;
  }

  /** The color of the nearest certain background; null where none is near. */
  backgroundAt(x: number, y: number): Rgb | null {
    if ((this.knownNear(x, y) & BACKGROUND) === 0 || !(this.gather(x, y) & BACKGROUND)) return null;
    const [red, green, blue] = this.b;
    return { red: red!, green: green!, blue: blue! };
  }

  /** The nearest certain subject into `f` and background into `b`, and which of them are near. Pixels of a block share them. */
  private gather(x: number, y: number): number {
    const { around, f, b, found, colors } = this;
    const [u, v] = [x & -BLOCK_PX, y & -BLOCK_PX];
    const i =
      ((v >> BLOCK_SHIFT) - (around.y >> BLOCK_SHIFT)) * this.blocksAcross +
      (u >> BLOCK_SHIFT) -
      (around.x >> BLOCK_SHIFT);
    if (found[i] === NOT_SEARCHED) {
      found[i] = this.search(u, v);
      colors.set(f, i * 6);
      colors.set(b, i * 6 + 3);
    } else
      for (let c = 0; c < 3; c++) {
        f[c] = colors[i * 6 + c]!;
        b[c] = colors[i * 6 + 3 + c]!;
      }
    return found[i]!;
  }

  private search(x: number, y: number): number {
    const { sure, around, picture, base, baseAt, f, b, ring } = this;
    f.fill(0);
    b.fill(0);
    let [subjects, backgrounds] = [0, 0];
    for (let k = 0; k < ring.length && (subjects < COUNT || backgrounds < COUNT); k += 2) {
      const [u, v] = [x + ring[k]!, y + ring[k + 1]!];
      const [s, t] = [u - around.x, v - around.y];
      if (s < 0 || t < 0 || s >= around.width || t >= around.height) continue;
      const known = sure[t * around.width + s];
      if (known === SUBJECT && subjects < COUNT) {
        const q = ((v - baseAt.y) * base.width + u - baseAt.x) * 4;
        // What Edge left of the subject is free of spill.
        if (base.data[q + 3] === 255) for (let c = 0; c < 3; c++) f[c]! += base.data[q + c]!;
        else addTo(f, picture, u, v);
        subjects++;
      } else if (known === BACKGROUND && backgrounds < COUNT) {
        addTo(b, picture, u, v);
        backgrounds++;
      }
    }
    for (let c = 0; c < 3; c++) {
      f[c]! /= Math.max(1, subjects);
      b[c]! /= Math.max(1, backgrounds);
    }
    return (subjects > 0 ? SUBJECT : UNKNOWN) | (backgrounds > 0 ? BACKGROUND : UNKNOWN);
  }
}

function addTo(sum: Float64Array, { width, data }: Raster, x: number, y: number): void {
  const p = (y * width + x) * 4;
  for (let c = 0; c < 3; c++) sum[c]! += data[p + c]!;
}

/** Marks with 1 whatever lies within `px` pixels, across and down, of what is marked in a mask of `rect`; of `part`'s size. */
export function grownMask(
  { rect, data }: { readonly rect: Rect; readonly data: Uint8Array },
  px: number,
  part: Rect,
): Uint8Array {
  const out = new Uint8Array(part.width * part.height);
  const reach = overlapRect(rect, {
    x: part.x - px,
    y: part.y - px,
    width: part.width + 2 * px,
    height: part.height + 2 * px,
  });
  if (!reach) return out;
  for (let y = reach.y; y < reach.y + reach.height; y++) {
    const row = (y - rect.y) * rect.width - rect.x;
    for (let x = reach.x; x < reach.x + reach.width; x++) {
      if (data[row + x] === 0) continue;
      const from = x;
      while (x + 1 < reach.x + reach.width && data[row + x + 1] === 1) x++;
      const [left, right] = [Math.max(part.x, from - px), Math.min(part.x + part.width, x + px + 1)];
      if (left >= right) continue;
      for (let v = Math.max(part.y, y - px); v <= Math.min(part.y + part.height - 1, y + px); v++)
        out.fill(1, (v - part.y) * part.width + left - part.x, (v - part.y) * part.width + right - part.x);
    }
  }
  return out;
}
