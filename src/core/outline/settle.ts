import type { Raster } from '../raster/raster';
import type { Contour } from './contours';
import { coverageOf } from './coverage';

/** Rounds in which lines are moved. */
const ROUNDS = 16;

/** Toward the middle of its neighbors a point goes this share of the way in a round: no ripple stays that no pixel asks for. */
const EVENING = 0.3;

/** But not where the line turns by more than this: a corner. */
const CORNER_COSINE = 0.6;

/** Of what a line should move it moves so much in a round, since the other side of a thin line moves too. */
const STEP = 0.5;

/** A point moves by so many pixels at most in a round. */
const MOST_STEP_PX = 0.4;

/**
 * Moves the points of lines, in place, to where they cover of each pixel what its alpha says: along their normals, by how much
 * is covered too little or too much around them. So an edge comes to lie as finely as its alpha tells, a corner sharp, and a
 * hairline as thin as it is faint.
 */
export function settleContours(contours: readonly Contour[], raster: Raster): void {
  const { width, height, data } = raster;
  for (let round = 0; round < ROUNDS; round++) {
    const missing = coverageOf(contours, width, height);
    for (let i = 0, p = 3; i < missing.length; i++, p += 4) missing[i] = data[p]! / 255 - missing[i]!;
    for (const points of contours) movePoints(points, missing, width, height);
  }
}

function movePoints(points: Contour, missing: Float32Array, width: number, height: number): void {
  const count = points.length;
  let beforeX = points[count - 2]!;
  let beforeY = points[count - 1]!;
  const firstX = points[0]!;
  const firstY = points[1]!;
  for (let k = 0; k < count; k += 2) {
    const x = points[k]!;
    const y = points[k + 1]!;
    const nextX = k + 2 < count ? points[k + 2]! : firstX;
    const nextY = k + 2 < count ? points[k + 3]! : firstY;
    const dx = nextX - beforeX;
    const dy = nextY - beforeY;
    const length = Math.sqrt(dx * dx + dy * dy);
    const lastX = beforeX;
    const lastY = beforeY;
    beforeX = x;
    beforeY = y;
    if (length === 0) continue;
    const wanted = STEP * missingAround(missing, width, height, x, y);
    const step = Math.max(-MOST_STEP_PX, Math.min(MOST_STEP_PX, wanted));
    const evening = turnsSharply(lastX, lastY, x, y, nextX, nextY) ? 0 : EVENING;
    // Outward is to the left of the way.
    points[k] = x + (dy / length) * step + evening * ((lastX + nextX) / 2 - x);
    points[k + 1] = y - (dx / length) * step + evening * ((lastY + nextY) / 2 - y);
  }
}

function turnsSharply(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): boolean {
  const ux = bx - ax;
  const uy = by - ay;
  const vx = cx - bx;
  const vy = cy - by;
  return ux * vx + uy * vy < CORNER_COSINE * Math.sqrt((ux * ux + uy * uy) * (vx * vx + vy * vy));
}

/** How far a line at a place would have to move outward: what is missing around it, over the length of line that is there. */
function missingAround(missing: Float32Array, width: number, height: number, x: number, y: number): number {
  // A tent of three pixels to a side, and a line through its middle of about this weight.
  const left = Math.floor(x - 1.5);
  const top = Math.floor(y - 1.5);
  let sum = 0;
  for (let row = top; row <= top + 3; row++) {
    if (row < 0 || row >= height) continue;
    const down = 1.5 - Math.abs(row + 0.5 - y);
    if (down <= 0) continue;
    for (let column = left; column <= left + 3; column++) {
      if (column < 0 || column >= width) continue;
      const across = 1.5 - Math.abs(column + 0.5 - x);
      if (across > 0) sum += down * across * missing[row * width + column]!;
    }
  }
  return sum / LINE_WEIGHT;
}

/** What a straight line through the middle of the tent weighs: 1.5 times the integral of the tent along it. */
const LINE_WEIGHT = 1.5 * 2.25;
