import { blurBox } from '../numeric/box';
import { bytesBy, floatsBy } from '../numeric/plane';
import type { Raster } from '../raster/raster';
import type { Checker } from '../stages/clear/checker';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/**
 * A picture as lightness and two color differences (Y'CbCr by ITU-R BT.601), in encoded levels: `luma` 0 to 255, the
 * others -128 to 128 with 0 for gray. Noise and shade change luma most, so they are told apart from color best here.
 */
export interface Planes {
  readonly width: number;
  readonly height: number;
  /** Luma, blue difference, red difference; row by row. */
  readonly channels: readonly [Float32Array, Float32Array, Float32Array];
  /** 1 where the picture is fully transparent; null where it is nowhere. */
  readonly blank: Uint8Array | null;
}

const RED = 0.299;
const GREEN = 0.587;
const BLUE = 0.114;
const TO_BLUENESS = 0.5 / (1 - BLUE);
const TO_REDNESS = 0.5 / (1 - RED);

export function planesOf({ width, height, data }: Raster): Planes {
  const pixels = width * height;
  const luma = new Float32Array(pixels);
  const blueness = new Float32Array(pixels);
  const redness = new Float32Array(pixels);
  let blank: Uint8Array | null = null;
  for (let i = 0, p = 0; i < pixels; i++, p += 4) {
    if (data[p + 3] === 0) (blank ??= new Uint8Array(pixels))[i] = 1;
    const y = RED * data[p]! + GREEN * data[p + 1]! + BLUE * data[p + 2]!;
    luma[i] = y;
    blueness[i] = (data[p + 2]! - y) * TO_BLUENESS;
    redness[i] = (data[p]! - y) * TO_REDNESS;
  }
  return { width, height, channels: [luma, blueness, redness], blank };
}

/** The encoded sRGB color of a place of planes, 0 to 255, not rounded. */
export function colorAt({ channels: [luma, blueness, redness] }: Pick<Planes, 'channels'>, i: number) {
  const y = luma[i]!;
  const red = y + redness[i]! / TO_REDNESS;
  const blue = y + blueness[i]! / TO_BLUENESS;
  return { red, green: (y - RED * red - BLUE * blue) / GREEN, blue };
}

/** Below this a wave is between two cells; how far around there cells are looked at, and how much of that must be certain. */
const CERTAIN_SHARE = 0.97;
const CELLS_AROUND = 3;
const LEAST_CERTAIN_SHARE = 0.1;

/** The darkest pattern that is divided by. */
const DARKEST_ENCODED = 8;

/**
 * The planes as they would be without a painted-in checkerboard: divided by it in luma, so that a shadow that lies on both
 * tones becomes one shade, and freed of its color. `scale` is how many pixels of the original one of theirs covers.
 */
export function withoutPattern(planes: Planes, checker: Checker, scale: number): Planes {
  const { width, height, channels, blank } = planes;
  const across = meanWaves(width, scale, (x) => checker.across(x).wave);
  const down = meanWaves(height, scale, (y) => checker.down(y).wave);
  const [even, odd] = [checker.even, checker.odd].map(({ red, green, blue }) => {
    const y = RED * red + GREEN * green + BLUE * blue;
    return [y, (blue - y) * TO_BLUENESS, (red - y) * TO_REDNESS] as const;
  });
  const middle = [0, 1, 2].map((c) => (even![c]! + odd![c]!) / 2);
  const swing = [0, 1, 2].map((c) => (even![c]! - odd![c]!) / 2);
  const waves = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) waves[i] = across[x]! * down[y]!;
  const certain = bytesBy(waves.length, (i) => (Math.abs(waves[i]!) < CERTAIN_SHARE ? 0 : 1));
  const weights = blurBox({ data: certain, width, height }, CELLS_AROUND);
  const freed = channels.map((plane, c) => {
    const without = (i: number, wave: number) => {
      const there = swing[c]! * wave;
      return c === 0
        ? (plane[i]! / Math.max(DARKEST_ENCODED, middle[0]! + there)) * middle[0]!
        : plane[i]! - there;
    };
    const out = floatsBy(waves.length, (i) => without(i, waves[i]!));
    const sums = blurBox(
      { data: floatsBy(out.length, (i) => out[i]! * certain[i]!), width, height },
      CELLS_AROUND,
    );
    // Where two cells meet any mixture of both tones is pattern: the one that agrees best with the cells around.
    for (let i = 0; i < out.length; i++) {
      if (certain[i] === 1 || weights[i]! < LEAST_CERTAIN_SHARE) continue;
      const one = without(i, -1);
      const other = without(i, 1);
      out[i] = Math.min(Math.max(one, other), Math.max(Math.min(one, other), sums[i]! / weights[i]!));
    }
    return out;
  });
  return { width, height, channels: freed as unknown as Planes['channels'], blank };
}

/** The mean of a wave over each pixel of a reduced line. */
function meanWaves(length: number, scale: number, wave: (at: number) => number): Float32Array {
  return Float32Array.from({ length }, (_, k) => {
    let sum = 0;
    for (let step = 0; step < scale; step++) sum += wave(k * scale + step + 0.5);
    return sum / scale;
  });
}
