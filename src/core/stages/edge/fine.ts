import { zeroedBytes } from '../../numeric/scratch';
import {
  meanOfCertain,
  presumed,
  projection,
  sharpened,
  type EdgeInput,
  type Mix,
  type Projection,
  type Spread,
} from './unmix';

/** Subject pixels with no core within this are thin, in pixels; a core pixel has no cleared neighbor. */
const THIN_PX = 2;

/** A strand has at least so many thin pixels within this; less is a speck or the ringing of a compressed picture. */
const STRAND_PX = 6;
const STRAND_PIXELS = 10;

/** Bundles of threads have no certain inside within this, in pixels. */
const INSIDE_PX = 4;

/** Around thin pixels everything within this is solved, cleared or not: threads fade out and enclose small areas. */
const ZONE_PX = 9;

/** How often the zone grows into what still looks like background, and how near to it that is in luma, encoded. */
const GROWTH = 2;
const ALIKE = 22;

/** Colors of strands are looked for in blocks of this side, up to two blocks away. */
const BLOCK_PX = 5;

/** Slack against noise below and above, as multiples of the background's spread. */
const BELOW = 2.5;
const ABOVE = 3;

/** Faint alpha needs company: at least so many of the eight neighbors that are not clear. */
const COMPANY = 2;
const FAINT = 0.3;

/**
 * Where the subject is of threads: marks 1 around subject pixels that have no core near, and from there around those
 * that have no certain inside near, where threads lie close. `band` is that of the same mask.
 */
export function fineZone(input: EdgeInput, band: Uint8Array): Uint8Array {
  const {
    cleared,
    around: { width, height },
  } = input;
  const zone = zeroedBytes('fine zone', cleared.length);
  const thin = zeroedBytes('fine thin', cleared.length);
  const seeds: number[] = [];
  const bundled: number[] = [];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (band[i] !== 1) continue;
      if (hasCore(cleared, width, height, x, y)) continue;
      thin[i] = 1;
      seeds.push(i);
    }
  }
  const strands = seeds.filter(
    (i) => countAround(thin, width, height, i % width, Math.floor(i / width)) >= STRAND_PIXELS,
  );
  if (strands.length === 0) return zone;
  for (const i of strands) mark(zone, width, height, i % width, Math.floor(i / width));
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (zone[i] === 1 && band[i] === 1 && !hasInside(cleared, band, width, height, x, y)) bundled.push(i);
    }
  }
  for (const i of bundled) mark(zone, width, height, i % width, Math.floor(i / width));
  for (let round = 0; round < GROWTH; round++) grow(input, zone);
  return zone;
}

/** Takes in the surroundings of what is in the zone and not cleared, but hardly differs from the background in luma. */
function grow(input: EdgeInput, zone: Uint8Array): void {
  const {
    raster,
    around,
    cleared,
    around: { width, height },
  } = input;
  const b = new Float64Array(3);
  const edge: number[] = [];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (zone[i] === 0 || cleared[i] === 1 || enclosed(zone, width, height, x, y)) continue;
      const p = ((around.y + y) * raster.width + around.x + x) * 4;
      if (presumed(input, i, b) && lumaApart(raster.data, p, b) < ALIKE) edge.push(i);
    }
  }
  for (const i of edge) mark(zone, width, height, i % width, Math.floor(i / width));
}

function enclosed(zone: Uint8Array, width: number, height: number, x: number, y: number): boolean {
  const i = y * width + x;
  return (
    (x === 0 || zone[i - 1] === 1) &&
    (x === width - 1 || zone[i + 1] === 1) &&
    (y === 0 || zone[i - width] === 1) &&
    (y === height - 1 || zone[i + width] === 1)
  );
}

function lumaApart(data: Uint8Array, p: number, b: Float64Array): number {
  return Math.abs(
    0.299 * (data[p]! - b[0]!) + 0.587 * (data[p + 1]! - b[1]!) + 0.114 * (data[p + 2]! - b[2]!),
  );
}

