import { lengthOf } from '../../numeric/exact';
import { LastSearch, startsOf } from '../../numeric/ring';
import type { Plane } from '../../raster/plane';
import type { Raster, Rect } from '../../raster/raster';
import type { Rgb } from '../clear/sample-color';

// What the figures of this file rest on: docs/decisions/009-findings-and-mends.md

/** The rim: what has at least RIM_ALPHA within RIM_PX of what has less. */
const RIM_ALPHA = 24;
const RIM_PX = 2;

/** The certain inside: opaque with this many opaque pixels on all sides, looked for this far away. */
const INSIDE_PX = 2;
const SEARCH_PX = 7;
/** So many inside pixels, the nearest, say what color the rim should have. */
const INSIDE_COUNT = 6;

/** Old background is told only where it differs from the subject by so much (8-bit RGB), and by a share from this on. */
const LEAST_CONTRAST_ENCODED = 40;
const LEAST_SHARE = 0.15;

/** How far around a pixel the cutout must be known to tell old background in it. */
export const RIM_MARGIN_PX = SEARCH_PX + INSIDE_PX;

/** Offsets around a pixel, nearest first: x, y, x, y and so on. */
const RINGS = Int8Array.from(
  Array.from({ length: (2 * SEARCH_PX + 1) * (2 * SEARCH_PX + 1) }, (_, k): readonly [number, number] => [
    (k % (2 * SEARCH_PX + 1)) - SEARCH_PX,
    Math.floor(k / (2 * SEARCH_PX + 1)) - SEARCH_PX,
  ])
    .sort(([a, b], [c, d]) => a * a + b * b - (c * c + d * d))
    .flat(),
);

/** Whether a pixel is seen and lies beside what is cleared. */
export function isRim({ width, height, data }: Raster, x: number, y: number): boolean {
  if (data[(y * width + x) * 4 + 3]! < RIM_ALPHA) return false;
  for (let v = Math.max(0, y - RIM_PX); v <= Math.min(height - 1, y + RIM_PX); v++)
    for (let u = Math.max(0, x - RIM_PX); u <= Math.min(width - 1, x + RIM_PX); u++)
      if (data[(v * width + u) * 4 + 3]! < RIM_ALPHA) return true;
  return false;
}

/**
 * The pixels of a part of an alpha plane that are rim (see `isRim`), as indices of the plane, row by row. What is low beside a
 * pixel is found along rows first, then along columns.
 */
export function rimWithin({ data: alpha, width, height }: Plane, { x, y, ...size }: Rect): number[] {
  const top = Math.max(0, y - RIM_PX);
  const bottom = Math.min(height, y + size.height + RIM_PX);
  const right = Math.min(width, x + size.width + RIM_PX);
  const lows = new Uint8Array((bottom - top) * size.width);
  for (let row = top, k = 0; row < bottom; row++) {
    // What is low counts for RIM_PX pixels to either side.
    let until = x - 1;
    let seen = Math.max(0, x - RIM_PX);
    for (let column = x; column < x + size.width; column++, k++) {
      for (; seen < right && seen <= column + RIM_PX; seen++)
        if (alpha[row * width + seen]! < RIM_ALPHA) until = seen + RIM_PX;
      if (until >= column) lows[k] = 1;
    }
  }
  const rim: number[] = [];
  for (let row = y; row < y + size.height; row++)
    for (let column = 0; column < size.width; column++) {
      const i = row * width + x + column;
      if (alpha[i]! < RIM_ALPHA) continue;
      let isLow = false;
      for (let v = Math.max(top, row - RIM_PX); v <= Math.min(bottom - 1, row + RIM_PX) && !isLow; v++)
        isLow = lows[(v - top) * size.width + column] === 1;
      if (isLow) rim.push(i);
    }
  return rim;
}

/** For each whole distance the first step in RINGS that is as far away. */
const STARTS = startsOf(RINGS, SEARCH_PX);

/** What of a picture is certain inside of its subject, found out once a pixel. */
export class Insides {
  /** 0 as long as nobody asked. */
  private readonly known: Uint8Array;
  private readonly last = new LastSearch();

  constructor(private readonly raster: Raster) {
    this.known = new Uint8Array(raster.width * raster.height);
  }

