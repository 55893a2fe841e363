import type { Bytes } from '../core/raster/raster';
import type { Shaper } from './icc-shaper';

/** Linear Display P3 -> linear sRGB (both D65; the inverse of SMPTE EG 432-1's colorants before sRGB's). */
const P3_TO_SRGB = [
  1.2249401763, -0.2249401763, 0, -0.0420569547, 1.0420569547, 0, -0.0196375546, -0.0786360456, 1.0982736002,
];

/** Display P3 with its own curve, which is that of sRGB. */
export function displayP3(): Shaper {
  const curve = Float32Array.from({ length: 65_536 }, (_, v) => {
    const x = v / 65_535;
    return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4;
  });
  return { curves: [curve, curve, curve], matrix: P3_TO_SRGB };
}

/**
 * Samples of 16 bits, `channels` interleaved (gray, gray and alpha, RGB, or RGB and alpha) -> RGBA of 8 bits, encoded
 * sRGB, straight alpha. Everything is computed from the full depth and rounded once. Without a shaper samples are
 * taken for sRGB already.
 */
export function toSrgb8(samples: Uint16Array, channels: number, shaper: Shaper | null): Bytes {
  const pixels = samples.length / channels;
  const out = new Uint8Array(pixels * 4);
  const colors = channels < 3 ? 1 : 3;
  if (shaper?.matrix) shapeColors(samples, channels, shaper, out);
  else {
    const table = shaper ? encodedLuminance(shaper.curves[0]) : roundedSamples();
    const [green, blue] = colors === 1 ? [0, 0] : [1, 2];
    for (let i = 0, s = 0, p = 0; i < pixels; i++, s += channels, p += 4) {
      out[p] = table[samples[s]!]!;
      out[p + 1] = table[samples[s + green]!]!;
      out[p + 2] = table[samples[s + blue]!]!;
    }
  }
  const opaque = channels === colors;
  const rounded = roundedSamples();
  for (let p = 3, s = colors; p < out.length; p += 4, s += channels)
    out[p] = opaque ? 255 : rounded[samples[s]!]!;
  return out;
}

function shapeColors(samples: Uint16Array, channels: number, { curves, matrix }: Shaper, out: Bytes): void {
  const [reds, greens, blues] = curves as readonly [Float32Array, Float32Array, Float32Array];
  const [m0 = 0, m1 = 0, m2 = 0, m3 = 0, m4 = 0, m5 = 0, m6 = 0, m7 = 0, m8 = 0] = matrix!;
  const encoded = encodedLight();
  for (let s = 0, p = 0; p < out.length; s += channels, p += 4) {
    const red = reds[samples[s]!]!;
    const green = greens[samples[s + 1]!]!;
    const blue = blues[samples[s + 2]!]!;
    out[p] = encoded[placeOf(m0 * red + m1 * green + m2 * blue)]!;
    out[p + 1] = encoded[placeOf(m3 * red + m4 * green + m5 * blue)]!;
    out[p + 2] = encoded[placeOf(m6 * red + m7 * green + m8 * blue)]!;
  }
}

/** Steps of linear light, at most a fiftieth of an 8-bit level each. */
const LIGHT_STEPS = 1 << 18;

function placeOf(light: number): number {
  return light <= 0 ? 0 : light >= 1 ? LIGHT_STEPS : Math.round(light * LIGHT_STEPS);
}

/** Linear light -> encoded sRGB (IEC 61966-2-1). */
function encodedLight(): Bytes {
  return Uint8Array.from({ length: LIGHT_STEPS + 1 }, (_, k) => encode(k / LIGHT_STEPS));
}

function encodedLuminance(curve: Float32Array): Bytes {
  return Uint8Array.from(curve, encode);
}

function encode(light: number): number {
  return Math.round(255 * (light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055));
}

function roundedSamples(): Bytes {
  return Uint8Array.from({ length: 65_536 }, (_, value) => Math.round(value / 257));
}