function countAround(thin: Uint8Array, width: number, height: number, x: number, y: number): number {
  let count = 0;
  for (let ny = Math.max(0, y - STRAND_PX); ny <= Math.min(height - 1, y + STRAND_PX); ny++) {
    for (let nx = Math.max(0, x - STRAND_PX); nx <= Math.min(width - 1, x + STRAND_PX); nx++)
      count += thin[ny * width + nx]!;
  }
  return count;
}

function hasInside(
  cleared: Uint8Array,
  band: Uint8Array,
  width: number,
  height: number,
  x: number,
  y: number,
): boolean {
  for (let ny = Math.max(0, y - INSIDE_PX); ny <= Math.min(height - 1, y + INSIDE_PX); ny++) {
    for (let nx = Math.max(0, x - INSIDE_PX); nx <= Math.min(width - 1, x + INSIDE_PX); nx++) {
      const j = ny * width + nx;
      if (band[j] === 0 && cleared[j] === 0) return true;
    }
  }
  return false;
}

function hasCore(cleared: Uint8Array, width: number, height: number, x: number, y: number): boolean {
  for (let ny = Math.max(0, y - THIN_PX); ny <= Math.min(height - 1, y + THIN_PX); ny++) {
    for (let nx = Math.max(0, x - THIN_PX); nx <= Math.min(width - 1, x + THIN_PX); nx++) {
      if (isCore(cleared, width, height, nx, ny)) return true;
    }
  }
  return false;
}

function isCore(cleared: Uint8Array, width: number, height: number, x: number, y: number): boolean {
  for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
      if (cleared[ny * width + nx] === 1) return false;
    }
  }
  return true;
}

function mark(zone: Uint8Array, width: number, height: number, x: number, y: number): void {
  for (let ny = Math.max(0, y - ZONE_PX); ny <= Math.min(height - 1, y + ZONE_PX); ny++) {
    zone.fill(1, ny * width + Math.max(0, x - ZONE_PX), ny * width + Math.min(width - 1, x + ZONE_PX) + 1);
  }
}

/** The strongest colors of the subject, block by block, computed where they are asked for. */
export class Strands {
  private readonly columns: number;
  private readonly rows: number;
  /** Index of the strongest subject pixel of a block, -1 none, -2 not looked for yet. */
  private readonly known: Int32Array;

  constructor(private readonly input: EdgeInput) {
    const { around } = input;
    this.columns = Math.ceil(around.width / BLOCK_PX) + 1;
    this.rows = Math.ceil(around.height / BLOCK_PX) + 1;
    this.known = new Int32Array(this.columns * this.rows).fill(-2);
  }

  /** The subject color farthest from `b` within `reach` blocks around pixel `i`. False where there is no subject. */
  strongest(i: number, reach: number, b: Float64Array, out: Float64Array): boolean {
    const { around, raster } = this.input;
    const blockX = Math.floor((around.x + (i % around.width)) / BLOCK_PX) - Math.floor(around.x / BLOCK_PX);
    const blockY =
      Math.floor((around.y + Math.floor(i / around.width)) / BLOCK_PX) - Math.floor(around.y / BLOCK_PX);
    let farthest = -1;
    for (let y = Math.max(0, blockY - reach); y <= Math.min(this.rows - 1, blockY + reach); y++) {
      for (let x = Math.max(0, blockX - reach); x <= Math.min(this.columns - 1, blockX + reach); x++) {
        const block = y * this.columns + x;
        if (this.known[block] === -2) this.known[block] = this.look(x, y, b);
        const j = this.known[block]!;
        if (j < 0) continue;
        const p = this.offset(j);
        const far = distance(raster.data, p, b);
        if (far <= farthest) continue;
        farthest = far;
        for (let c = 0; c < 3; c++) out[c] = raster.data[p + c]!;
      }
    }
    return farthest > 0;
  }

