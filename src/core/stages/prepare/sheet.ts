import { lumaOf } from '../../color/luma';
import { labelRuns } from '../../numeric/label';
import { halve, halvingsTo, type Reduced } from '../../raster/reduce';
import type { Raster } from '../../raster/raster';
import { isConvex } from './frame';

/** Four corners in pixels of the original: upper left, upper right, lower right, lower left. */
export type SheetCorners = readonly [Corner, Corner, Corner, Corner];
type Corner = readonly [number, number];

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Pixels that are enough to see a sheet. */
const SEEN_PIXELS = 120_000;

/** A sheet covers this share of the picture, at least and at most, and so much of the quadrangle between its corners. */
const LEAST_SHARE = 0.2;
const MOST_SHARE = 0.97;
const FILLED_SHARE = 0.9;

/** A side is found again by a line through the outline between these shares of its length. */
const FROM_SHARE = 0.12;
const TO_SHARE = 0.88;

/**
 * The corners of a light sheet before a darker ground: the largest light part by Otsu's threshold (1979), its outermost
 * points along the diagonals, and then lines fitted through its four sides. Null where no such outline is seen.
 */
export function findSheet(small: Reduced): SheetCorners | null {
  let { raster, reduction } = small;
  for (let k = halvingsTo(SEEN_PIXELS, raster.width, raster.height); k > 0; k--, reduction++)
    raster = halve(raster);
  const { width, height } = raster;
  const luma = lumaPlane(raster);
  const limit = otsu(luma);
  const light = Uint8Array.from(luma, (value) => (value > limit ? 1 : 0));
  const parts = labelRuns({ data: light, width, height }, 1);
  const largest = parts.areas.indexOf(Math.max(...parts.areas));
  if (largest < 0) return null;
  const left = new Int32Array(height).fill(width);
  const right = new Int32Array(height).fill(-1);
  let area = 0;
  parts.forEachRun((part, start, length) => {
    if (part !== largest) return;
    const y = Math.floor(start / width);
    left[y] = Math.min(left[y]!, start - y * width);
    right[y] = Math.max(right[y]!, start - y * width + length);
    area += length;
  });
  const outline: Corner[] = [];
  for (let y = 0; y < height; y++)
    if (right[y]! >= 0) outline.push([left[y]!, y + 0.5], [right[y]!, y + 0.5]);
  const columns = columnOutline(left, right, width, height);
  const points = [...outline, ...columns];
  const rough = [
    extreme(points, ([x, y]) => -x - y),
    extreme(points, ([x, y]) => x - y),
    extreme(points, ([x, y]) => x + y),
    extreme(points, ([x, y]) => y - x),
  ] as const;
  const corners = refined(rough, points) ?? rough;
  // Sides that lie on one line meet nowhere; corners that cross are those of no sheet.
  if (!isConvex(corners.map(([x, y]) => ({ x, y })))) return null;
  const covered = quadArea(corners);
  const share = covered / (width * height);
  if (
    share < LEAST_SHARE ||
    share > MOST_SHARE ||
    area < FILLED_SHARE * covered ||
    area > (2 - FILLED_SHARE) * covered
  )
    return null;
  const unit = 1 << reduction;
  const tenth = (value: number) => Math.round(value * unit * 10) / 10;
  return corners.map(([x, y]) => [tenth(x), tenth(y)]) as unknown as SheetCorners;
}

function lumaPlane({ data }: Raster): Uint8Array {
  const out = new Uint8Array(data.length >> 2);
  for (let i = 0, p = 0; i < out.length; i++, p += 4)
    out[i] = Math.round(lumaOf(data[p]!, data[p + 1]!, data[p + 2]!));
  return out;
}

/** The threshold that parts values in two classes with the least variance within them. */
function otsu(values: Uint8Array): number {
  const counts = new Float64Array(256);
  for (const value of values) counts[value]!++;
  let sum = 0;
  for (let value = 0; value < 256; value++) sum += value * counts[value]!;
  let below = 0;
  let sumBelow = 0;
  let best = 0;
  let most = -1;
  for (let value = 0; value < 255; value++) {
    below += counts[value]!;
    sumBelow += value * counts[value]!;
    const above = values.length - below;
    if (below === 0 || above === 0) continue;
    const apart = sumBelow / below - (sum - sumBelow) / above;
    const between = below * above * apart * apart;
    if (between > most) {
      most = between;
      best = value;
    }
  }
  return best;
}

function columnOutline(left: Int32Array, right: Int32Array, width: number, height: number): Corner[] {
  const points: Corner[] = [];
  for (let x = 0; x < width; x += 1) {
    let top = -1;
    let bottom = -1;
    for (let y = 0; y < height; y++) {
      if (left[y]! > x || right[y]! <= x) continue;
      if (top < 0) top = y;
      bottom = y + 1;
    }
    if (top >= 0) points.push([x + 0.5, top], [x + 0.5, bottom]);
  }
  return points;
}

function extreme(points: readonly Corner[], measure: (point: Corner) => number): Corner {
  return points.reduce((best, point) => (measure(point) > measure(best) ? point : best));
}

/** The corners in which lines through the four sides meet; null where a side shows too little. */
function refined(rough: readonly Corner[], points: readonly Corner[]): readonly Corner[] | null {
  const sides = rough.map((from, k) => sideThrough(from, rough[(k + 1) % 4]!, points));
  if (sides.includes(null)) return null;
  return sides.map((side, k) => meeting(sides[(k + 3) % 4]!, side));
}

/** A line as a point and a direction. */
interface Line {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
}

function sideThrough([x0, y0]: Corner, [x1, y1]: Corner, points: readonly Corner[]): Line | null {
  const length = Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0));
  if (length < 8) return null;
  const ux = (x1 - x0) / length;
  const uy = (y1 - y0) / length;
  const along: number[] = [];
  const off: number[] = [];
  for (const [x, y] of points) {
    const t = ((x - x0) * ux + (y - y0) * uy) / length;
    const d = (y - y0) * ux - (x - x0) * uy;
    if (t < FROM_SHARE || t > TO_SHARE || Math.abs(d) > 0.03 * length + 2) continue;
    along.push(t * length);
    off.push(d);
  }
  if (along.length < 8) return null;
  const n = along.length;
  const meanT = along.reduce((sum, t) => sum + t, 0) / n;
  const meanD = off.reduce((sum, d) => sum + d, 0) / n;
  let tt = 0;
  let td = 0;
  for (let k = 0; k < n; k++) {
    tt += (along[k]! - meanT) * (along[k]! - meanT);
    td += (along[k]! - meanT) * (off[k]! - meanD);
  }
  const slope = tt > 0 ? td / tt : 0;
  return {
    x: x0 + ux * meanT - uy * meanD,
    y: y0 + uy * meanT + ux * meanD,
    dx: ux - slope * uy,
    dy: uy + slope * ux,
  };
}

function meeting(one: Line, other: Line | null): Corner {
  const { dx, dy } = other!;
  const det = one.dx * dy - one.dy * dx;
  const t = ((other!.x - one.x) * dy - (other!.y - one.y) * dx) / det;
  return [one.x + one.dx * t, one.y + one.dy * t];
}

function quadArea(corners: readonly Corner[]): number {
  let twice = 0;
  corners.forEach(([x, y], k) => {
    const [u, v] = corners[(k + 1) % 4]!;
    twice += x * v - u * y;
  });
  return Math.abs(twice) / 2;
}
