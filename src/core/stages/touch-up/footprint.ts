import { square } from '../../numeric/exact';
import { clipRect, overlapRect, type Rect } from '../../raster/raster';
import { boxAround, type Path } from './path';

/** Where a stroke reaches, in pixels of the scene. Everything is measured from the middles of pixels, wherever the part begins. */
export interface Footprint {
  /** Whole pixels that hold all of it; may lie outside of the picture. */
  readonly box: Rect;
  /** Whether it may reach into a part; false only where it surely does not. */
  touches(part: Rect): boolean;
  /** Writes how much of each pixel of `part` it covers, 0 to 1, into a plane of its size that is all 0. */
  cover(part: Rect, out: Float32Array): void;
  /** Marks with 1 the pixels of `part` that lie at least `rimPx` inside of it. */
  core(part: Rect, rimPx: number, out: Uint8Array): void;
}

/** How a brush is led and what it is like. Softness is 0 to 1, the share of the radius over which it fades. */
export interface BrushShape {
  readonly line: Path;
  readonly radius: number;
  readonly softness: number;
  /** What pressure changes. */
  readonly pressure: 'none' | 'size' | 'strength';
}

/** Beyond its radius a hard brush fades over half a pixel, and over half a pixel before it. */
const HALF = 0.5;

/** The least that counts as inside of a brush: its line. */
const LINE_PX = 0.75;

/**
 * The footprint of a brush: 1 up to the inner radius, 0 beyond the outer one; where strokes cross themselves the larger value
 * counts, so nothing adds up. Between the radii it falls in a straight line over one pixel for a hard brush, and as
 * 1 - 3t^2 + 2t^3 for a soft one.
 */
export function brushFootprint({ line, radius, softness, pressure }: BrushShape): Footprint {
  const ramp = Math.max(2 * HALF, radius * softness);
  const outer = radius + HALF;
  const segments = segmentsOf(line, false);
  const box = boxAround(line, outer);
  const pressures = pressure === 'none' ? null : line.pressures;
  const cells = new Cells(segments, outer);
  return {
    box,
    touches: (part) => cells.within(part).length > 0,
    cover(part, out) {
      if (pressures) {
        coverPressed(line, radius, softness, pressure, part, out);
        return;
      }
      const inner = outer - ramp;
      const near = nearLine(segments, cells.within(part), false, inner, outer, part);
      for (let i = 0; i < out.length; i++)
        if (near[i]! < outer * outer) out[i] = fading((Math.sqrt(near[i]!) - inner) / ramp, softness > 0);
    },
    core(part, rimPx, out) {
      if (pressures) {
        const cover = new Float32Array(out.length);
        coverPressed(line, Math.max(LINE_PX, radius - rimPx), softness, pressure, part, cover);
        for (let i = 0; i < out.length; i++) if (cover[i]! >= 1) out[i] = 1;
        return;
      }
      const inner = Math.max(LINE_PX, Math.min(outer - ramp, radius - rimPx));
      sweepLine(segments, cells.within(part), false, inner, part, (start, from, to) =>
        out.fill(1, start + from, start + to),
      );
    },
  };
}

/** Side of the cells that a line is looked up in, as a power of two, and how many there may be in a row. */
const CELL_SHIFT = 6;
const CELLS_ACROSS = 1 << 16;

/** The segments of a line that goes `far` to either side, by the cells that each may reach into. */
class Cells {
  private cells: Map<number, number[]> | null = null;
  /** For each segment the part it was last found for, so that none is given twice. */
  private readonly found: Int32Array;
  private asked = 0;

  constructor(
    readonly segments: readonly Segment[],
    private readonly far: number,
  ) {
    this.found = new Int32Array(segments.length);
  }

