import type { Channel } from '../settings';
import { lumaOf } from '../../../color/luma';
import type { Raster } from '../../../raster/raster';
import { evenMid, type Levels } from './levels';
import { CHANNELS, HISTOGRAM_BINS, READINGS } from './reading';

/** How one channel tells ink from paper. */
export interface ChannelReading extends Levels {
  readonly channel: Channel;
  /** How far dense ink lies from paper, in units of the paper's own spread toward the ink. */
  readonly score: number;
}

/** What a picture of ink on paper shows, as a whole and in each channel. */
export interface InkReading {
  /** Share of the pixels that are ink by luminance. */
  readonly share: number;
  /** Luma of paper and of dense ink. */
  readonly paper: number;
  readonly ink: number;
  /** The middle color of dense ink, encoded, 0 to 255. */
  readonly color: readonly [number, number, number];
  readonly channels: readonly ChannelReading[];
}

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** The ink's full density is where this share of the ink's pixels is denser. */
const DENSE_SHARE = 0.05;

/** The paper's spread is how far this share of it lies beyond its middle, toward the ink. */
const SPREAD_SHARE = 0.16;

/** A smaller share lies farther out in compressed pictures: the ringing beside strokes. */
const RINGING_SHARE = 0.05;

/** The white point lies so many spreads off the paper's middle, beyond the ringing, and this far at least. */
const OFF_SPREADS = 1.8;
const OFF_RINGING_TIMES = 1.15;
const OFF_ENCODED = 1;

/** Paper is what lies nearer to it than this share of the way to the ink. */
const NEAR_PAPER_SHARE = 0.15;

/** One density is where a peak of the ink's readings lies so near to its dense end, as a share of the way to the paper. */
const NEAR_DENSE_SHARE = 0.14;

/** How much higher than an even spread such a peak is. */
const PEAKED_TIMES = 2.5;

/** Ink and paper are told apart only when so far from each other in luma. */
const LEAST_CONTRAST_ENCODED = 24;

/**
 * Reads ink on paper from parts of a picture: ink and paper are parted by luma halfway between their means, found by
 * iteration (Ridler and Calvard, 1978); then every channel is scored and its points are proposed. Null where the picture
 * does not part in two.
 */
export function readInk(parts: readonly Raster[]): InkReading | null {
  const split = splitOf(lumasOf(parts));
  if (!split || split.paper - split.ink < LEAST_CONTRAST_ENCODED) return null;
  const light = split.paper - NEAR_PAPER_SHARE * (split.paper - split.ink);
  let ink = 0;
  let all = 0;
  const counts = CHANNELS.map(() => ({
    ink: new Uint32Array(HISTOGRAM_BINS),
    paper: new Uint32Array(HISTOGRAM_BINS),
  }));
  const colors = [0, 1, 2].map(() => new Uint32Array(HISTOGRAM_BINS));
  for (const { data } of parts) {
    for (let p = 0; p < data.length; p += 4) {
      if (data[p + 3]! < 255) continue;
      const red = data[p]!;
      const green = data[p + 1]!;
      const blue = data[p + 2]!;
      const luma = lumaOf(red, green, blue);
      all++;
      const isInk = luma < split.limit;
      if (isInk) ink++;
      if (luma < split.ink + 0.3 * (split.limit - split.ink))
        for (let c = 0; c < 3; c++) colors[c]![data[p + c]!]!++;
      if (!isInk && luma < light) continue;
      for (let k = 0; k < CHANNELS.length; k++) {
        const weights = READINGS[CHANNELS[k]!];
        const value = weights.red * red + weights.green * green + weights.blue * blue + weights.plus;
        counts[k]![isInk ? 'ink' : 'paper'][Math.min(255, Math.max(0, Math.round(value)))]!++;
      }
    }
  }
  if (ink === 0 || all === ink) return null;
  return {
    share: ink / all,
    paper: split.paper,
    ink: split.ink,
    color: colors.map((of) => quantileOf(of, 0.5)) as unknown as InkReading['color'],
    channels: CHANNELS.map((channel, k) => ({ channel, ...pointsOf(counts[k]!) })),
  };
}

/** The reading with the highest score. */
export function bestChannel({ channels }: InkReading): ChannelReading {
  return channels.reduce((best, one) => (one.score > best.score ? one : best));
}

