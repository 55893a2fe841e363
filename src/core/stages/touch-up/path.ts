import { apply, type Matrix3 } from '../../numeric/matrix3';
import type { Rect } from '../../raster/raster';
import { PLACE_PX } from '../shapes';
import { Recent } from './recent';

/** Places that one path holds at most. */
export const MOST_PLACES = 4000;

/**
 * A path is written as text, `12.5,40 13,42`, like the points of a polyline in SVG: hundreds of them are told from one thread
 * to another, compared and saved with every move of a brush, which lists of numbers are too slow for. A third number of a
 * place is the pressure of a pen, 0 to 1. Places are pixels of the original, with decimals.
 */
export interface Path {
  readonly xs: Float64Array;
  readonly ys: Float64Array;
  /** 0 to 1 at each place; null where no pen was pressed. */
  readonly pressures: Float64Array | null;
}

const NUMBER = String.raw`-?\d{1,7}(?:\.\d{1,4})?`;
const PATH = new RegExp(
  `^${NUMBER},${NUMBER}(?:,(?:0|1|0?\\.\\d{1,4}))?(?: ${NUMBER},${NUMBER}(?:,(?:0|1|0?\\.\\d{1,4}))?)*$`,
);
const OUTLINE = new RegExp(
  `^${NUMBER},${NUMBER}(?:,${NUMBER},${NUMBER})?(?: ${NUMBER},${NUMBER}(?:,${NUMBER},${NUMBER})?)*$`,
);

/** Whether a text is a path of at most MOST_PLACES places, none farther out than a brush can be. */
export function isPath(text: string): boolean {
  return isWithin(text, PATH);
}

/** Whether a text is an outline: corners `x,y`, or `x,y,dx,dy` where a curve passes with its handle that far away. */
export function isOutline(text: string): boolean {
  return isWithin(text, OUTLINE);
}

function isWithin(text: string, form: RegExp): boolean {
  // Each place has a comma at least; this bounds what the form is tried on.
  if (text.length > MOST_PLACES * 40 || !form.test(text)) return false;
  const places = text.split(' ');
  if (places.length > MOST_PLACES) return false;
  return places.every((place) => {
    const [x, y] = place.split(',').map(Number);
    return [x!, y!].every((at) => at >= PLACE_PX.min && at <= PLACE_PX.max);
  });
}

const paths = new Recent<Path>();

/** A path as numbers. */
export function pathOf(text: string): Path {
  return paths.at(text, () => numbersOf(text));
}

function numbersOf(text: string): Path {
  const places = text.split(' ');
  const xs = new Float64Array(places.length);
  const ys = new Float64Array(places.length);
  let pressures: Float64Array | null = null;
  places.forEach((place, k) => {
    const [x, y, pressure] = place.split(',');
    xs[k] = Number(x);
    ys[k] = Number(y);
    if (pressure !== undefined) {
      pressures ??= new Float64Array(places.length).fill(1);
      pressures[k] = Number(pressure);
    }
  });
  return { xs, ys, pressures };
}

/** The sides of the smallest upright box that holds a line, or what of it comes behind its first `from` places. */
export function boundsOf({ xs, ys }: Pick<Path, 'xs' | 'ys'>, from = 0) {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = from; k < xs.length; k++) {
    left = Math.min(left, xs[k]!);
    top = Math.min(top, ys[k]!);
    right = Math.max(right, xs[k]!);
    bottom = Math.max(bottom, ys[k]!);
  }
  return { left, top, right, bottom };
}

/** The whole pixels that hold a line and all that lies within `far` of it. */
export function boxAround(line: Pick<Path, 'xs' | 'ys'>, far: number, from = 0): Rect {
  const { left, top, right, bottom } = boundsOf(line, from);
  const x = Math.floor(left - far);
  const y = Math.floor(top - far);
  return { x, y, width: Math.ceil(right + far) - x, height: Math.ceil(bottom + far) - y };
}

/** A place of a path: x, y, and the pressure of a pen where there was one. */
export type PathPlace = readonly [number, number] | readonly [number, number, number];

/** A path as text, rounded to hundredths of a pixel. */
export function textOfPath(places: readonly PathPlace[]): string {
  return places.map((place) => place.map((at) => String(Math.round(at * 100) / 100)).join(',')).join(' ');
}

