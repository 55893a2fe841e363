import { lengthOf, square } from '../../numeric/exact';
import { BLOCK_PX, Blocks } from './blocks';
import type { EdgeInput } from './mixture';

/** Backgrounds with more spread than this, encoded, may have traces of the subject in them. */
const TRIMMED_ENCODED = 6;

/** What lies farther from their mean than so many spreads is then left out. */
const TRIM_SPREADS = 1.5;

/**
 * The spread of the certain pixels of either side: the root mean square of how far they lie from their mean, over all
 * channels, in 3 x 3 blocks around a place. Computed where it is asked for; blocks lie fast in the raster, so that the
 * result does not depend on how it is parted.
 */
export class Spread {
  private readonly grid: Blocks;
  private readonly known: readonly Float32Array[];
  /** Mean background as a share of the backdrop where it is modelled; negative where none is certain. */
  private readonly means: Float32Array;
  private readonly sums = new Float64Array(10);

  constructor(
    private readonly input: EdgeInput,
    private readonly band: Uint8Array,
  ) {
    const { around } = input;
    this.grid = new Blocks(around);
    this.known = [new Float32Array(this.grid.count).fill(-1), new Float32Array(this.grid.count).fill(-1)];
    this.means = new Float32Array(3 * this.grid.count).fill(-1);
  }

  /** At pixel `i` of the surroundings, of the subject (side 0) or the background (side 1). */
  at(i: number, side: 0 | 1): number {
    const { width } = this.input.around;
    return this.known[side]![this.block(i % width, Math.floor(i / width), side)]!;
  }

  /** The mean color of the certain background around a place of the surroundings. False where there is none. */
  background(x: number, y: number, out: Float64Array): boolean {
    const mean = 3 * this.block(x, y, 1);
    const { means } = this;
    if (means[mean]! < 0) return false;
    const { backdrop, around } = this.input;
    const base = backdrop ? backdrop.at(y * around.width + x) : -1;
    for (let c = 0; c < 3; c++)
      out[c] = Math.min(255, means[mean + c]! * (base < 0 ? 1 : unitOf(backdrop!.colors[base + c]!)));
    return true;
  }

  /** The block of a place, measured. */
  private block(x: number, y: number, side: 0 | 1): number {
    const block = this.grid.at(x, y);
    const known = this.known[side]!;
    if (known[block]! < 0) known[block] = this.measure(block, side);
    return block;
  }

  private measure(block: number, side: 0 | 1): number {
    const { sums } = this;
    this.gather(block, side, Infinity);
    if (side === 1 && spreadOf(sums) > TRIMMED_ENCODED)
      this.gather(block, side, TRIM_SPREADS * spreadOf(sums));
    const count = sums[9]!;
    if (count === 0) return 0;
    if (side === 1) this.means.set([sums[0]! / count, sums[1]! / count, sums[2]! / count], 3 * block);
    return spreadOf(sums);
  }

  /**
   * Sums up the certain pixels of one side around a block: values, squares and units of three channels, and a count. Only
   * what lies within `most`, encoded, of the mean of the sums before.
   */
  private gather(block: number, side: 0 | 1, most: number): void {
    const { raster, around, cleared, backdrop } = this.input;
    const left = this.grid.left(block) - BLOCK_PX;
    const top = this.grid.top(block) - BLOCK_PX;
    const { data } = raster;
    const { sums } = this;
    const trims = most !== Infinity;
    const beforeRed = sums[0]! / sums[9]!;
    const beforeGreen = sums[1]! / sums[9]!;
    const beforeBlue = sums[2]! / sums[9]!;
    const model = side === 1 ? backdrop : null;
    const { band } = this;
    let count = 0;
    let red = 0;
    let green = 0;
    let blue = 0;
    let redSquares = 0;
    let greenSquares = 0;
    let blueSquares = 0;
    let redUnits = 0;
    let greenUnits = 0;
    let blueUnits = 0;
    const right = Math.min(around.width, left + 3 * BLOCK_PX);
    for (let y = Math.max(0, top); y < Math.min(around.height, top + 3 * BLOCK_PX); y++) {
      for (let x = Math.max(0, left), j = y * around.width + x; x < right; x++, j++) {
        if (cleared[j] !== side || band[j] !== 0) continue;
        const p = ((around.y + y) * raster.width + around.x + x) * 4;
        let unitRed = 1;
        let unitGreen = 1;
        let unitBlue = 1;
        if (model) {
          const base = model.at(j);
          unitRed = unitOf(model.colors[base]!);
          unitGreen = unitOf(model.colors[base + 1]!);
          unitBlue = unitOf(model.colors[base + 2]!);
        }
        const r = data[p]! / unitRed;
        const g = data[p + 1]! / unitGreen;
        const b = data[p + 2]! / unitBlue;
        if (
          trims &&
          lengthOf((r - beforeRed) * unitRed, (g - beforeGreen) * unitGreen, (b - beforeBlue) * unitBlue) >
            most
        )
          continue;
        red += r;
        green += g;
        blue += b;
        redSquares += r * r;
        greenSquares += g * g;
        blueSquares += b * b;
        redUnits += unitRed;
        greenUnits += unitGreen;
        blueUnits += unitBlue;
        count++;
      }
    }
    sums.set([
      red,
      green,
      blue,
      redSquares,
      greenSquares,
      blueSquares,
      redUnits,
      greenUnits,
      blueUnits,
      count,
    ]);
  }
}

/** The root mean square of how far what was summed up lies from its mean, over all channels, encoded. */
function spreadOf(sums: Float64Array): number {
  const count = sums[9]!;
  if (count === 0) return 0;
  return Math.sqrt(
    variance(sums[0]!, sums[3]!, sums[6]!, count) +
      variance(sums[1]!, sums[4]!, sums[7]!, count) +
      variance(sums[2]!, sums[5]!, sums[8]!, count),
  );
}

/** Variance of values from their sum and sum of squares, in the square of their mean unit. */
function variance(sum: number, squares: number, units: number, count: number): number {
  return Math.max(0, squares / count - square(sum / count)) * square(units / count);
}

/**
 * What a channel of the background is measured in where its backdrop is modelled, so that a color found at one place can be
 * carried to another, also in a shadow.
 */
export function unitOf(backdrop: number): number {
  return Math.max(8, backdrop);
}
