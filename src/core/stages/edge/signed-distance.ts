import type { Plane } from '../../raster/plane';
import { lengthOf, square } from '../../numeric/exact';

/** Where the edge lies around every pixel of a part. */
export interface SignedDistance {
  /** Distance to the edge in pixels, positive within the subject, at most `limitPx` either way. */
  readonly distance: Float32Array;
  /** The pixel of the edge that stands for it, -1 beyond the limit. What follows is known of these pixels only. */
  readonly nearest: Int32Array;
  /** The direction from the background into the subject, of length 1. */
  readonly inwardX: Float32Array;
  readonly inwardY: Float32Array;
  /** How far the edge is drawn sharp, 0 to 1, and how much alpha rises per pixel where it is not. */
  readonly sharpness: Float32Array;
  readonly slope: Float32Array;
}

// What the figures of this file rest on: docs/decisions/006-shaping-edges.md

/** Off the normal by up to so much the nearest pixel still stands for the edge beside it, in pixels. */
const BESIDE_PX = 0.75;

/** Alpha is looked at this far in and out of an edge; where it rises by more than SHARP_FROM_OPACITY the edge is drawn sharp. */
const ACROSS_PX = 1.5;
const SHARP_FROM_OPACITY = 0.94;

/**
 * The signed distance to the edge of a cutout from its alpha (0 to 1, row by row). The edge is where alpha passes a half;
 * its place within a pixel is read from how much of the pixel is covered (Gustavson and Strand, 2011) or, where the
 * transition is wider than a pixel, from its slope.
 */
export function signedDistance(plane: Plane<Float32Array>, limitPx: number): SignedDistance {
  const { data: alpha, width, height } = plane;
  const edges: Plane = { data: edgePixels(plane), width, height };
  const values = () => new Float32Array(alpha.length);
  const field: SignedDistance = {
    distance: values(),
    nearest: nearestEdge(edges, Math.ceil(limitPx)),
    inwardX: values(),
    inwardY: values(),
    sharpness: values(),
    slope: values(),
  };
  const { distance, nearest } = field;
  const own = values();
  for (let i = 0; i < alpha.length; i++) {
    if (edges.data[i] === 1) own[i] = measureEdge(plane, i, field);
  }
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const inside = alpha[i]! >= 0.5;
      const e = nearest[i]! < 0 ? -1 : mostAcross(field, edges, nearest[i]!, x, y);
      const far = e < 0 ? Infinity : fromEdge(field, own, e, x - (e % width), y - Math.floor(e / width));
      nearest[i] = Math.abs(far) > limitPx ? -1 : e;
      if (i === e) distance[i] = far;
      else distance[i] = Math.min(limitPx, Math.abs(far)) * (inside ? 1 : -1);
    }
  }
  return field;
}

/** Of an edge pixel and its neighbors on the edge the one whose normal passes nearest to a place. */
function mostAcross(
  field: SignedDistance,
  { data: edges, width, height }: Plane,
  e: number,
  x: number,
  y: number,
): number {
  const ex = e % width;
  const ey = (e - ex) / width;
  let best = e;
  let least = Infinity;
  for (let ny = Math.max(0, ey - 1); ny <= Math.min(height - 1, ey + 1); ny++) {
    for (let nx = Math.max(0, ex - 1); nx <= Math.min(width - 1, ex + 1); nx++) {
      const j = ny * width + nx;
      if (edges[j] !== 1) continue;
      const beside = Math.abs((x - nx) * field.inwardY[j]! - (y - ny) * field.inwardX[j]!);
      if (beside >= least) continue;
      least = beside;
      best = j;
    }
  }
  return best;
}

/**
 * For every pixel the nearest edge pixel, by squared distance and then by index, -1 where there is none within `reach`.
 * Every edge pixel enters itself around; edges are few.
 */
function nearestEdge({ data: edges, width, height }: Plane, reach: number): Int32Array {
  const nearest = new Int32Array(edges.length).fill(-1);
  const least = new Uint16Array(edges.length).fill(0xffff);
  for (let e = edges.indexOf(1); e >= 0; e = edges.indexOf(1, e + 1)) {
    const ex = e % width;
    const ey = (e - ex) / width;
    const left = Math.max(0, ex - reach);
    const right = Math.min(width - 1, ex + reach);
    for (let y = Math.max(0, ey - reach); y <= Math.min(height - 1, ey + reach); y++) {
      const rows = square(y - ey);
      for (let x = left, i = y * width + left; x <= right; x++, i++) {
        const far = rows + square(x - ex);
        if (far >= least[i]!) continue;
        least[i] = far;
        nearest[i] = e;
      }
    }
  }
  return nearest;
}

/** Marks with 1 the pixels nearest to where alpha passes a half between two that share a side. */
function edgePixels({ data: alpha, width, height }: Plane<Float32Array>): Uint8Array {
  const edges = new Uint8Array(alpha.length);
  const look = (i: number, j: number) => {
    const one = alpha[i]! - 0.5;
    const other = alpha[j]! - 0.5;
    if (one >= 0 === other >= 0) return;
    if (Math.abs(one) <= Math.abs(other)) edges[i] = 1;
    if (Math.abs(other) <= Math.abs(one)) edges[j] = 1;
  };
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x + 1 < width) look(i, i + 1);
      if (y + 1 < height) look(i, i + width);
    }
  }
  return edges;
}

