import { SRGB_TO_LINEAR } from '../color/oklab';
import type { Raster } from '../raster/raster';
import type { Drawn, Layer } from './lay';

// What the figures of this file rest on: docs/decisions/020-proofs.md

/** How far from an edge its two sides are looked at, in pixels of the ground. */
const REACH_PX = 3;

/** What is at least so opaque belongs to the piece, and at most so little to the ground. */
const SOLID_ALPHA = 128;
const BARE_ALPHA = 16;

/** Pixels of edge that are read at most. */
const MOST_READ_PIXELS = 20_000;

/** How well a piece can be told from what it lies on, along its edge. */
export interface EdgeContrast {
  /** The contrast (WCAG 2.2, relative luminance) that half of its edge has or more; 1 to 21. */
  readonly median: number;
  /** The same of three quarters. */
  readonly low: number;
}

/**
 * The contrast of a piece against its ground along its edge: on one side the piece as it is seen there (its opacity and blending
 * counted), on the other the ground. Null where it has no edge on the ground.
 */
export function edgeContrast(
  ground: Raster,
  { raster, left, top }: Drawn,
  look: Pick<Layer, 'opacity' | 'blend'>,
): EdgeContrast | null {
  const edge = edgeOf(raster);
  const every = Math.max(1, Math.ceil(edge.length / MOST_READ_PIXELS));
  const found: number[] = [];
  for (let k = 0; k < edge.length; k += every) {
    const x = edge[k]! % raster.width;
    const y = (edge[k]! - x) / raster.width;
    const contrast = contrastAt(ground, raster, x, y, left, top, look);
    if (contrast !== null) found.push(contrast);
  }
  if (found.length === 0) return null;
  found.sort((one, other) => one - other);
  return { median: found[found.length >> 1]!, low: found[found.length >> 2]! };
}

/** Pixels of the piece beside what is not it. */
function edgeOf({ data, width, height }: Raster): number[] {
  const isSolid = (x: number, y: number) =>
    x >= 0 && y >= 0 && x < width && y < height && data[(y * width + x) * 4 + 3]! >= SOLID_ALPHA;
  const edge: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (
        isSolid(x, y) &&
        !(isSolid(x - 1, y) && isSolid(x + 1, y) && isSolid(x, y - 1) && isSolid(x, y + 1))
      )
        edge.push(y * width + x);
  return edge;
}

function contrastAt(
  ground: Raster,
  { data, width, height }: Raster,
  x: number,
  y: number,
  left: number,
  top: number,
  { opacity, blend }: Pick<Layer, 'opacity' | 'blend'>,
): number | null {
  let solid = -1;
  let mostAlpha = 0;
  let bare = 0;
  let light = 0;
  for (let v = y - REACH_PX; v <= y + REACH_PX; v++)
    for (let u = x - REACH_PX; u <= x + REACH_PX; u++) {
      const isOnGround = u + left >= 0 && v + top >= 0 && u + left < ground.width && v + top < ground.height;
      if (!isOnGround) continue;
      const isWithin = u >= 0 && v >= 0 && u < width && v < height;
      const p = (v * width + u) * 4;
      const alpha = isWithin ? data[p + 3]! : 0;
      if (alpha > mostAlpha) {
        mostAlpha = alpha;
        solid = p;
      }
      if (alpha > BARE_ALPHA) continue;
      bare++;
      light += luminanceAt(ground.data, ((v + top) * ground.width + u + left) * 4);
    }
  if (bare === 0 || solid < 0) return null;
  const u = (solid / 4) % width;
  const q = ((Math.floor(solid / 4 / width) + top) * ground.width + u + left) * 4;
  const share = (mostAlpha * opacity) / 25_500;
  const seen = [0, 1, 2].map((c) => {
    const below = ground.data[q + c]!;
    const color = blend === 'multiply' ? (data[solid + c]! * below) / 255 : data[solid + c]!;
    return Math.round(color * share + below * (1 - share));
  });
  return contrastOf(luminanceAt(seen, 0), light / bare);
}

/** The relative luminance of a color, 0 to 1 (WCAG 2.2). */
function luminanceAt(data: ArrayLike<number>, p: number): number {
  return (
    0.2126 * SRGB_TO_LINEAR[data[p]!]! +
    0.7152 * SRGB_TO_LINEAR[data[p + 1]!]! +
    0.0722 * SRGB_TO_LINEAR[data[p + 2]!]!
  );
}

/** The contrast ratio of two relative luminances, 1 to 21 (WCAG 2.2). */
export function contrastOf(one: number, other: number): number {
  return (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05);
}
