import { hexOfRgb } from '../color/hex';
import { labOf } from '../color/oklab';
import { clipRect, growRect, wholeOf, type Raster, type Rect } from '../raster/raster';

/** Colors that are tried: the corners of the cube, its middle, and the middles of its edges. */
const CANDIDATES = [0, 128, 255].flatMap((red) =>
  [0, 128, 255].flatMap((green) => [0, 128, 255].map((blue) => [red, green, blue] as const)),
);

/** Pixels that are read at most. */
const MOST_READ_PIXELS = 4000;

/** This share of the colors may be nearer to the backing than the rest. */
const LEFT_OUT_SHARE = 0.1;

/**
 * The backing, `#rrggbb`, from which the colors along a cutout's edge (what is partly transparent, or beside what is gone)
 * differ most, in OKLab: the one whose near end of distances lies farthest. `part` says where to look. Black where nothing is
 * seen there.
 */
export function contrastingBacking(raster: Raster, part: Rect = wholeOf(raster)): string {
  const labs = edgeColors(raster, clipRect(growRect(part, 2), raster.width, raster.height));
  if (labs.length === 0) return '#000000';
  let best = { hex: '#000000', near: -1 };
  for (const [red, green, blue] of CANDIDATES) {
    const own = labOf(red, green, blue);
    const distances = labs
      .map((lab) => squared(lab.lightness - own.lightness) + squared(lab.a - own.a) + squared(lab.b - own.b))
      .sort((one, other) => one - other);
    const near = distances[Math.floor(distances.length * LEFT_OUT_SHARE)]!;
    if (near > best.near) best = { hex: hexOfRgb(red, green, blue), near };
  }
  return best.hex;
}

function edgeColors({ width, height, data }: Raster, part: Rect) {
  const found: number[] = [];
  for (let y = part.y; y < part.y + part.height; y++)
    for (let x = part.x; x < part.x + part.width; x++) {
      const i = y * width + x;
      const alpha = data[i * 4 + 3]!;
      if (alpha === 0) continue;
      const beside =
        alpha < 255 ||
        (x > 0 && data[i * 4 - 1]! < 255) ||
        (x < width - 1 && data[i * 4 + 7]! < 255) ||
        (y > 0 && data[(i - width) * 4 + 3]! < 255) ||
        (y < height - 1 && data[(i + width) * 4 + 3]! < 255);
      if (beside) found.push(i * 4);
    }
  const every = Math.ceil(found.length / MOST_READ_PIXELS);
  return found.filter((_, k) => k % every === 0).map((p) => labOf(data[p]!, data[p + 1]!, data[p + 2]!));
}

function squared(value: number): number {
  return value * value;
}
