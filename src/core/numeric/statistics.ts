import { square } from './exact';

/** The middle value; of an even number of values the upper one. NaN for none. The input is not changed. */
export function median(values: readonly number[]): number {
  return quantile(values, 0.5);
}

/** The value below which a share (0 to 1) of the values lies. NaN for none. The input is not changed. */
export function quantile(values: readonly number[], share: number): number {
  if (values.length === 0) return NaN;
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!;
}

/** Root mean square of how far the values lie from their mean. 0 for none. */
export function deviation(values: readonly number[]): number {
  if (values.length === 0) return 0;
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + square(value - mean), 0) / values.length);
}
