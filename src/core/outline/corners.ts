/** How far along a line its direction is told from, to either side of a place. */
const ARM_PX = 3;

/** Directions that differ by more than this make a corner. Smaller turns are part of a curve. */
const CORNER_COSINE = 0.72;

/** Corners lie so far apart at least. */
const APART_PX = 2;

/** A corner that pixels have rounded lies where its sides meet, if that is so near. */
const MOST_SHIFT_PX = 1.2;

/** A line around something in parts that are smooth each; where there is no corner, one part that ends where it begins. */
export interface SmoothParts {
  readonly parts: readonly (readonly (readonly [number, number])[])[];
  readonly hasCorners: boolean;
}

type Point = readonly [number, number];

/** Parts a closed line, x and y in turn, at its corners. */
export function smoothParts(contour: Float64Array): SmoothParts {
  const points: Point[] = [];
  for (let k = 0; k < contour.length; k += 2) {
    const last = points.at(-1);
    const point: Point = [contour[k]!, contour[k + 1]!];
    if (!last || squaredLength(last, point) > 1e-6) points.push(point);
  }
  const count = points.length;
  if (count < 3) return { parts: [], hasCorners: false };
  const turns = points.map((_, k) => cosineAt(points, k));
  const corners = points
    .map((_, k) => k)
    .filter((k) => turns[k]! < CORNER_COSINE && isSharpest(points, turns, k));
  if (corners.length === 0) return { parts: [[...points, points[0]!]], hasCorners: false };
  const moved = new Map(corners.map((k) => [k, metAt(points, k)]));
  const parts = corners.map((from, c) => {
    const to = corners[(c + 1) % corners.length]!;
    const between = (to - from + count) % count || count;
    const part: Point[] = [moved.get(from)!];
    for (let step = 1; step < between; step++) part.push(points[(from + step) % count]!);
    part.push(moved.get(to)!);
    return part;
  });
  return { parts, hasCorners: true };
}

/** The place so far along from a point, backward below 0. */
function along(points: readonly Point[], k: number, distance: number): Point {
  const step = distance < 0 ? -1 : 1;
  let left = Math.abs(distance);
  let at = points[k]!;
  for (let n = 1; n < points.length; n++) {
    const next = points[(k + step * n + points.length * 2) % points.length]!;
    const length = Math.sqrt(squaredLength(at, next));
    if (length >= left) {
      const share = left / length;
      return [at[0] + (next[0] - at[0]) * share, at[1] + (next[1] - at[1]) * share];
    }
    left -= length;
    at = next;
  }
  return at;
}

/** The cosine of the turn at a point: 1 straight on, -1 back. */
function cosineAt(points: readonly Point[], k: number): number {
  const at = points[k]!;
  const before = along(points, k, -ARM_PX);
  const behind = along(points, k, ARM_PX);
  const ux = at[0] - before[0];
  const uy = at[1] - before[1];
  const vx = behind[0] - at[0];
  const vy = behind[1] - at[1];
  const lengths = Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
  return lengths === 0 ? 1 : (ux * vx + uy * vy) / lengths;
}

function isSharpest(points: readonly Point[], turns: readonly number[], k: number): boolean {
  const count = points.length;
  for (const step of [1, -1]) {
    for (let n = 1; n < count; n++) {
      const other = (k + step * n + count * 2) % count;
      if (other === k || squaredLength(points[k]!, points[other]!) > APART_PX * APART_PX) break;
      if (turns[other]! < turns[k]! || (turns[other] === turns[k] && other < k)) return false;
    }
  }
  return true;
}

/** Where the sides of a corner meet; its own place where they do not, or far away. */
function metAt(points: readonly Point[], k: number): Point {
  const at = points[k]!;
  const [a, b] = [along(points, k, -1.2), along(points, k, -1.2 - ARM_PX)];
  const [c, d] = [along(points, k, 1.2), along(points, k, 1.2 + ARM_PX)];
  const [ux, uy] = [a[0] - b[0], a[1] - b[1]];
  const [vx, vy] = [c[0] - d[0], c[1] - d[1]];
  const cross = ux * vy - uy * vx;
  const lengths = Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
  if (lengths === 0 || Math.abs(cross) < 0.3 * lengths) return at;
  const t = ((c[0] - a[0]) * vy - (c[1] - a[1]) * vx) / cross;
  const met: Point = [a[0] + t * ux, a[1] + t * uy];
  return squaredLength(met, at) > MOST_SHIFT_PX * MOST_SHIFT_PX ? at : met;
}

function squaredLength(a: Point, b: Point): number {
  const dx = a[0] - b[0];
  const dy = a[1] - b[1];
  return dx * dx + dy * dy;
}
