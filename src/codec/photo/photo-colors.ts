import { hexOfRgb, rgbOfHex } from '../../core/color/hex';
import { createRaster, type Raster } from '../../core/raster/raster';
import type { MarkLook } from '../../core/watermark/settings';
import { readShaper } from '../icc-shaper';

/** Turns colors of sRGB into those of a photo's own space. */
export interface PhotoColors {
  readonly ofRgb: (red: number, green: number, blue: number) => readonly [number, number, number];
}

/** Steps of linear light that a photo's encoded values are looked up by. */
const LIGHT_STEPS = 4096;

/**
 * How sRGB colors are written in the space of a profile that is made of curves and a matrix; null where it is none of that kind, or
 * is that of sRGB.
 */
export function photoColors(icc: Buffer | null): PhotoColors | null {
  const shaper = icc && readShaper(icc, 3);
  if (!shaper?.matrix || shaper.curves.length !== 3) return null;
  const back = inverted(shaper.matrix);
  if (!back) return null;
  const tables = shaper.curves.map(invertedCurve);
  const encoded = (light: number, c: number) =>
    tables[c]![Math.min(LIGHT_STEPS, Math.max(0, Math.round(light * LIGHT_STEPS)))]!;
  return {
    ofRgb(red, green, blue) {
      const light = [red, green, blue].map((value) => linear(value / 255));
      return [0, 1, 2].map((c) =>
        encoded(back[3 * c]! * light[0]! + back[3 * c + 1]! * light[1]! + back[3 * c + 2]! * light[2]!, c),
      ) as unknown as readonly [number, number, number];
    },
  };
}

function linear(x: number): number {
  return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4;
}

/** Linear light -> the encoded value, 0 to 255, whose light comes nearest. */
function invertedCurve(curve: Float32Array): Uint8Array {
  const out = new Uint8Array(LIGHT_STEPS + 1);
  let level = 0;
  const lightOf = (value: number) => curve[Math.round((value * (curve.length - 1)) / 255)]!;
  for (let k = 0; k <= LIGHT_STEPS; k++) {
    const light = k / LIGHT_STEPS;
    while (level < 255 && Math.abs(lightOf(level + 1) - light) <= Math.abs(lightOf(level) - light)) level++;
    out[k] = level;
  }
  return out;
}

function inverted(m: readonly number[]): number[] | null {
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0, g = 0, h = 0, i = 0] = m;
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(determinant) < 1e-9) return null;
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ].map((value) => value / determinant);
}

/** A look with its colors in a photo's space. */
export function lookIn(colors: PhotoColors, look: MarkLook): MarkLook {
  const turned = (color: string) => {
    const { red, green, blue } = rgbOfHex(color);
    return hexOfRgb(...colors.ofRgb(red, green, blue));
  };
  const perhaps = <T extends { readonly color: string | null }>(part: T | null): T | null =>
    part?.color ? { ...part, color: turned(part.color) } : part;
  return {
    ...look,
    light: turned(look.light),
    dark: turned(look.dark),
    outline: perhaps(look.outline),
    shadow: perhaps(look.shadow),
    plate: perhaps(look.plate),
  };
}

/** A cutout with its colors in a photo's space. */
export function rasterIn(colors: PhotoColors, { width, height, data }: Raster): Raster {
  const out = createRaster(width, height, new Uint8Array(data));
  for (let p = 0; p < data.length; p += 4) {
    if (data[p + 3] === 0) continue;
    const [red, green, blue] = colors.ofRgb(data[p]!, data[p + 1]!, data[p + 2]!);
    out.data[p] = red;
    out.data[p + 1] = green;
    out.data[p + 2] = blue;
  }
  return out;
}
