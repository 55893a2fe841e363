import type { Raster } from '../raster/raster';

/** A closed line around what is there, or around a hole in it: x and y in turn, in pixels; the middle of a pixel lies at halves. */
export type Contour = Float64Array;

/** Alpha from which on a pixel is within; low, so that hairlines are. */
const WITHIN_ALPHA = 64;

/** Sides of a cell between the middles of four pixels, clockwise. */
const TOP = 0;
const RIGHT = 1;
const BOTTOM = 2;
const LEFT = 3;

/**
 * Where a line that comes into a cell leaves it: [case][side]; -1 where none comes in. What is there lies to the right. Bits of a
 * case: upper left 1, upper right 2, lower right 4, lower left 8. Marching squares (Lorensen and Cline 1987, in two dimensions);
 * where two corners across are within, the mean of all four decides (cases 16 and 17: joined).
 */
const WAYS: readonly (readonly number[])[] = Array.from({ length: 18 }, (_, which) => waysOf(which));

function waysOf(which: number): number[] {
  const ways = [-1, -1, -1, -1];
  const joined = which >= 16;
  const bits = which === 16 ? 5 : which === 17 ? 10 : which;
  const sides = [TOP, RIGHT, BOTTOM, LEFT];
  const isIn = (corner: number) => ((bits >> (corner & 3)) & 1) === 1;
  // Clockwise along side k lie the corners k and k + 1.
  const enters = sides.filter((k) => isIn(k) && !isIn(k + 1));
  const leaves = sides.filter((k) => !isIn(k) && isIn(k + 1));
  for (const side of enters) {
    // Around the corner that is out where what is within is joined, around the one that is in elsewhere.
    const next = joined ? (side + 1) & 3 : (side + 3) & 3;
    ways[side] = leaves.length === 1 ? leaves[0]! : leaves.includes(next) ? next : leaves[0]!;
  }
  return ways;
}

/**
 * The borders of what is there in a raster's alpha, each closed, with a point at every side of a cell that it crosses; what is
 * there lies to the right of their way, so that holes run the other way round than islands.
 */
export function contoursOf(raster: Raster): Contour[] {
  const { width, height } = raster;
  const field = new AlphaField(raster);
  const across = width + 1;
  // One bit for each side at which a line may come in, of cells from -1 on.
  const seen = new Uint8Array(across * (height + 1));
  const found: Contour[] = [];
  for (let y = -1; y < height; y++) {
    for (let x = -1; x < width; x++) {
      const ways = WAYS[field.caseAt(x, y)]!;
      for (let side = 0; side < 4; side++) {
        if (ways[side]! < 0 || (seen[(y + 1) * across + x + 1]! & (1 << side)) !== 0) continue;
        found.push(follow(field, seen, across, x, y, side));
      }
    }
  }
  return found;
}

/** Follows a line once round. */
function follow(
  field: AlphaField,
  seen: Uint8Array,
  across: number,
  x: number,
  y: number,
  side: number,
): Contour {
  const points: number[] = [];
  for (;;) {
    const at = (y + 1) * across + x + 1;
    if ((seen[at]! & (1 << side)) !== 0) break;
    seen[at] = seen[at]! | (1 << side);
    field.addCrossing(x, y, side, points);
    const leaves = WAYS[field.caseAt(x, y)]![side]!;
    if (leaves === TOP) y--;
    else if (leaves === RIGHT) x++;
    else if (leaves === BOTTOM) y++;
    else x--;
    side = (leaves + 2) & 3;
  }
  return Float64Array.from(points);
}

class AlphaField {
  private readonly data: Uint8Array;
  private readonly width: number;
  private readonly height: number;

  constructor({ data, width, height }: Raster) {
    this.data = data;
    this.width = width;
    this.height = height;
  }

  /** Alpha of a pixel, 0 outside. */
  at(x: number, y: number): number {
    return x < 0 || y < 0 || x >= this.width || y >= this.height
      ? 0
      : this.data[(y * this.width + x) * 4 + 3]!;
  }

  /** Which corners of the cell to the right of and below a pixel's middle are within. */
  caseAt(x: number, y: number): number {
    const a = this.at(x, y);
    const b = this.at(x + 1, y);
    const c = this.at(x + 1, y + 1);
    const d = this.at(x, y + 1);
    const bits =
      (a >= WITHIN_ALPHA ? 1 : 0) |
      (b >= WITHIN_ALPHA ? 2 : 0) |
      (c >= WITHIN_ALPHA ? 4 : 0) |
      (d >= WITHIN_ALPHA ? 8 : 0);
    if (bits !== 5 && bits !== 10) return bits;
    const joined = a + b + c + d >= 4 * WITHIN_ALPHA;
    return joined ? (bits === 5 ? 16 : 17) : bits;
  }

  /** Adds where alpha passes the bound on a side of a cell. */
  addCrossing(x: number, y: number, side: number, points: number[]): void {
    const horizontal = side === TOP || side === BOTTOM;
    const ax = side === RIGHT ? x + 1 : x;
    const ay = side === BOTTOM ? y + 1 : y;
    const from = this.at(ax, ay);
    const to = horizontal ? this.at(ax + 1, ay) : this.at(ax, ay + 1);
    const share = (WITHIN_ALPHA - 0.5 - from) / (to - from);
    points.push(ax + 0.5 + (horizontal ? share : 0), ay + 0.5 + (horizontal ? 0 : share));
  }
}