/** A path led to other places, at `reduction` halvings of those. */
export function ledThrough(
  { xs, ys, pressures }: Path,
  through: Matrix3 | undefined,
  reduction: number,
): Path {
  const unit = 1 / (1 << reduction);
  if (!through && reduction === 0) return { xs, ys, pressures };
  const [u, v] = [new Float64Array(xs.length), new Float64Array(xs.length)];
  for (let k = 0; k < xs.length; k++) {
    const at = through ? apply(through, xs[k]!, ys[k]!) : { x: xs[k]!, y: ys[k]! };
    u[k] = at.x * unit;
    v[k] = at.y * unit;
  }
  return { xs: u, ys: v, pressures };
}

/** A corner of an outline: where it is, and how far its handle lies from it where a curve passes. */
export interface Corner {
  readonly x: number;
  readonly y: number;
  readonly handle: { readonly x: number; readonly y: number } | null;
}

/** The corners of an outline. */
export function cornersOf(text: string): Corner[] {
  return text.split(' ').map((corner) => {
    const [x, y, dx, dy] = corner.split(',').map(Number);
    return { x: x!, y: y!, handle: dx === undefined ? null : { x: dx, y: dy! } };
  });
}

/** Corners as text. */
export function textOfCorners(corners: readonly Corner[]): string {
  const round = (at: number) => String(Math.round(at * 100) / 100);
  return corners
    .map(({ x, y, handle }) => [x, y, ...(handle ? [handle.x, handle.y] : [])].map(round).join(','))
    .join(' ');
}

/** Straight pieces that a curve between two corners is drawn in, and an ellipse. */
const CURVE_PIECES = 24;
const ELLIPSE_PIECES = 96;

/**
 * The closed line of an area. Between two corners of which one has a handle runs a cubic curve after Bezier; the handle
 * points on along the outline, and the way in mirrors it. Of a rectangle and an ellipse the corners are two opposite ones
 * of its box.
 */
export function closedLine(shape: 'outline' | 'rectangle' | 'ellipse', text: string): Path {
  const corners = cornersOf(text);
  const xs: number[] = [];
  const ys: number[] = [];
  const add = (x: number, y: number) => {
    xs.push(x);
    ys.push(y);
  };
  if (shape === 'outline') {
    corners.forEach((from, k) => {
      const to = corners[(k + 1) % corners.length]!;
      add(from.x, from.y);
      if (!from.handle && !to.handle) return;
      const [ax, ay] = [from.x + (from.handle?.x ?? 0), from.y + (from.handle?.y ?? 0)];
      const [bx, by] = [to.x - (to.handle?.x ?? 0), to.y - (to.handle?.y ?? 0)];
      for (let step = 1; step < CURVE_PIECES; step++) {
        const t = step / CURVE_PIECES;
        const s = 1 - t;
        const [p, q, r, u] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
        add(p * from.x + q * ax + r * bx + u * to.x, p * from.y + q * ay + r * by + u * to.y);
      }
    });
  } else {
    const [one, other] = [corners[0]!, corners.at(-1)!];
    if (shape === 'rectangle') {
      add(one.x, one.y);
      add(other.x, one.y);
      add(other.x, other.y);
      add(one.x, other.y);
    } else {
      const [x, y] = [(one.x + other.x) / 2, (one.y + other.y) / 2];
      const [a, b] = [Math.abs(other.x - one.x) / 2, Math.abs(other.y - one.y) / 2];
      // The unit circle by its rational form: only what rounds alike everywhere.
      for (let quarter = 0; quarter < 4; quarter++)
        for (let step = 0; step < ELLIPSE_PIECES / 4; step++) {
          const t = step / (ELLIPSE_PIECES / 4);
          const [c, s] = [(1 - t * t) / (1 + t * t), (2 * t) / (1 + t * t)];
          const [u, v] = [[c, s] as const, [-s, c] as const, [-c, -s] as const, [s, -c] as const][quarter]!;
          add(x + a * u, y + b * v);
        }
    }
  }
  return { xs: Float64Array.from(xs), ys: Float64Array.from(ys), pressures: null };
}
