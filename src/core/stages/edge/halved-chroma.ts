import { Fact, Remembered } from '../../scene/memo';
import { jpegLumaOf } from '../../color/luma';
import { median } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';
import type { Scene } from '../../scene/scene';

// What the figures of this file rest on: docs/decisions/011-measured-widths.md

/** Pixels that are looked at, in whole rows, and the most rows. */
const LOOKED_AT_PIXELS = 240_000;
const MOST_ROWS = 400;

/** Chroma edges that are looked at: at least this large over four pixels, encoded; and how many there must be. */
const LEAST_EDGE_ENCODED = 30;
const FEWEST_EDGES = 40;

/** In full-resolution chroma the steepest of the four steps is most of an edge; in halved chroma none is. */
const STEEP_SHARE = 0.5;

/** Where luma has an edge too, halved chroma is at most this steep beside it; else the subject is out of focus. */
const LESS_STEEP_SHARE = 0.8;

/** Single steps of chroma from here on count, encoded; a column needs so many, and each parity so many columns. */
const LEAST_STEP_ENCODED = 14;
const FEWEST_STEPS = 4;
const FEWEST_COLUMNS = 10;

/** How much more the steps of one parity hold than those of the other. */
const UNEVEN_TIMES = 1.5;

/**
 * Whether a picture keeps chroma at half the resolution of luma, as most compressed photos do (4:2:0): its chroma edges
 * are wide, or (among threads, where no edge stands alone) its columns show how they were made. False where there is
 * too little chroma to tell.
 */
export function hasHalvedChroma(raster: Raster): boolean {
  return hasWideEdges(raster) || hasPairedColumns(raster);
}

/** Whether chroma has half the resolution, by reduction. */
const HALVED_CHROMA = new Fact(() => new Remembered<boolean>(32), 'halved chroma');

/** The same of a scene at its size, found once. */
export function halvedChromaOf({ raster, reduction, memo }: Scene): boolean {
  return memo.of(HALVED_CHROMA).at(String(reduction), () => hasHalvedChroma(raster));
}

function everyRow(width: number, height: number): number {
  const rows = Math.min(MOST_ROWS, Math.ceil(LOOKED_AT_PIXELS / width));
  return Math.max(1, Math.floor(height / rows));
}

function hasWideEdges({ width, height, data }: Raster): boolean {
  const shares: number[] = [];
  const ratios: number[] = [];
  const every = everyRow(width, height);
  for (let y = 0; y < height; y += every) {
    for (let x = 2; x < width - 2; x++) {
      const p = (y * width + x) * 4;
      for (const channel of [0, 2]) {
        const share = steepest(data, p, channel, chroma);
        if (share === null) continue;
        shares.push(share);
        const beside = steepest(data, p, channel, luma);
        if (beside !== null) ratios.push(share / beside);
      }
    }
  }
  const wide = shares.length >= FEWEST_EDGES && median(shares) < STEEP_SHARE;
  return wide && (ratios.length < FEWEST_EDGES || median(ratios) < LESS_STEEP_SHARE);
}

/** The largest of the four steps around a pixel as a share of their sum; null where there is no strong edge. */
function steepest(
  data: Uint8Array,
  p: number,
  channel: number,
  read: (data: Uint8Array, p: number, channel: number) => number,
): number | null {
  const total = read(data, p + 8, channel) - read(data, p - 8, channel);
  if (Math.abs(total) < LEAST_EDGE_ENCODED) return null;
  let most = 0;
  for (let k = -2; k < 2; k++) {
    const step = read(data, p + 4 * k + 4, channel) - read(data, p + 4 * k, channel);
    most = Math.max(most, step / total);
  }
  return most;
}

function luma(data: Uint8Array, p: number): number {
  return jpegLumaOf(data[p]!, data[p + 1]!, data[p + 2]!);
}

/**
 * A decoder makes two columns of every stored one by linear interpolation: between the two the step is
 * (c[i+1] - c[i-1]) / 4, to the next pair (c[i+1] - c[i]) / 2. So the columns of one parity hold steps whose squares
 * sum up to twice to four times those of the other, while in chroma at full resolution parities are alike.
 */
function hasPairedColumns({ width, height, data }: Raster): boolean {
  const squares = new Float64Array(width);
  const counts = new Uint32Array(width);
  const every = everyRow(width, height);
  for (let y = 0; y < height; y += every) {
    for (let x = 1; x < width; x++) {
      const p = (y * width + x) * 4;
      for (const channel of [0, 2]) {
        const step = chroma(data, p, channel) - chroma(data, p - 4, channel);
        if (Math.abs(step) < LEAST_STEP_ENCODED) continue;
        squares[x]! += step * step;
        counts[x]!++;
      }
    }
  }
  const ofParity = (parity: number) =>
    [...squares.keys()]
      .filter((x) => (x & 1) === parity && counts[x]! >= FEWEST_STEPS)
      .map((x) => squares[x]!);
  const [even, odd] = [ofParity(0), ofParity(1)];
  if (Math.min(even.length, odd.length) < FEWEST_COLUMNS) return false;
  const [one, other] = [median(even), median(odd)];
  return Math.max(one, other) > UNEVEN_TIMES * Math.min(one, other);
}

function chroma(data: Uint8Array, p: number, channel: number): number {
  return data[p + channel]! - jpegLumaOf(data[p]!, data[p + 1]!, data[p + 2]!);
}
