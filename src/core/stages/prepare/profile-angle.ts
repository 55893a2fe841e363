import type { Darkness } from './darkness';

/** How lines lie: their angle against the horizontal, clockwise above 0, and how sure that is, 0 to 1. */
export interface LineAngle {
  readonly deg: number;
  readonly confidence: number;
}

/** Columns that are looked at, at most. */
const MOST_COLUMNS = 400;

/**
 * The angle at which the darkness, summed along lines, varies most from line to line (projection profile; Postl, 1986):
 * that of ruled lines and of written lines. Searched within `mostDeg` on either side, to a fiftieth of a degree.
 */
export function profileAngle(plane: Darkness, mostDeg: number): LineAngle {
  const dark = darkPlaces(plane);
  const coarse = scan(dark, -mostDeg, mostDeg, 0.5);
  const rough = bestOf(coarse);
  const fine = scan(dark, rough.deg - 0.5, rough.deg + 0.5, 0.1);
  const near = bestOf(fine);
  const best = bestOf(scan(dark, near.deg - 0.1, near.deg + 0.1, 0.02));
  const apart = coarse.filter(({ deg }) => Math.abs(deg - best.deg) > 1.5).map(({ score }) => score);
  const others = apart.length > 0 ? Math.max(...apart) : 0;
  return { deg: best.deg, confidence: best.score > 0 ? Math.max(0, 1 - others / best.score) : 0 };
}

/** The places of a plane that are dark at all, over some of its columns. */
interface DarkPlaces {
  readonly width: number;
  readonly height: number;
  readonly xs: Int32Array;
  readonly ys: Int32Array;
  readonly values: Float32Array;
}

function darkPlaces({ width, height, data }: Darkness): DarkPlaces {
  const step = Math.max(1, Math.floor(width / MOST_COLUMNS));
  const xs: number[] = [];
  const ys: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x += step)
      if (data[y * width + x]! > 0) {
        xs.push(x);
        ys.push(y);
      }
  const values = Float32Array.from(xs, (x, k) => data[ys[k]! * width + x]!);
  return { width, height, xs: Int32Array.from(xs), ys: Int32Array.from(ys), values };
}

interface Scored {
  readonly deg: number;
  readonly score: number;
}

function scan(dark: DarkPlaces, from: number, to: number, step: number): Scored[] {
  const count = Math.round((to - from) / step);
  return Array.from({ length: count + 1 }, (_, k) => {
    const deg = from + k * step;
    return { deg, score: scoreOf(sumsAlong(dark, slopeOf(deg))) };
  });
}

function bestOf(scored: readonly Scored[]): Scored {
  return scored.reduce((best, one) => (one.score > best.score ? one : best));
}

/** Tangent of a small angle in degrees. */
export function slopeOf(deg: number): number {
  const x = (deg * Math.PI) / 180;
  const xx = x * x;
  return x * (1 + xx * (1 / 3 + xx * (2 / 15 + (xx * 17) / 315)));
}

/** Sums of darkness along parallel lines; line k meets the middle column at row k - its offset. */
export function profileAt(plane: Darkness, slope: number): { sums: Float64Array; offset: number } {
  return sumsAlong(darkPlaces(plane), slope);
}

function sumsAlong({ width, height, xs, ys, values }: DarkPlaces, slope: number) {
  const offset = Math.ceil((Math.abs(slope) * width) / 2) + 1;
  const sums = new Float64Array(height + 2 * offset);
  for (let k = 0; k < values.length; k++) {
    const at = ys[k]! + offset - slope * (xs[k]! + 0.5 - width / 2);
    const whole = Math.floor(at);
    const part = at - whole;
    const value = values[k]!;
    sums[whole]! += value * (1 - part);
    sums[whole + 1]! += value * part;
  }
  return { sums, offset };
}

function scoreOf({ sums }: { sums: Float64Array }): number {
  let score = 0;
  for (let k = 1; k < sums.length; k++) score += (sums[k]! - sums[k - 1]!) * (sums[k]! - sums[k - 1]!);
  return score;
}