function lumasOf(parts: readonly Raster[]): Uint32Array {
  const counts = new Uint32Array(HISTOGRAM_BINS);
  for (const { data } of parts)
    for (let p = 0; p < data.length; p += 4)
      if (data[p + 3] === 255) counts[Math.round(lumaOf(data[p]!, data[p + 1]!, data[p + 2]!))]!++;
  return counts;
}

/** Where ink and paper part; null for an empty or even picture. */
function splitOf(counts: Uint32Array): { limit: number; paper: number; ink: number } | null {
  const paperEnd = quantileOf(counts, 0.7);
  const darkest = counts.findIndex((count) => count > 0);
  if (darkest < 0 || darkest >= paperEnd) return null;
  let limit = (darkest + paperEnd) / 2;
  let ink = darkest;
  let paper = paperEnd;
  for (let round = 0; round < 30; round++) {
    ink = meanOf(counts, 0, Math.ceil(limit)) ?? darkest;
    paper = meanOf(counts, Math.ceil(limit), HISTOGRAM_BINS) ?? paperEnd;
    const next = (ink + paper) / 2;
    if (Math.abs(next - limit) < 0.25) break;
    limit = next;
  }
  return { limit, paper, ink };
}

function meanOf(counts: Uint32Array, from: number, to: number): number | null {
  let sum = 0;
  let count = 0;
  for (let value = from; value < to; value++) {
    sum += value * counts[value]!;
    count += counts[value]!;
  }
  return count > 0 ? sum / count : null;
}

/** The value below which a share of what was counted lies, within a step by its share. */
function quantileOf(counts: Uint32Array, share: number): number {
  const total = counts.reduce((sum, count) => sum + count, 0);
  const wanted = share * total;
  let below = 0;
  for (let value = 0; value < counts.length; value++) {
    const here = counts[value]!;
    if (here > 0 && below + here >= wanted) return value - 0.5 + (wanted - below) / here;
    below += here;
  }
  return counts.length - 1;
}

function pointsOf(counts: { ink: Uint32Array; paper: Uint32Array }): Levels & { score: number } {
  const middle = quantileOf(counts.paper, 0.5);
  const darker = quantileOf(counts.ink, 0.5) < middle;
  const dense = quantileOf(counts.ink, darker ? DENSE_SHARE : 1 - DENSE_SHARE);
  const beyond = quantileOf(counts.paper, darker ? SPREAD_SHARE : 1 - SPREAD_SHARE);
  const spread = Math.abs(middle - beyond);
  const ringing = Math.abs(middle - quantileOf(counts.paper, darker ? RINGING_SHARE : 1 - RINGING_SHARE));
  const way = darker ? -1 : 1;
  const white = tenth(
    middle + way * Math.max(OFF_ENCODED, OFF_SPREADS * spread, OFF_RINGING_TIMES * ringing),
  );
  let black = tenth(denseOf(counts.ink, dense, middle, way));
  // Where ink and paper read alike the points stay apart by a step, on the ink's side.
  if (way * (black - white) < 1) black = tenth(white + way);
  const [low, high] = [Math.min(black, white), Math.max(black, white)];
  const inside = (value: number) => Math.min(255, Math.max(0, value));
  const points = { black: inside(black), white: inside(white) };
  if (points.black === points.white) points.black = inside(points.white + (way < 0 ? 1 : -1));
  return {
    ...points,
    mid: evenMid(points.black, points.white),
    score: (high - low) / (2 + spread),
  };
}

/**
 * Where ink is full: at the dense end, or, where most strokes have one density that the grain scatters, at the near side of
 * that scatter, so that their inside is opaque.
 */
function denseOf(ink: Uint32Array, dense: number, paper: number, way: number): number {
  const range = Math.abs(paper - dense);
  const smoothed = (value: number) => {
    let sum = 0;
    for (let k = -2; k <= 2; k++) sum += ink[value + k] ?? 0;
    return sum / 5;
  };
  let mode = dense;
  for (let off = -0.04 * range; off <= NEAR_DENSE_SHARE * range; off++) {
    const value = dense - way * off;
    if (smoothed(Math.round(value)) > smoothed(Math.round(mode))) mode = value;
  }
  const total = ink.reduce((sum, count) => sum + count, 0);
  const even = total / Math.max(1, range / 2);
  if (smoothed(Math.round(mode)) < PEAKED_TIMES * even) return dense;
  return mode - way * 0.5 * Math.abs(mode - dense);
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}
