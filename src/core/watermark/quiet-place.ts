import type { Plane } from '../raster/plane';
import type { PhotoSize } from './settings';

// What the figures of this file rest on: docs/decisions/021-watermarks.md

/** How far from its anchor a quiet place is looked for, as shares of the photo, and steps in which it is. */
const QUIET_SHARE = 0.4;
const QUIET_STEPS = 16;

/** How much a place counts as less quiet for being as far away as is looked. */
const FAR_COST = 2;

/** The place near another where the photo is calmest: the least gradients on the average, and no square full of them. */
export function quietMiddle(
  light: Plane<Float32Array>,
  photo: PhotoSize,
  middle: { readonly x: number; readonly y: number },
  size: PhotoSize,
  inset: number,
) {
  const scale = light.width / photo.width;
  const sums = summedGradients(light);
  const [farX, farY] = [QUIET_SHARE * photo.width, QUIET_SHARE * photo.height];
  let best = middle;
  let least = Infinity;
  for (let v = -QUIET_STEPS; v <= QUIET_STEPS; v++)
    for (let u = -QUIET_STEPS; u <= QUIET_STEPS; u++) {
      const x = middle.x + (u / QUIET_STEPS) * farX;
      const y = middle.y + (v / QUIET_STEPS) * farY;
      const isWithin =
        x - size.width / 2 >= inset - 1 &&
        x + size.width / 2 <= photo.width - inset + 1 &&
        y - size.height / 2 >= inset - 1 &&
        y + size.height / 2 <= photo.height - inset + 1;
      if (!isWithin) continue;
      const restless = restlessness(
        sums,
        light,
        (x - size.width / 2) * scale,
        (y - size.height / 2) * scale,
        {
          width: size.width * scale,
          height: size.height * scale,
        },
      );
      const far = (u * u + v * v) / (2 * QUIET_STEPS * QUIET_STEPS);
      const cost = restless + FAR_COST * far;
      if (cost < least) {
        least = cost;
        best = { x, y };
      }
    }
  return best;
}

/** Sums of gradients above and left of each place: `(width + 1) x (height + 1)`. */
function summedGradients({ data, width, height }: Plane<Float32Array>): Float64Array {
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const across = x + 1 < width ? Math.abs(data[i + 1]! - data[i]!) : 0;
      const down = y + 1 < height ? Math.abs(data[i + width]! - data[i]!) : 0;
      row += across + down;
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1]! + row;
    }
  }
  return sums;
}

/** Squares that a place is looked at in, for details that a mean would hide. */
const SQUARES = 3;

function restlessness(
  sums: Float64Array,
  { width, height }: Plane<Float32Array>,
  left: number,
  top: number,
  size: PhotoSize,
): number {
  const mean = (x0: number, y0: number, x1: number, y1: number) => {
    const [a, b] = [clampTo(Math.floor(x0), width), clampTo(Math.ceil(x1), width)];
    const [c, d] = [clampTo(Math.floor(y0), height), clampTo(Math.ceil(y1), height)];
    const stride = width + 1;
    const sum = sums[d * stride + b]! - sums[c * stride + b]! - sums[d * stride + a]! + sums[c * stride + a]!;
    return sum / Math.max(1, (b - a) * (d - c));
  };
  let worst = 0;
  for (let v = 0; v < SQUARES; v++)
    for (let u = 0; u < SQUARES; u++)
      worst = Math.max(
        worst,
        mean(
          left + (u * size.width) / SQUARES,
          top + (v * size.height) / SQUARES,
          left + ((u + 1) * size.width) / SQUARES,
          top + ((v + 1) * size.height) / SQUARES,
        ),
      );
  return mean(left, top, left + size.width, top + size.height) + worst;
}

function clampTo(value: number, most: number): number {
  return Math.min(most, Math.max(0, value));
}