  /** The places in `segments` of those that may reach into a part, rising. */
  within(part: Rect): readonly number[] {
    this.cells ??= this.divided();
    const asked = ++this.asked;
    const near: number[] = [];
    for (const cell of cellsOf(part))
      for (const k of this.cells.get(cell) ?? []) {
        if (this.found[k] === asked) continue;
        this.found[k] = asked;
        near.push(k);
      }
    return near.sort((one, other) => one - other);
  }

  private divided(): Map<number, number[]> {
    const cells = new Map<number, number[]>();
    const { far } = this;
    this.segments.forEach(({ ax, ay, bx, by }, k) => {
      const x = Math.floor(Math.min(ax, bx) - far);
      const y = Math.floor(Math.min(ay, by) - far);
      const width = Math.ceil(Math.max(ax, bx) + far) - x;
      const height = Math.ceil(Math.max(ay, by) + far) - y;
      for (const cell of cellsOf({ x, y, width, height })) {
        const there = cells.get(cell);
        if (there) there.push(k);
        else cells.set(cell, [k]);
      }
    });
    return cells;
  }
}

function cellsOf({ x, y, width, height }: Rect): number[] {
  const cells: number[] = [];
  for (let v = y >> CELL_SHIFT; v <= (y + height - 1) >> CELL_SHIFT; v++)
    for (let u = x >> CELL_SHIFT; u <= (x + width - 1) >> CELL_SHIFT; u++) cells.push(v * CELLS_ACROSS + u);
  return cells;
}

/** What lies beside a piece of a line, or around its end, in one row: columns, and how to tell the distance. */
type TakeSpan = (
  start: number,
  from: number,
  to: number,
  /** Squared distance of the middle of column `x` is `square(slope * (x + HALF) + shift) + rest`. */
  slope: number,
  shift: number,
  rest: number,
) => void;

/** By how much strips of a line overlap, in pixels, so that rounding leaves no pixel between them. */
const OVERLAP_PX = 1e-4;

/**
 * The pixels of `part` whose middles lie within `far` of a line, each where its nearest point of the line is: in the strip
 * beside a segment, or in the wedge around a corner, between the strips of the segments that meet there. So long lines of
 * short segments visit hardly any pixel twice.
 */
function sweepLine(
  segments: readonly Segment[],
  near: Iterable<number>,
  closed: boolean,
  far: number,
  part: Rect,
  take: TakeSpan,
): void {
  for (const k of near) {
    const segment = segments[k]!;
    const before = k > 0 ? segments[k - 1]! : closed ? segments.at(-1)! : null;
    sweepWedge(before, segment, segment.ax, segment.ay, far, part, take);
    if (segment.ax !== segment.bx || segment.ay !== segment.by) sweepStrip(segment, far, part, take);
    if (!closed && k + 1 === segments.length)
      sweepWedge(segment, null, segment.bx, segment.by, far, part, take);
  }
}

/** The bounds of a row's columns while they are narrowed; one pair, since rows are many. */
const bounds = new Float64Array(2);

/** Narrows the bounds to the columns that fulfil `slope * x + shift >= 0`. */
function narrow(slope: number, shift: number): void {
  if (slope > 0) bounds[0] = Math.max(bounds[0]!, -shift / slope);
  else if (slope < 0) bounds[1] = Math.min(bounds[1]!, -shift / slope);
  else if (shift < 0) bounds[1] = -Infinity;
}

/** The first column of a part within the bounds, and the one behind the last. */
const firstColumn = ({ x }: Rect) => Math.ceil(Math.max(x, bounds[0]! - HALF));
const endColumn = ({ x, width }: Rect) =>
  Math.min(x + width, Math.floor(Math.min(x + width, bounds[1]! - HALF)) + 1);

/** The first and the last row of a part within heights. */
const firstRow = (top: number, { y }: Rect) => Math.max(y, Math.ceil(top - HALF));
const lastRow = (bottom: number, { y, height }: Rect) => Math.min(y + height - 1, Math.floor(bottom - HALF));

