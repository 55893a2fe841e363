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

/** The same down the columns, whole rows at a time, as memory lies: the maxima back of one block meet those forth of the next. */
function maximumDown(
  { data: plane, width, height }: Plane<Float32Array>,
  radius: number,
): Plane<Float32Array> {
  const out = new Float32Array(plane.length);
  const window = 2 * radius + 1;
  const back = new Float32Array(window * width);
  const forth = new Float32Array(width);
  for (let first = 0; first < height; first += window) {
    for (let k = window - 1; k >= 0; k--) {
      const here = k * width;
      const y = first + k - radius;
      if (k === window - 1) back.fill(-Infinity, here, here + width);
      else back.copyWithin(here, here + width, here + 2 * width);
      if (y >= 0 && y < height) raise(back, here, plane, y * width, width);
    }
    forth.fill(-Infinity);
    for (let k = 0; k < window && first + k < height; k++) {
      const next = first + k + radius;
      if (k > 0 && next < height) raise(forth, 0, plane, next * width, width);
      const start = (first + k) * width;
      out.set(k > 0 ? forth : back.subarray(0, width), start);
      if (k > 0) raise(out, start, back, k * width, width);
    }
  }
  return { data: out, width, height };
}

/** Raises `length` values to those of another plane where they are less. */
function raise(target: Float32Array, at: number, source: Float32Array, from: number, length: number): void {
  for (let k = 0; k < length; k++) {
    const other = source[from + k]!;
    if (other > target[at + k]!) target[at + k] = other;
  }
}
