import { lengthOf } from '../numeric/exact';

/** Colors nearer than this to a frequent one belong to it. */
const ALIKE_ENCODED = 30;

/** A histogram has bins of two to the power of BIN_BITS on a side; only the most frequent are gathered. */
const BIN_BITS = 4;
const BINS_A_SIDE = 256 >> BIN_BITS;
const MOST_BINS = 400;

/** A color and how often it was found, as a number and as a share of all. */
export interface ColorCluster {
  readonly color: Float64Array;
  readonly share: number;
  readonly count: number;
}

/** Counts colors, three channels from 0 to 255, in a histogram. */
export class ColorCounts {
  count = 0;
  private readonly bins = new Map<number, { readonly sum: Float64Array; count: number }>();

  add(red: number, green: number, blue: number): void {
    const key = ((red >> BIN_BITS) * BINS_A_SIDE + (green >> BIN_BITS)) * BINS_A_SIDE + (blue >> BIN_BITS);
    let bin = this.bins.get(key);
    if (!bin) this.bins.set(key, (bin = { sum: new Float64Array(3), count: 0 }));
    bin.sum[0]! += red;
    bin.sum[1]! += green;
    bin.sum[2]! += blue;
    bin.count++;
    this.count++;
  }

  /** Frequent colors with what lies near them, the most frequent first. */
  clusters(): ColorCluster[] {
    const frequent = [...this.bins.values()]
      .sort((one, other) => other.count - one.count)
      .slice(0, MOST_BINS);
    const found: { color: Float64Array; count: number }[] = [];
    for (const { sum, count } of frequent) {
      const color = sum.map((value) => value / count);
      const near = found.find(
        (one) =>
          lengthOf(one.color[0]! - color[0]!, one.color[1]! - color[1]!, one.color[2]! - color[2]!) <
          ALIKE_ENCODED,
      );
      if (!near) {
        found.push({ color, count });
        continue;
      }
      const all = near.count + count;
      near.color = near.color.map((value, c) => (value * near.count + sum[c]!) / all);
      near.count = all;
    }
    return found
      .sort((one, other) => other.count - one.count)
      .map(({ color, count }) => ({ color, share: count / this.count, count }));
  }
}