function sweepStrip({ ax, ay, bx, by }: Segment, far: number, part: Rect, take: TakeSpan): void {
  const [wayX, wayY] = [bx - ax, by - ay];
  const length = Math.sqrt(wayX * wayX + wayY * wayY);
  const [ux, uy] = [wayX / length, wayY / length];
  const last = lastRow(Math.max(ay, by) + far, part);
  for (let row = firstRow(Math.min(ay, by) - far, part); row <= last; row++) {
    const dy = row + HALF - ay;
    bounds[0] = -Infinity;
    bounds[1] = Infinity;
    // Along the segment, and not farther than `far` to either side of it.
    narrow(ux, uy * dy - ux * ax + OVERLAP_PX);
    narrow(-ux, length + OVERLAP_PX - uy * dy + ux * ax);
    const side = -ux * dy - uy * ax;
    narrow(-uy, far - side);
    narrow(uy, far + side);
    const from = firstColumn(part);
    const to = endColumn(part);
    if (from < to) take((row - part.y) * part.width - part.x, from, to, uy, side, 0);
  }
}

/** Narrows the bounds to what lies behind (1) or before (-1) a corner at `x`, along a segment that meets it. */
function narrowAlong({ ax, ay, bx, by }: Segment, x: number, dy: number, sign: number): void {
  const [wayX, wayY] = [bx - ax, by - ay];
  const length = Math.sqrt(wayX * wayX + wayY * wayY);
  if (length > 0) narrow((sign * wayX) / length, (sign * (wayY * dy - wayX * x)) / length + OVERLAP_PX);
}

/** What lies around a corner of a line, behind the segment that leads there and before the one that leads on. */
function sweepWedge(
  before: Segment | null,
  after: Segment | null,
  x: number,
  y: number,
  far: number,
  part: Rect,
  take: TakeSpan,
): void {
  const last = lastRow(y + far, part);
  for (let row = firstRow(y - far, part); row <= last; row++) {
    const dy = row + HALF - y;
    const rest = far * far - dy * dy;
    if (rest < 0) continue;
    const half = Math.sqrt(rest);
    bounds[0] = x - half;
    bounds[1] = x + half;
    if (before) narrowAlong(before, x, dy, 1);
    if (after) narrowAlong(after, x, dy, -1);
    const from = firstColumn(part);
    const to = endColumn(part);
    if (from < to) take((row - part.y) * part.width - part.x, from, to, 1, -x, dy * dy);
  }
}

/** Squared distances to a line of the pixels within `far` of it, and `far` squared elsewhere; 0 within `inner`. */
function nearLine(
  segments: readonly Segment[],
  among: readonly number[],
  closed: boolean,
  inner: number,
  far: number,
  part: Rect,
): Float64Array {
  const near = new Float64Array(part.width * part.height).fill(far * far);
  if (inner > 0)
    sweepLine(segments, among, closed, inner, part, (start, from, to) =>
      near.fill(0, start + from, start + to),
    );
  sweepLine(segments, among, closed, far, part, (start, from, to, slope, shift, rest) => {
    for (let x = from; x < to; x++) {
      const i = start + x;
      const off = slope * (x + HALF) + shift;
      const found = off * off + rest;
      if (found < near[i]!) near[i] = found;
    }
  });
  return near;
}

/** A straight piece of a line. */
interface Segment {
  readonly ax: number;
  readonly ay: number;
  readonly bx: number;
  readonly by: number;
}

function segmentsOf({ xs, ys }: Path, closed: boolean): Segment[] {
  const segments: Segment[] = [];
  for (let k = closed ? 0 : 1; k < xs.length; k++) {
    const from = k === 0 ? xs.length - 1 : k - 1;
    const [ax, ay, bx, by] = [xs[from]!, ys[from]!, xs[k]!, ys[k]!];
    if (ax !== bx || ay !== by) segments.push({ ax, ay, bx, by });
  }
  return segments.length > 0 ? segments : [{ ax: xs[0]!, ay: ys[0]!, bx: xs[0]!, by: ys[0]! }];
}

