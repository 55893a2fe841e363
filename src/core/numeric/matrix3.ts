/** A 3 x 3 matrix, row by row, that maps places of a plane: (x, y, 1) -> (u, v, w), the place being (u / w, v / w). */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];

export interface Point {
  readonly x: number;
  readonly y: number;
}

export const IDENTITY: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** First `second`, then `first`. */
export function multiply(first: Matrix3, second: Matrix3): Matrix3 {
  const out: number[] = [];
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++)
      out.push(
        first[row * 3]! * second[column]! +
          first[row * 3 + 1]! * second[3 + column]! +
          first[row * 3 + 2]! * second[6 + column]!,
      );
  return out as unknown as Matrix3;
}

/** The matrix that undoes another; null where there is none. */
export function inverse(m: Matrix3): Matrix3 | null {
  const [a, b, c, d, e, f, g, h, i] = m;
  const A = e * i - f * h;
  const B = f * g - d * i;
  const C = d * h - e * g;
  const det = a * A + b * B + c * C;
  if (Math.abs(det) < 1e-12) return null;
  return [
    A / det,
    (c * h - b * i) / det,
    (b * f - c * e) / det,
    B / det,
    (a * i - c * g) / det,
    (c * d - a * f) / det,
    C / det,
    (b * g - a * h) / det,
    (a * e - b * d) / det,
  ];
}

export function apply(m: Matrix3, x: number, y: number): Point {
  const w = m[6] * x + m[7] * y + m[8];
  return { x: (m[0] * x + m[1] * y + m[2]) / w, y: (m[3] * x + m[4] * y + m[5]) / w };
}

/** The same mapping for places that are given and wanted in units `unit` times as large. */
export function inUnits(m: Matrix3, unit: number): Matrix3 {
  return [m[0], m[1], m[2] / unit, m[3], m[4], m[5] / unit, m[6] * unit, m[7] * unit, m[8]];
}

/**
 * The projective mapping of the unit square's corners (0,0), (1,0), (1,1), (0,1) to four places (Heckbert, 1989,
 * section 2.2.3). Null where three of them lie on a line.
 */
export function squareToQuad([p0, p1, p2, p3]: readonly [Point, Point, Point, Point]): Matrix3 | null {
  const dx1 = p1.x - p2.x;
  const dx2 = p3.x - p2.x;
  const dx3 = p0.x - p1.x + p2.x - p3.x;
  const dy1 = p1.y - p2.y;
  const dy2 = p3.y - p2.y;
  const dy3 = p0.y - p1.y + p2.y - p3.y;
  const det = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(det) < 1e-9) return null;
  const g = (dx3 * dy2 - dx2 * dy3) / det;
  const h = (dx1 * dy3 - dx3 * dy1) / det;
  return [
    p1.x - p0.x + g * p1.x,
    p3.x - p0.x + h * p3.x,
    p0.x,
    p1.y - p0.y + g * p1.y,
    p3.y - p0.y + h * p3.y,
    p0.y,
    g,
    h,
    1,
  ];
}