  private offset(j: number): number {
    const { around, raster } = this.input;
    return ((around.y + Math.floor(j / around.width)) * raster.width + around.x + (j % around.width)) * 4;
  }

  private look(blockX: number, blockY: number, b: Float64Array): number {
    const { around, raster, cleared } = this.input;
    const left = (Math.floor(around.x / BLOCK_PX) + blockX) * BLOCK_PX - around.x;
    const top = (Math.floor(around.y / BLOCK_PX) + blockY) * BLOCK_PX - around.y;
    let best = -1;
    let farthest = -1;
    for (let y = Math.max(0, top); y < Math.min(around.height, top + BLOCK_PX); y++) {
      for (let x = Math.max(0, left); x < Math.min(around.width, left + BLOCK_PX); x++) {
        const j = y * around.width + x;
        if (cleared[j] === 1) continue;
        const far = distance(raster.data, this.offset(j), b);
        if (far <= farthest) continue;
        farthest = far;
        best = j;
      }
    }
    return best;
  }
}

function distance(data: Uint8Array, p: number, b: Float64Array): number {
  return (data[p]! - b[0]!) ** 2 + (data[p + 1]! - b[1]!) ** 2 + (data[p + 2]! - b[2]!) ** 2;
}

/** Instead of a reach in blocks: the nearest certain inside, of what the threads hang on. */
const SOLID = -1;

/** A subject pixel so far beside every line from B to F is no thread but what they hang on, and stays as it is. */
const UNEXPLAINED = 26;

/** Colors nearer than this to the background cannot be told from it, encoded. */
const LEAST_SPAN = 20;

/**
 * Solves a pixel among threads: B is the mean of the certain background around, F the strongest color of the subject
 * nearby or a little farther off, whichever explains the pixel better.
 */
export function solveFine(
  input: EdgeInput,
  band: Uint8Array,
  spread: Spread,
  strands: Strands,
  i: number,
  p: number,
  mix: Mix,
): boolean {
  const { b, f, g, color } = mix;
  const certain = spread.background(i, b);
  if (!certain && !presumed(input, i, b)) return false;
  const noise = certain ? spread.at(i, 1) : 1;
  let best: Projection | null = null;
  let subject = f;
  for (const reach of [0, 1, 2, SOLID]) {
    const into = subject === f && best ? g : f;
    const there =
      reach === SOLID ? meanOfCertain(input, band, i, 0, into) : strands.strongest(i, reach, b, into);
    if (!there) continue;
    const found = projection(input, p, b, into);
    if (found.span < LEAST_SPAN) continue;
    if (best && found.rest > best.rest - 2 && best.span > 0.7 * found.span) continue;
    best = found;
    subject = into;
  }
  if (!best || (input.cleared[i] === 0 && best.off > UNEXPLAINED + 3 * noise)) return false;
  const { data } = input.raster;
  mix.alpha = sharpened(best, BELOW * noise, ABOVE * noise);
  mix.noise = noise;
  for (let c = 0; c < 3; c++) {
    const own = mix.alpha > 0.02 ? (data[p + c]! - (1 - mix.alpha) * b[c]!) / mix.alpha : subject[c]!;
    const share = Math.min(1, Math.max(0, mix.alpha * 2 - 0.4));
    color[c] = Math.min(255, Math.max(0, subject[c]! + (own - subject[c]!) * share));
  }
  return true;
}

/** Alpha of a pixel among threads; faint alpha that stands alone is noise. */
export function settledFine(
  { around: { width, height } }: EdgeInput,
  alpha: Float32Array,
  i: number,
): number {
  const own = alpha[i]!;
  if (own === 0 || own >= FAINT) return own;
  const x = i % width;
  const y = (i - x) / width;
  let company = -1;
  for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
      if (alpha[ny * width + nx]! > 0) company++;
    }
  }
  return company >= COMPANY ? own : 0;
}
