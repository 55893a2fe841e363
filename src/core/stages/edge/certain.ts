import { square } from '../../numeric/exact';
import type { Rect } from '../../raster/raster';
import { baseAt } from './spread';
import type { EdgeInput } from './mixture';

// What the figures of this file rest on: docs/decisions/005-un-mixing.md

/** How far away a certain pixel may be to lend its color. */
const SEARCH_PX = 15;

/** The same where it must lie near. */
const NEAR_PX = 9;

/** Subject colors that differ by at least this may be mixed with each other. */
const APART_ENCODED = 30;

/** One line explains a pixel better than another if the pixel lies this much nearer to it, encoded. */
export const BETTER_ENCODED = 4;

/** Offsets by rising distance; ties in a fixed order, so that results do not depend on how a picture is parted. */
const RING = offsetsWithin(SEARCH_PX);
const NEAR_STEPS = offsetsWithin(NEAR_PX).length / 2;

/** The background's color by the sample alone. False where it does not say. */
export function sampledBackground(
  { backdrop, color, around }: EdgeInput,
  i: number,
  out: Float64Array,
): boolean {
  const x = i % around.width;
  const found = backdrop?.(around.x + x, around.y + (i - x) / around.width) ?? color;
  if (!found) return false;
  out[0] = found.red;
  out[1] = found.green;
  out[2] = found.blue;
  return true;
}

/** Finds the certain pixels nearest to others: those outside of the band, of the subject (side 0) or the background (1). */
export class Certain {
  /** The pixel whose color `mean` found last. */
  found = -1;
  private readonly ring: Int8Array;
  /** The ring as steps between indices. */
  private readonly steps: Int32Array;
  private readonly reach: number;

  constructor(
    private readonly input: EdgeInput,
    private readonly band: Uint8Array,
  ) {
    const { around, widthPx } = input;
    this.reach = widthPx === null ? SEARCH_PX : Math.max(SEARCH_PX, 2 * widthPx + 4);
    const ring = this.reach === SEARCH_PX ? RING : offsetsWithin(this.reach);
    this.ring = ring;
    this.steps = Int32Array.from(
      { length: ring.length / 2 },
      (_, k) => ring[2 * k + 1]! * around.width + ring[2 * k]!,
    );
  }

  /**
   * The mean color of the nearest certain pixel of one side and its certain neighbors. False where none is near:
   * within SEARCH_PX (farther where a width was set by hand), or within NEAR_PX where only what is `near` counts.
   */
  mean(i: number, side: number, out: Float64Array, near = false): boolean {
    const j = this.nearest(i, side, near ? NEAR_STEPS : this.steps.length);
    this.found = j;
    if (j < 0) return false;
    const { width } = this.input.around;
    const x = i % width;
    const nx = j % width;
    meanAround(this.input, this.band, nx, (j - nx) / width, side, x, (i - x) / width, out);
    return true;
  }

  private nearest(i: number, side: number, most: number): number {
    const {
      ring,
      steps,
      reach,
      band,
      input: { around, cleared },
    } = this;
    const x = i % around.width;
    const y = (i - x) / around.width;
    const inside = x >= reach && x + reach < around.width && y >= reach && y + reach < around.height;
    for (let k = 0; k < most; k++) {
      if (!inside && isOutside(around, x + ring[2 * k]!, y + ring[2 * k + 1]!)) continue;
      const j = i + steps[k]!;
      if (cleared[j] === side && band[j] === 0) return j;
    }
    return -1;
  }
}

function isOutside({ width, height }: Rect, x: number, y: number): boolean {
  return x < 0 || y < 0 || x >= width || y >= height;
}

/**
 * Whether a pixel is a mixture of two subject colors rather than of subject and background: it lies nearer to the line
 * between the nearest subject color and the nearest that differs from it.
 */
export function betweenSubjects(
  { raster, around, cleared }: EdgeInput,
  band: Uint8Array,
  i: number,
  p: number,
  f: Float64Array,
  rest: number,
): boolean {
  const { data } = raster;
  const x = i % around.width;
  const y = (i - x) / around.width;
  for (let k = 0; k < RING.length; k += 2) {
    const nx = x + RING[k]!;
    const ny = y + RING[k + 1]!;
    if (isOutside(around, nx, ny)) continue;
    const j = ny * around.width + nx;
    if (cleared[j] !== 0 || band[j] !== 0) continue;
    const q = ((around.y + ny) * raster.width + around.x + nx) * 4;
    let length = 0;
    let dot = 0;
    for (let c = 0; c < 3; c++) {
      const way = data[q + c]! - f[c]!;
      length += way * way;
      dot += way * (data[p + c]! - f[c]!);
    }
    if (length < APART_ENCODED * APART_ENCODED) continue;
    const along = Math.min(1, Math.max(0, dot / length));
    let far = 0;
    for (let c = 0; c < 3; c++) far += square(data[p + c]! - f[c]! - along * (data[q + c]! - f[c]!));
    return Math.sqrt(far) + BETTER_ENCODED < rest;
  }
  return false;
}

/** The mean color of the certain pixels around (x, y), carried to the place (toX, toY). */
function meanAround(
  input: EdgeInput,
  band: Uint8Array,
  x: number,
  y: number,
  side: number,
  toX: number,
  toY: number,
  out: Float64Array,
): void {
  const { raster, around, cleared } = input;
  const { data } = raster;
  let red = 0;
  let green = 0;
  let blue = 0;
  let redUnits = 0;
  let greenUnits = 0;
  let blueUnits = 0;
  for (let ny = Math.max(0, y - 1); ny <= Math.min(around.height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(around.width - 1, x + 1); nx++) {
      const j = ny * around.width + nx;
      if (cleared[j] !== side || band[j] !== 0) continue;
      const p = ((around.y + ny) * raster.width + around.x + nx) * 4;
      const base = baseAt(input, side, nx, ny);
      red += data[p]!;
      green += data[p + 1]!;
      blue += data[p + 2]!;
      redUnits += base.red;
      greenUnits += base.green;
      blueUnits += base.blue;
    }
  }
  const there = baseAt(input, side, toX, toY);
  out[0] = Math.min(255, (red / redUnits) * there.red);
  out[1] = Math.min(255, (green / greenUnits) * there.green);
  out[2] = Math.min(255, (blue / blueUnits) * there.blue);
}

/** Pairs of offsets within a radius, by rising distance. */
export function offsetsWithin(radius: number): Int8Array {
  const reach = Math.floor(radius);
  const all: [number, number][] = [];
  for (let y = -reach; y <= reach; y++) {
    for (let x = -reach; x <= reach; x++) if (x * x + y * y <= radius * radius) all.push([x, y]);
  }
  return Int8Array.from(all.sort((p, q) => square(p[0]) + square(p[1]) - square(q[0]) - square(q[1])).flat());
}
