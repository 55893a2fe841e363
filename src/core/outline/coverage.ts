import type { Contour } from './contours';

/**
 * How much of each pixel closed lines cover, 0 to 1 and beyond where they overlap; what they go around clockwise counts, the
 * other way round it is taken off. Exact for polygons: signed areas are added up along rows, as in renderers of type (Levien
 * 2016). What goes around a part of the picture beyond its left border counts for its rows too.
 */
export function coverageOf(contours: readonly Contour[], width: number, height: number): Float32Array {
  // Two more, since a line in the last column passes on what it covers.
  const stride = width + 2;
  const sums = new Float32Array(stride * height);
  for (const points of contours) {
    let x = points[points.length - 2]!;
    let y = points[points.length - 1]!;
    for (let k = 0; k < points.length; k += 2) {
      addLine(sums, stride, width, height, x, y, points[k]!, points[k + 1]!);
      x = points[k]!;
      y = points[k + 1]!;
    }
  }
  const out = new Float32Array(width * height);
  for (let row = 0; row < height; row++) {
    let sum = 0;
    for (let column = 0; column < width; column++) {
      sum += sums[row * stride + column]!;
      out[row * width + column] = sum;
    }
  }
  return out;
}

function addLine(
  sums: Float32Array,
  stride: number,
  width: number,
  height: number,
  fromX: number,
  fromY: number,
  toX: number,
  toY: number,
): void {
  if (fromY === toY) return;
  for (const border of [0, width]) {
    if ((fromX < border && toX > border) || (fromX > border && toX < border)) {
      const y = fromY + ((border - fromX) / (toX - fromX)) * (toY - fromY);
      addLine(sums, stride, width, height, fromX, fromY, border, y);
      addLine(sums, stride, width, height, border, y, toX, toY);
      return;
    }
  }
  // Downward it takes off, upward it adds: a clockwise way goes up on the left of what it is around.
  const sign = fromY < toY ? -1 : 1;
  const [x0, y0, x1, y1] = fromY < toY ? [fromX, fromY, toX, toY] : [toX, toY, fromX, fromY];
  const slope = (x1 - x0) / (y1 - y0);
  const last = Math.min(height, Math.ceil(y1));
  for (let row = Math.max(0, Math.floor(y0)); row < last; row++) {
    const top = Math.max(row, y0);
    const bottom = Math.min(row + 1, y1);
    const tall = bottom - top;
    if (tall <= 0) continue;
    const one = held(x0 + (top - y0) * slope, width);
    const other = held(x0 + (bottom - y0) * slope, width);
    addSpan(sums, row * stride, sign * tall, Math.min(one, other), Math.max(one, other));
  }
}

function held(x: number, width: number): number {
  return x < 0 ? 0 : x > width ? width : x;
}

/** A part of a line within one row, from `left` to `right`: all to its right is covered by `cover`. */
function addSpan(sums: Float32Array, row: number, cover: number, left: number, right: number): void {
  const first = Math.floor(left);
  const end = Math.ceil(right);
  if (end <= first + 1) {
    // Within one column: covered to the right of its middle.
    const share = first + 1 - (left + right) / 2;
    sums[row + first] = sums[row + first]! + cover * share;
    sums[row + first + 1] = sums[row + first + 1]! + cover * (1 - share);
    return;
  }
  const perColumn = cover / (right - left);
  let before = 0;
  for (let column = first; column < end; column++) {
    const from = Math.max(left, column);
    const to = Math.min(right, column + 1);
    // What of this column lies to the right of the line, and all of it under the line's earlier part.
    const length = to - from;
    const area = before + perColumn * length * (column + 1 - (from + to) / 2);
    const passed = before + perColumn * length;
    sums[row + column] = sums[row + column]! + area - before;
    sums[row + column + 1] = sums[row + column + 1]! + passed - area;
    before = passed;
  }
}
