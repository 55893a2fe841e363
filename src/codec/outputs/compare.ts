import { KenosisError } from '../../core/errors';
import type { Raster } from '../../core/raster/raster';
import type { Difference } from './output-codec';

/** The error for a file that does not hold what was to be written into it. */
export function failed(what: string): KenosisError {
  return new KenosisError(
    'verification-failed',
    `The file was written, but reading it back showed that ${what}. It was thrown away; the piece is safe. Try again.`,
  );
}

/** What was read back: RGBA of 8 bits, straight alpha. */
export interface ReadPixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint8ClampedArray;
}

function assertSameSize(found: ReadPixels, expected: Raster): void {
  if (found.width !== expected.width || found.height !== expected.height)
    throw failed(
      `it has ${found.width} x ${found.height} px instead of ${expected.width} x ${expected.height}`,
    );
  if (found.data.length !== expected.data.length) throw failed('its pixels are not all there');
}

export const NO_DIFFERENCE: Difference = { largest: 0, mean: 0 };

/** Throws `verification-failed` at the first byte that differs, hidden color too. */
export function assertExact(found: ReadPixels, expected: Raster): void {
  assertSameSize(found, expected);
  const { data, width } = expected;
  if (Buffer.compare(viewOf(found.data), viewOf(data)) === 0) return;
  const at = data.findIndex((value, p) => value !== found.data[p]) >> 2;
  throw failed(`pixel ${at % width}, ${Math.floor(at / width)} differs`);
}

function viewOf(data: Uint8Array | Uint8ClampedArray): Buffer {
  return Buffer.from(data.buffer, data.byteOffset, data.byteLength);
}

/** Most that a lossy file may differ in the mean, whatever its quality: more is another picture. */
const MOST_MEAN = 32;

/**
 * How far a lossy file lies from its raster. Throws `verification-failed` where that is more than any quality explains, or where
 * alpha differs although it was to be exact.
 */
export function measured(
  found: ReadPixels,
  expected: Raster,
  alphaExact: boolean,
): { readonly color: Difference; readonly alpha: Difference } {
  assertSameSize(found, expected);
  const { data } = expected;
  let largest = 0;
  let sum = 0;
  let weight = 0;
  let largestAlpha = 0;
  let sumAlpha = 0;
  for (let p = 0; p < data.length; p += 4) {
    const alpha = data[p + 3]!;
    const apart = Math.abs(alpha - found.data[p + 3]!);
    if (apart > largestAlpha) largestAlpha = apart;
    sumAlpha += apart;
    if (alpha === 0) continue;
    weight += alpha;
    for (let c = 0; c < 3; c++) {
      const off = Math.abs(data[p + c]! - found.data[p + c]!);
      if (off > largest && alpha >= 128) largest = off;
      sum += off * alpha;
    }
  }
  const color = { largest, mean: weight === 0 ? 0 : sum / weight / 3 };
  const alpha = { largest: largestAlpha, mean: (4 * sumAlpha) / data.length };
  if (alphaExact && largestAlpha > 0) throw failed('its transparency differs');
  if (color.mean > MOST_MEAN || alpha.mean > MOST_MEAN) throw failed('it holds another picture');
  return { color, alpha };
}