/**
 * The pixels of `part` whose middles lie within `far` of a segment, row by row: where the row starts in a plane of the
 * part's size, and the columns from and to.
 */
function eachSpan(
  { ax, ay, bx, by }: Segment,
  far: number,
  part: Rect,
  take: (start: number, from: number, to: number, y: number) => void,
): void {
  const length = Math.sqrt(square(bx - ax) + square(by - ay));
  const [sideX, sideY] = length > 0 ? [(-(by - ay) / length) * far, ((bx - ax) / length) * far] : [0, 0];
  const first = Math.max(part.y, Math.ceil(Math.min(ay, by) - far - HALF));
  const last = Math.min(part.y + part.height - 1, Math.floor(Math.max(ay, by) + far - HALF));
  for (let row = first; row <= last; row++) {
    const y = row + HALF;
    let low = Infinity;
    let high = -Infinity;
    const disc = (x: number, from: number) => {
      const rest = far * far - square(y - from);
      if (rest < 0) return;
      const half = Math.sqrt(rest);
      low = Math.min(low, x - half);
      high = Math.max(high, x + half);
    };
    disc(ax, ay);
    disc(bx, by);
    if (length > 0)
      for (let sign = -1; sign <= 1; sign += 2) {
        const [px, py] = [ax + sign * sideX, ay + sign * sideY];
        const [qx, qy] = [bx + sign * sideX, by + sign * sideY];
        if (py === qy || y < Math.min(py, qy) || y > Math.max(py, qy)) continue;
        const x = px + ((qx - px) * (y - py)) / (qy - py);
        low = Math.min(low, x);
        high = Math.max(high, x);
      }
    const from = Math.max(part.x, Math.ceil(low - HALF));
    const to = Math.min(part.x + part.width, Math.floor(high - HALF) + 1);
    if (from < to) take((row - part.y) * part.width - part.x, from, to, y);
  }
}

/** What of the way from a segment's start to its end lies nearest to a place, 0 to 1. */
function alongOf({ ax, ay, bx, by }: Segment, x: number, y: number): number {
  const [wayX, wayY] = [bx - ax, by - ay];
  const length = wayX * wayX + wayY * wayY;
  return length > 0 ? Math.min(1, Math.max(0, ((x - ax) * wayX + (y - ay) * wayY) / length)) : 0;
}

function squareTo(segment: Segment, x: number, y: number): number {
  const along = alongOf(segment, x, y);
  const { ax, ay, bx, by } = segment;
  return square(x - ax - along * (bx - ax)) + square(y - ay - along * (by - ay));
}

/** How much is covered from the inner radius (0) to the outer one (1). */
function fading(t: number, soft: boolean): number {
  if (t <= 0) return 1;
  if (t >= 1) return 0;
  return soft ? 1 - t * t * (3 - 2 * t) : 1 - t;
}

/** The same for a pen whose pressure changes along the line: its size, or how much it covers. */
function coverPressed(
  line: Path,
  radius: number,
  softness: number,
  pressure: 'size' | 'strength' | 'none',
  part: Rect,
  out: Float32Array,
): void {
  const pressures = line.pressures!;
  const { xs, ys } = line;
  for (let k = Math.min(1, xs.length - 1); k < xs.length; k++) {
    const before = Math.max(0, k - 1);
    const segment = { ax: xs[before]!, ay: ys[before]!, bx: xs[k]!, by: ys[k]! };
    const [one, other] = [pressures[before]!, pressures[k]!];
    eachSpan(segment, radius + HALF, part, (start, from, to, y) => {
      for (let x = from; x < to; x++) {
        const along = alongOf(segment, x + HALF, y);
        const pressed = one + (other - one) * along;
        const size = pressure === 'size' ? radius * pressed : radius;
        const ramp = Math.max(2 * HALF, size * softness);
        const far = Math.sqrt(squareTo(segment, x + HALF, y));
        const covered =
          fading((far - size - HALF + ramp) / ramp, softness > 0) * (pressure === 'strength' ? pressed : 1);
        if (covered > out[start + x]!) out[start + x] = covered;
      }
    });
  }
}

