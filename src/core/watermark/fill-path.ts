import { PATH, PATH_NUMBERS } from './shaped';

/** Where a path lies: (x, y) goes to (a x + c y + e, b x + d y + f). */
export interface Affine {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
}

/** Coverage that is being gathered: of each pixel how much its left side changes it; see `coverageOf`. */
export interface Accumulator {
  readonly width: number;
  readonly height: number;
  /** Rows of `width + 2`. */
  readonly sums: Float64Array;
}

export function newAccumulator(width: number, height: number): Accumulator {
  return { width, height, sums: new Float64Array((width + 2) * height) };
}

/** A curve is drawn as so many lines at most, and as one for so many pixels of its length. */
const MOST_LINES = 48;
const PIXELS_A_LINE = 1.5;

/**
 * Adds a closed path to an accumulator by exact areas of trapezoids (as Levien's font-rs, 2016, and FreeType's smooth rasterizer
 * compute coverage): no samples, so edges have all levels. What lies beyond the left border counts, beyond the right one it does not.
 */
export function addPath(to: Accumulator, path: readonly number[], at: Affine): void {
  const { a, b, c, d, e, f } = at;
  let startX = 0;
  let startY = 0;
  let x = 0;
  let y = 0;
  const p: number[] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < path.length;) {
    const code = path[k]!;
    const count = PATH_NUMBERS[code]!;
    for (let n = 0; n < count; n += 2) {
      const u = path[k + 1 + n]!;
      const v = path[k + 2 + n]!;
      p[n] = a * u + c * v + e;
      p[n + 1] = b * u + d * v + f;
    }
    k += 1 + count;
    if (code === PATH.move || code === PATH.close) {
      addLine(to, x, y, startX, startY);
      x = startX;
      y = startY;
      if (code === PATH.close) continue;
      x = startX = p[0]!;
      y = startY = p[1]!;
    } else if (code === PATH.line) {
      addLine(to, x, y, p[0]!, p[1]!);
      x = p[0]!;
      y = p[1]!;
    } else {
      // A quadratic curve is a cubic one whose middle points lie two thirds of the way to its own.
      const isCubic = code === PATH.cubic;
      const endX = p[isCubic ? 4 : 2]!;
      const endY = p[isCubic ? 5 : 3]!;
      const firstX = isCubic ? p[0]! : x + (2 * (p[0]! - x)) / 3;
      const firstY = isCubic ? p[1]! : y + (2 * (p[1]! - y)) / 3;
      const secondX = isCubic ? p[2]! : endX + (2 * (p[0]! - endX)) / 3;
      const secondY = isCubic ? p[3]! : endY + (2 * (p[1]! - endY)) / 3;
      addCurve(to, x, y, firstX, firstY, secondX, secondY, endX, endY);
      x = endX;
      y = endY;
    }
  }
  addLine(to, x, y, startX, startY);
}

function addCurve(
  to: Accumulator,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  x3: number,
  y3: number,
): void {
  const long =
    Math.abs(x1 - x0) +
    Math.abs(y1 - y0) +
    Math.abs(x2 - x1) +
    Math.abs(y2 - y1) +
    Math.abs(x3 - x2) +
    Math.abs(y3 - y2);
  const lines = Math.min(MOST_LINES, Math.max(2, Math.ceil(long / PIXELS_A_LINE)));
  let x = x0;
  let y = y0;
  for (let k = 1; k <= lines; k++) {
    const t = k / lines;
    const s = 1 - t;
    const nextX =
      k === lines ? x3 : s * s * s * x0 + 3 * s * s * t * x1 + 3 * s * t * t * x2 + t * t * t * x3;
    const nextY =
      k === lines ? y3 : s * s * s * y0 + 3 * s * s * t * y1 + 3 * s * t * t * y2 + t * t * t * y3;
    addLine(to, x, y, nextX, nextY);
    x = nextX;
    y = nextY;
  }
}

function addLine({ sums, width, height }: Accumulator, ax: number, ay: number, bx: number, by: number): void {
  if (ay === by) return;
  const sign = ay < by ? 1 : -1;
  const [topX, topY, endX, endY] = ay < by ? [ax, ay, bx, by] : [bx, by, ax, ay];
  if (endY <= 0 || topY >= height) return;
  const slope = (endX - topX) / (endY - topY);
  const stride = width + 2;
  let x = topY < 0 ? topX - topY * slope : topX;
  const last = Math.min(height, Math.ceil(endY));
  for (let row = Math.max(0, Math.floor(topY)); row < last; row++) {
    const high = Math.min(row + 1, endY) - Math.max(row, topY);
    const next = x + slope * high;
    addSpan(sums, row * stride, width, Math.min(x, next), Math.max(x, next), sign * high);
    x = next;
  }
}

/** Adds what a line does to one row that it crosses from `from` to `to`. */
function addSpan(
  sums: Float64Array,
  row: number,
  width: number,
  from: number,
  to: number,
  high: number,
): void {
  const left = Math.min(width, Math.max(0, from));
  const right = Math.min(width, Math.max(0, to));
  const first = Math.floor(left);
  const end = Math.ceil(right);
  if (end <= first + 1) {
    const middle = 0.5 * (left + right) - first;
    sums[row + first]! += high * (1 - middle);
    sums[row + first + 1]! += high * middle;
    return;
  }
  const rate = 1 / (right - left);
  // How much of the pixels up to and with this one lies to the right of the line.
  let before = 0;
  for (let x = first; x < end; x++) {
    const enter = Math.max(left, x);
    const leave = Math.min(right, x + 1);
    const passed = (leave - enter) * rate;
    // Where it enters at once the whole width behind counts, where it leaves none of it.
    const here = passed * (x + 1 - 0.5 * (enter + leave));
    const whole = (enter - left) * rate + here;
    sums[row + x]! += high * (whole - before);
    before = whole;
  }
  sums[row + end]! += high * (1 - before);
}

/** The coverage that was gathered, 0 to 255 for each pixel; paths that overlap cover once. */
export function coverageOf({ sums, width, height }: Accumulator): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    let sum = 0;
    const row = y * (width + 2);
    for (let x = 0; x < width; x++, i++) {
      sum += sums[row + x]!;
      out[i] = Math.round(255 * Math.min(1, Math.abs(sum)));
    }
  }
  return out;
}