/** Notes the direction of the edge in a pixel and returns the distance of its center, positive within the subject. */
function measureEdge(plane: Plane<Float32Array>, i: number, field: SignedDistance): number {
  const { data: alpha, width, height } = plane;
  const x = i % width;
  const y = (i - x) / width;
  const left = x > 0 ? -1 : 0;
  const right = x + 1 < width ? 1 : 0;
  const up = y > 0 ? -width : 0;
  const down = y + 1 < height ? width : 0;
  const at = (step: number) => alpha[i + step]!;
  const gx =
    at(up + right) + 2 * at(right) + at(down + right) - at(up + left) - 2 * at(left) - at(down + left);
  const gy = at(left + down) + 2 * at(down) + at(right + down) - at(left + up) - 2 * at(up) - at(right + up);
  const length = lengthOf(gx, gy);
  const own = at(0);
  if (length < 1e-6) {
    field.inwardX[i] = 1;
    field.slope[i] = 1;
    return own - 0.5;
  }
  const nx = gx / length;
  const ny = gy / length;
  field.inwardX[i] = nx;
  field.inwardY[i] = ny;
  const inner = between(plane, x + ACROSS_PX * nx, y + ACROSS_PX * ny);
  const outer = between(plane, x - ACROSS_PX * nx, y - ACROSS_PX * ny);
  const rise = inner - outer;
  const sharp = Math.min(1, Math.max(0, (rise - SHARP_FROM_OPACITY) / (1 - SHARP_FROM_OPACITY)));
  const slope = Math.max(inner - own, own - outer, 0.03) / ACROSS_PX;
  field.sharpness[i] = sharp;
  field.slope[i] = slope;
  const soft = Math.min(1, Math.max(-1, (own - 0.5) / slope));
  return sharp * depthOfCoverage(own, nx, ny) + (1 - sharp) * soft;
}

/** Alpha at a depth beyond the edge as edge pixel `e` shows it. */
export function profileAt(field: SignedDistance, e: number, depth: number): number {
  const sharp = field.sharpness[e]!;
  const covered = sharp > 0 ? coverageAt(depth, field.inwardX[e]!, field.inwardY[e]!) : 0;
  if (sharp === 1) return covered;
  const ramp = Math.min(1, Math.max(0, 0.5 + depth * field.slope[e]!));
  return sharp * covered + (1 - sharp) * ramp;
}

/** The distance of a pixel at (dx, dy) from edge pixel `e`. */
function fromEdge(field: SignedDistance, own: Float32Array, e: number, dx: number, dy: number): number {
  const along = dx * field.inwardX[e]! + dy * field.inwardY[e]!;
  const beside = Math.sqrt(Math.max(0, dx * dx + dy * dy - along * along));
  const straight = along + own[e]!;
  const off = Math.max(0, beside - BESIDE_PX);
  return off === 0 ? straight : Math.sqrt(straight * straight + off * off) * (straight < 0 ? -1 : 1);
}

/** A plane between its pixels, by bilinear interpolation; its border goes on outside. */
export function between({ data: plane, width, height }: Plane<Float32Array>, x: number, y: number): number {
  const cx = Math.min(width - 1, Math.max(0, x));
  const cy = Math.min(height - 1, Math.max(0, y));
  const left = Math.floor(cx);
  const top = Math.floor(cy);
  const i = top * width + left;
  const right = left + 1 < width ? i + 1 : i;
  const down = top + 1 < height ? width : 0;
  const sx = cx - left;
  const sy = cy - top;
  const upper = plane[i]! + (plane[right]! - plane[i]!) * sx;
  const lower = plane[i + down]! + (plane[right + down]! - plane[i + down]!) * sx;
  return upper + (lower - upper) * sy;
}

/** How much of a pixel is covered, 0 to 1, by what lies beyond a straight edge; `depth` is that of its center. */
export function coverageAt(depth: number, inwardX: number, inwardY: number): number {
  if (depth < 0) return 1 - coverageAt(-depth, inwardX, inwardY);
  const one = Math.abs(inwardX);
  const other = Math.abs(inwardY);
  const long = Math.max(one, other);
  const short = Math.min(one, other);
  if (depth >= (long + short) / 2) return 1;
  if (depth <= (long - short) / 2) return 0.5 + depth / long;
  return 1 - square((long + short) / 2 - depth) / (2 * long * short);
}

/** The inverse of `coverageAt`: how deep the center of a pixel lies that is covered by so much. */
export function depthOfCoverage(coverage: number, inwardX: number, inwardY: number): number {
  if (coverage < 0.5) return -depthOfCoverage(1 - coverage, inwardX, inwardY);
  const one = Math.abs(inwardX);
  const other = Math.abs(inwardY);
  const long = Math.max(one, other);
  const short = Math.min(one, other);
  const straight = (coverage - 0.5) * long;
  if (straight <= (long - short) / 2) return straight;
  return (long + short) / 2 - Math.sqrt(2 * long * short * (1 - coverage));
}
