import type { Plane } from '../raster/plane';

/**
 * Sums over the square of `2 * radius + 1` pixels around each place, or a rectangle where `down` differs, of what lies within the plane. Exact, so equal
 * wherever a plane begins, for whole numbers whose sums stay below 2^53.
 */
export function sumBox(
  { data, width, height }: Plane<ArrayLike<number>>,
  radius: number,
  down = radius,
): Float64Array {
  // Of one kind wherever it can be, since what adds them up is compiled for what it has met.
  const plane = data instanceof Uint8Array ? new Float32Array(data) : data;
  const across = new Float64Array(plane.length);
  for (let y = 0; y < height; y++) runSum(plane, y * width, width, radius, across);
  const out = new Float64Array(plane.length);
  // Down the columns all at a time, row by row, as memory lies.
  const sums = new Float64Array(width);
  for (let y = -down; y < height; y++) {
    if (y + down < height) {
      const from = (y + down) * width;
      for (let x = 0; x < width; x++) sums[x]! += across[from + x]!;
    }
    if (y > down) {
      const from = (y - down - 1) * width;
      for (let x = 0; x < width; x++) sums[x]! -= across[from + x]!;
    }
    if (y >= 0) out.set(sums, y * width);
  }
  return out;
}

/** The mean over the same square. */
export function blurBox(
  { data: plane, width, height }: Plane<ArrayLike<number>>,
  radius: number,
  down = radius,
): Float32Array {
  const sums = sumBox({ data: plane, width, height }, radius, down);
  const out = new Float32Array(sums.length);
  const count = (at: number, length: number, reach: number) =>
    Math.min(length - 1, at + reach) - Math.max(0, at - reach) + 1;
  const columns = Float64Array.from({ length: width }, (_, x) => count(x, width, radius));
  for (let y = 0, i = 0; y < height; y++) {
    const rows = count(y, height, down);
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
  const from = Math.min(radius, length);
  let sum = 0;
  for (let k = 0; k < from; k++) sum += source[start + k]!;
  // What comes in and what goes out, and the stretches at which there is only one of them, or neither.
  const full = length - radius;
  const end = start + length;
  let k = start;
  for (const to = start + Math.max(0, Math.min(radius + 1, full)); k < to; k++)
    out[k] = sum += source[k + radius]!;
  for (const to = start + full; k < to; k++) {
    sum += source[k + radius]!;
    out[k] = sum -= source[k - radius - 1]!;
  }
  for (const to = Math.min(end, start + radius + 1); k < to; k++) out[k] = sum;
  for (; k < end; k++) out[k] = sum -= source[k - radius - 1]!;
}

/**
 * Puts into `out` the means of three planes over the same square, of the pixels that count (1 in `counts`), wherever more than
 * the share `least` of the square's own pixels counts; leaves `out` as it is elsewhere. Sums of columns are kept from row to
 * row, so that no plane of sums is needed.
 */
export function takeMeans(
  planes: readonly [Float32Array, Float32Array, Float32Array],
  { data: counts, width, height }: Plane,
  radius: number,
  least: number,
  out: readonly [Float32Array, Float32Array, Float32Array],
): void {
  const [first, second, third] = planes;
  const columns = () => new Float64Array(width + 2 * radius + 1);
  const [countSums, firstSums, secondSums, thirdSums] = [columns(), columns(), columns(), columns()];
  const takeRow = (y: number, sign: 1 | -1) => {
    for (let x = 0, i = y * width, k = radius; x < width; x++, i++, k++) {
      if (counts[i] === 0) continue;
      countSums[k]! += sign;
      firstSums[k]! += sign * first[i]!;
      secondSums[k]! += sign * second[i]!;
      thirdSums[k]! += sign * third[i]!;
    }
  };
  for (let y = 0; y < Math.min(radius, height); y++) takeRow(y, 1);
  for (let y = 0, i = 0; y < height; y++) {
    if (y + radius < height) takeRow(y + radius, 1);
    if (y > radius) takeRow(y - radius - 1, -1);
    const rows = Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1;
    let count = 0;
    let one = 0;
    let two = 0;
    let three = 0;
    for (let k = 0; k < 2 * radius; k++) {
      count += countSums[k]!;
      one += firstSums[k]!;
      two += secondSums[k]!;
      three += thirdSums[k]!;
    }
    for (let x = 0; x < width; x++, i++) {
      const right = x + 2 * radius;
      count += countSums[right]!;
      one += firstSums[right]!;
      two += secondSums[right]!;
      three += thirdSums[right]!;
      const across = Math.min(width - 1, x + radius) - Math.max(0, x - radius) + 1;
      if (count > least * rows * across) {
        out[0][i] = one / count;
        out[1][i] = two / count;
        out[2][i] = three / count;
      }
      count -= countSums[x]!;
      one -= firstSums[x]!;
      two -= secondSums[x]!;
      three -= thirdSums[x]!;
    }
  }
}
