/**
 * Sums over the square of `2 * radius + 1` pixels around each place, of what lies within the plane. Exact, so equal
 * wherever a plane begins, for whole numbers whose sums stay below 2^53.
 */
export function sumBox(
  plane: ArrayLike<number>,
  width: number,
  height: number,
  radius: number,
): Float64Array {
  const across = new Float64Array(plane.length);
  for (let y = 0; y < height; y++) runSum(plane, y * width, width, radius, across);
  const out = new Float64Array(plane.length);
  // Down the columns all at a time, row by row, as memory lies.
  const sums = new Float64Array(width);
  for (let y = -radius; y < height; y++) {
    if (y + radius < height) {
      const from = (y + radius) * width;
      for (let x = 0; x < width; x++) sums[x]! += across[from + x]!;
    }
    if (y > radius) {
      const from = (y - radius - 1) * width;
      for (let x = 0; x < width; x++) sums[x]! -= across[from + x]!;
    }
    if (y >= 0) out.set(sums, y * width);
  }
  return out;
}

/** The mean over the same square. */
export function blurBox(
  plane: ArrayLike<number>,
  width: number,
  height: number,
  radius: number,
): Float32Array {
  const sums = sumBox(plane, width, height, radius);
  const out = new Float32Array(sums.length);
  const count = (at: number, length: number) =>
    Math.min(length - 1, at + radius) - Math.max(0, at - radius) + 1;
  const columns = Float64Array.from({ length: width }, (_, x) => count(x, width));
  for (let y = 0, i = 0; y < height; y++) {
    const rows = count(y, height);
    for (let x = 0; x < width; x++, i++) out[i] = sums[i]! / (rows * columns[x]!);
  }
  return out;
}

function runSum(
  source: ArrayLike<number>,
  start: number,
  length: number,
  radius: number,
  out: Float64Array,
): void {
  let sum = 0;
  for (let k = 0; k < Math.min(radius, length); k++) sum += source[start + k]!;
  for (let k = 0; k < length; k++) {
    if (k + radius < length) sum += source[start + k + radius]!;
    if (k > radius) sum -= source[start + k - radius - 1]!;
    out[start + k] = sum;
  }
}