  /** The color of the certain inside of the subject near a pixel; null where none is near, as in thin strokes. */
  colorAt(x: number, y: number): Rgb | null {
    const { width, height, data } = this.raster;
    const { last } = this;
    let [red, green, blue, count] = [0, 0, 0, 0];
    let far = SEARCH_PX + 1;
    for (let k = 2 * STARTS[last.leastFrom(x, y)]!; k < RINGS.length; k += 2) {
      const u = x + RINGS[k]!;
      const v = y + RINGS[k + 1]!;
      if (u < INSIDE_PX || v < INSIDE_PX || u >= width - INSIDE_PX || v >= height - INSIDE_PX) continue;
      const i = v * width + u;
      const p = i * 4;
      if (data[p + 3] !== 255 || !this.isInside(i)) continue;
      // Beside the square that is looked at there may be a nearer one than in its corners.
      if (count === 0) far = Math.min(far, lengthOf(RINGS[k]!, RINGS[k + 1]!));
      red += data[p]!;
      green += data[p + 1]!;
      blue += data[p + 2]!;
      if (++count === INSIDE_COUNT) break;
    }
    last.note(x, y, far);
    return count < INSIDE_COUNT ? null : { red: red / count, green: green / count, blue: blue / count };
  }

  private isInside(i: number): boolean {
    const { known, raster } = this;
    if (known[i] === 0) known[i] = isInside(raster.data, i * 4, raster.width) ? INSIDE : NOT_INSIDE;
    return known[i] === INSIDE;
  }
}

const INSIDE = 1;
const NOT_INSIDE = 2;

function isInside(data: Uint8Array, p: number, width: number): boolean {
  for (let dy = -INSIDE_PX; dy <= INSIDE_PX; dy++)
    for (let dx = -INSIDE_PX; dx <= INSIDE_PX; dx++)
      if (data[p + (dy * width + dx) * 4 + 3]! < 255) return false;
  return true;
}

/** How much of the way from the inside's color to the background's a color lies, 0 to about 1; 0 where it does not. */
export function leanOf(own: Rgb, inside: Rgb, background: Rgb): number {
  const [dr, dg, db] = [
    background.red - inside.red,
    background.green - inside.green,
    background.blue - inside.blue,
  ];
  const square = dr * dr + dg * dg + db * db;
  if (square < LEAST_CONTRAST_ENCODED * LEAST_CONTRAST_ENCODED) return 0;
  const [or, og, ob] = [own.red - inside.red, own.green - inside.green, own.blue - inside.blue];
  const share = (or * dr + og * dg + ob * db) / square;
  if (share < LEAST_SHARE) return 0;
  const [xr, xg, xb] = [or - share * dr, og - share * dg, ob - share * db];
  const aside = xr * xr + xg * xg + xb * xb;
  return aside <= Math.max(400, 0.12 * share * share * square) ? share : 0;
}

/** The sum of what a part's rim leans to a background. */
export function leanWithin(raster: Raster, part: Rect, background: Rgb): number {
  let sum = 0;
  const insides = new Insides(raster);
  for (let y = part.y; y < part.y + part.height; y++)
    for (let x = part.x; x < part.x + part.width; x++) {
      const inside = isRim(raster, x, y) ? insides.colorAt(x, y) : null;
      if (inside) sum += leanOf(colorAt(raster, x, y), inside, background);
    }
  return sum;
}

/**
 * Takes a background out of the colors of the rim in the part `rect`, into `out` (of `rect`'s size); alpha stays. `wide`
 * holds the part `part`, which goes RIM_MARGIN_PX farther or as far as the picture. `target` is where it acts.
 */
export function cleanRimInto(
  wide: Raster,
  part: Rect,
  target: Rect,
  rect: Rect,
  out: Raster,
  background: Rgb,
): void {
  const insides = new Insides(wide);
  for (let y = target.y; y < target.y + target.height; y++)
    for (let x = target.x; x < target.x + target.width; x++) {
      const [u, v] = [x - part.x, y - part.y];
      const inside = isRim(wide, u, v) ? insides.colorAt(u, v) : null;
      if (!inside) continue;
      const own = colorAt(wide, u, v);
      const lean = leanOf(own, inside, background);
      if (lean === 0) continue;
      const p = ((y - rect.y) * rect.width + x - rect.x) * 4;
      const freed = (color: number, from: number, to: number) =>
        Math.min(255, Math.max(0, Math.round(color - lean * (to - from))));
      out.data[p] = freed(own.red, inside.red, background.red);
      out.data[p + 1] = freed(own.green, inside.green, background.green);
      out.data[p + 2] = freed(own.blue, inside.blue, background.blue);
    }
}

function colorAt({ width, data }: Raster, x: number, y: number): Rgb {
  const p = (y * width + x) * 4;
  return { red: data[p]!, green: data[p + 1]!, blue: data[p + 2]! };
}
