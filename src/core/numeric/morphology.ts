import type { Plane } from '../raster/plane';

/**
 * Grayscale closing of a plane by a square of `2 * radius + 1` pixels: the maximum, then the minimum. What is darker than
 * its surroundings and narrower than the square is filled; borders of larger parts stay where they are. Places outside of
 * the plane do not count.
 */
export function closeGray(plane: Plane<Float32Array>, radius: number): Plane<Float32Array> {
  return erodeGray(dilateGray(plane, radius), radius);
}

/** The largest value in the square around each place. */
export function dilateGray(plane: Plane<Float32Array>, radius: number): Plane<Float32Array> {
  return maximumDown(maximumAcross(plane, radius), radius);
}

function erodeGray(plane: Plane<Float32Array>, radius: number): Plane<Float32Array> {
  return negative(dilateGray(negative(plane), radius));
}

function negative({ data, width, height }: Plane<Float32Array>): Plane<Float32Array> {
  return { data: data.map((value) => -value), width, height };
}

/**
 * The running maximum along rows in a constant number of steps a value (van Herk, 1992; Gil and Werman, 1993): maxima
 * forth and back within blocks as long as the window, and the larger of the two at its ends.
 */
function maximumAcross(
  { data: plane, width, height }: Plane<Float32Array>,
  radius: number,
): Plane<Float32Array> {
  const out = new Float32Array(plane.length);
  const window = 2 * radius + 1;
  const padded = Math.ceil((width + 2 * radius) / window) * window;
  const line = new Float32Array(padded).fill(-Infinity);
  const forth = new Float32Array(padded);
  const back = new Float32Array(padded);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    line.set(plane.subarray(start, start + width), radius);
    for (let block = 0; block < padded; block += window) {
      let most = -Infinity;
      for (let k = block; k < block + window; k++) forth[k] = most = line[k]! > most ? line[k]! : most;
      most = -Infinity;
      for (let k = block + window - 1; k >= block; k--) back[k] = most = line[k]! > most ? line[k]! : most;
    }
    for (let x = 0; x < width; x++) {
      const here = back[x]!;
      const there = forth[x + 2 * radius]!;
      out[start + x] = here > there ? here : there;
    }
  }
  return { data: out, width, height };
}

/** The same down the columns, whole rows at a time, as memory lies. */
function maximumDown(
  { data: plane, width, height }: Plane<Float32Array>,
  radius: number,
): Plane<Float32Array> {
  const out = new Float32Array(plane.length);
  const window = 2 * radius + 1;
  const blocks = Math.ceil((height + 2 * radius) / window);
  const rows = blocks * window;
  const forth = new Float32Array(rows * width);
  const back = new Float32Array(rows * width);
  /** The larger of the row before and the plane's row `k`, which lies `radius` lower among the rows. */
  const step = (target: Float32Array, k: number, before: number | null) => {
    const y = k - radius;
    const inside = y >= 0 && y < height;
    for (let x = 0, i = k * width, j = y * width; x < width; x++, i++, j++) {
      const own = inside ? plane[j]! : -Infinity;
      const last = before === null ? -Infinity : target[before * width + x]!;
      target[i] = own > last ? own : last;
    }
  };
  for (let block = 0; block < rows; block += window) {
    for (let k = block; k < block + window; k++) step(forth, k, k === block ? null : k - 1);
    for (let k = block + window - 1; k >= block; k--) step(back, k, k === block + window - 1 ? null : k + 1);
  }
  for (let y = 0; y < height; y++) {
    const upper = y * width;
    const lower = (y + 2 * radius) * width;
    for (let x = 0; x < width; x++) {
      const here = back[upper + x]!;
      const there = forth[lower + x]!;
      out[upper + x] = here > there ? here : there;
    }
  }
  return { data: out, width, height };
}
