import { lengthOf, square } from '../../numeric/exact';
import { LastSearch, offsetsWithin, startsOf } from '../../numeric/ring';
import type { Rect } from '../../raster/raster';
import { unitOf } from './spread';
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
export function sampledBackground({ backdrop, color }: EdgeInput, i: number, out: Float64Array): boolean {
  if (backdrop) {
    const from = backdrop.at(i);
    for (let c = 0; c < 3; c++) out[c] = backdrop.colors[from + c]!;
    return true;
  }
  if (!color) return false;
  out[0] = color.red;
  out[1] = color.green;
  out[2] = color.blue;
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
  private readonly starts: Int32Array;
  /** Of either side. */
  private readonly last = [new LastSearch(), new LastSearch()] as const;

  constructor(
    private readonly input: EdgeInput,
    private readonly band: Uint8Array,
  ) {
    const { around, widthPx } = input;
    this.reach = widthPx === null ? SEARCH_PX : Math.max(SEARCH_PX, 2 * widthPx + 4);
    const ring = this.reach === SEARCH_PX ? RING : offsetsWithin(this.reach);
    this.ring = ring;
    this.starts = startsOf(ring, this.reach);
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
    const nx = j % width;
    meanAround(this.input, this.band, nx, (j - nx) / width, side, i, out);
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
    const last = this.last[side === 0 ? 0 : 1];
    let found = -1;
    for (let k = Math.min(most, this.starts[last.leastFrom(x, y)]!); k < most; k++) {
      if (!inside && isOutside(around, x + ring[2 * k]!, y + ring[2 * k + 1]!)) continue;
      const j = i + steps[k]!;
      if (cleared[j] !== side || band[j] !== 0) continue;
      found = k;
      break;
    }
    // Where only what is near was looked at, it is known of no farther than that.
    const far = found < 0 ? ringDistance(ring, most) : lengthOf(ring[2 * found]!, ring[2 * found + 1]!);
    last.note(x, y, far);
    return found < 0 ? -1 : i + steps[found]!;
  }
}

/** How far away what was not looked at lies at least, after so many steps of a ring. */
function ringDistance(ring: Int8Array, steps: number): number {
  const k = Math.min(steps, ring.length / 2 - 1);
  return lengthOf(ring[2 * k]!, ring[2 * k + 1]!);
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

/** The mean color of the certain pixels around (x, y), carried to pixel `to`. */
function meanAround(
  input: EdgeInput,
  band: Uint8Array,
  x: number,
  y: number,
  side: number,
  to: number,
  out: Float64Array,
): void {
  const { raster, around, cleared } = input;
  const { data } = raster;
  const model = side === 1 ? input.backdrop : null;
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
      const base = model ? model.at(j) : -1;
      red += data[p]!;
      green += data[p + 1]!;
      blue += data[p + 2]!;
      redUnits += base < 0 ? 1 : unitOf(model!.colors[base]!);
      greenUnits += base < 0 ? 1 : unitOf(model!.colors[base + 1]!);
      blueUnits += base < 0 ? 1 : unitOf(model!.colors[base + 2]!);
    }
  }
  const there = model ? model.at(to) : -1;
  out[0] = Math.min(255, (red / redUnits) * (there < 0 ? 1 : unitOf(model!.colors[there]!)));
  out[1] = Math.min(255, (green / greenUnits) * (there < 0 ? 1 : unitOf(model!.colors[there + 1]!)));
  out[2] = Math.min(255, (blue / blueUnits) * (there < 0 ? 1 : unitOf(model!.colors[there + 2]!)));
}