/** An outlined area: moved outward by `offset`, its border faded over `softness`, both in pixels of the scene. */
export interface AreaShape {
  readonly line: Path;
  readonly offset: number;
  readonly softness: number;
}

/**
 * The footprint of an area. What lies inside of a line that crosses itself is told by its winding number, so that loops of a
 * quick hand leave no holes; how far a pixel lies from the border by the distance to the line.
 */
export function areaFootprint({ line, offset, softness }: AreaShape): Footprint {
  const ramp = Math.max(2 * HALF, softness);
  const box = boxAround(line, Math.max(0, offset) + ramp / 2);
  const segments = segmentsOf(line, true);
  const all = segments.map((_, k) => k);
  /** Calls with how far inside of the moved border each pixel of a part lies, as far as `far`. */
  const each = (part: Rect, far: number, take: (i: number, inside: number) => void) => {
    const shared = clippedTo(part, box);
    if (!shared) return;
    const { width, height } = shared;
    const inside = insideOf(segments, shared);
    const near = nearLine(segments, all, true, 0, far + Math.abs(offset), shared);
    for (let y = 0, k = 0; y < height; y++) {
      let i = (shared.y + y - part.y) * part.width + shared.x - part.x;
      for (let x = 0; x < width; x++, k++, i++)
        take(i, (inside[k] === 1 ? 1 : -1) * Math.sqrt(near[k]!) + offset);
    }
  };
  return {
    box,
    touches: (part) => overlapRect(box, part) !== null,
    cover(part, out) {
      each(part, ramp / 2 + 1, (i, inside) => {
        out[i] = fading(HALF - inside / ramp, softness > 0);
      });
    },
    core(part, rimPx, out) {
      const least = Math.max(rimPx, ramp / 2);
      each(part, least + 1, (i, inside) => {
        if (inside >= least) out[i] = 1;
      });
    },
  };
}

function clippedTo(part: Rect, box: Rect): Rect | null {
  const at = clipRect({ ...box, x: box.x - part.x, y: box.y - part.y }, part.width, part.height);
  return at.width > 0 && at.height > 0 ? { ...at, x: at.x + part.x, y: at.y + part.y } : null;
}

/** Marks with 1 the pixels of a part around which the closed line runs. */
function insideOf(segments: readonly Segment[], part: Rect): Uint8Array {
  const out = new Uint8Array(part.width * part.height);
  const rows: { x: number; turn: number }[][] = Array.from({ length: part.height }, () => []);
  for (const { ax, ay, bx, by } of segments) {
    if (ay === by) continue;
    const turn = by > ay ? 1 : -1;
    const first = Math.max(part.y, Math.ceil(Math.min(ay, by) - HALF));
    const last = Math.min(part.y + part.height - 1, Math.ceil(Math.max(ay, by) - HALF) - 1);
    for (let row = first; row <= last; row++)
      rows[row - part.y]!.push({ x: ax + ((bx - ax) * (row + HALF - ay)) / (by - ay), turn });
  }
  rows.forEach((crossings, row) => {
    crossings.sort((one, other) => one.x - other.x);
    let turns = 0;
    crossings.forEach(({ x, turn }, k) => {
      turns += turn;
      const next = crossings[k + 1];
      if (turns === 0 || !next) return;
      const from = Math.max(0, Math.ceil(x - HALF) - part.x);
      const to = Math.min(part.width, Math.ceil(next.x - HALF) - part.x);
      if (from < to) out.fill(1, row * part.width + from, row * part.width + to);
    });
  });
  return out;
}
