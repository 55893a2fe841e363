import type { Rgb } from '../stages/clear/sample-color';
import type { Raster } from '../raster/raster';

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
  /** What was seen of a painted-in checkerboard; null where there is none. */
  readonly pattern: PatternSeen | null;
  /** How much light each pixel had, times the usual, where it was divided out of the channels; null where it was not. */
  readonly light: Float32Array | null;
}

/** What a pattern's neighborhoods tell: 1 where there is one plain color, and where the pattern goes on in some light. */
export interface PatternSeen {
  readonly plain: Uint8Array;
  readonly shown: Uint8Array;
  /** 1 where a plain color is so near to the tones that only its place tells it from them. */
  readonly alike: Uint8Array;
  /** Half the side of the windows that were looked at, in pixels. */
  readonly radius: number;
}

const RED = 0.299;
const GREEN = 0.587;
const BLUE = 0.114;
const TO_BLUENESS = 0.5 / (1 - BLUE);
const TO_REDNESS = 0.5 / (1 - RED);

/** Luma, blue and red difference of an encoded sRGB color. */
export function lumaChroma({ red, green, blue }: Rgb): [number, number, number] {
  const y = RED * red + GREEN * green + BLUE * blue;
  return [y, (blue - y) * TO_BLUENESS, (red - y) * TO_REDNESS];
}

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
  return { width, height, channels: [luma, blueness, redness], blank, pattern: null, light: null };
}

/** The encoded sRGB color of a place of planes, 0 to 255, not rounded. */
export function colorAt({ channels: [luma, blueness, redness] }: Pick<Planes, 'channels'>, i: number) {
  const y = luma[i]!;
  const red = y + redness[i]! / TO_REDNESS;
  const blue = y + blueness[i]! / TO_BLUENESS;
  return { red, green: (y - RED * red - BLUE * blue) / GREEN, blue };
}
