import { square } from './exact';

/** The middle value; of an even number of values the upper one. NaN for none. The input is not changed. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** The value below which a share (0 to 1) of the values lies. NaN for none. The input, of numbers, is not changed. */
export function quantile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) return NaN;
  return selected(new Float64Array(values), Math.min(values.length - 1, Math.floor(share * values.length)));
}

/** The value that would lie at `at` if the values were sorted (selection by partition: Hoare, 1961); they are moved. */
function selected(values: Float64Array, at: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const middle = values[at]!;
    let left = low;
    let right = high;
    while (left <= right) {
      while (values[left]! < middle) left++;
      while (values[right]! > middle) right--;
      if (left > right) break;
      const moved = values[left]!;
      values[left++] = values[right]!;
      values[right--] = moved;
    }
    if (right < at) low = left;
    if (left > at) high = right;
  }
  return values[at]!;
}

/** Root mean square of how far the values lie from their mean. 0 for none. */
export function deviation(values: readonly number[]): number {
  if (values.length === 0) return 0;
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + square(value - mean), 0) / values.length);
}
