import type { Plane } from '../raster/plane';
import type { Rect } from '../raster/raster';
import { foursOf } from './plane';
import { runToEnd, type Steps } from './steps';

/** Parts of a plane that hang together, as runs of their rows. */
export interface Parts {
  /** Pixels of each part. */
  readonly areas: readonly number[];
  /** The largest value in each part. */
  readonly peaks: readonly number[];
  /** Calls back for each run: the index of its part, its first pixel, its length. In the order of rows. */
  forEachRun(tell: (part: number, start: number, length: number) => void): void;
  /** The parts that have pixels in a rectangle of the plane. */
  within(rect: Rect): Set<number>;
}

/** Four values of 255. */
const ALL_FULL = -1;

/** What `labelSteps` gives, at once. */
export function labelRuns(plane: Plane, least: number): Parts {
  return runToEnd(labelSteps(plane, least, 'labelling'));
}

/** Rows between two pauses. */
const ROWS_PER_STEP = 512;

/**
 * Labels what hangs together by 8 neighbors among the values of at least `least` (1 to 255), run by run with a union-find
 * (after He, Chao and Suzuki, 2008). Rows from the top. Where four values are 0, or 255, they are passed over at once.
 */
export function* labelSteps(
  { data: plane, width, height }: Plane,
  least: number,
  doing: string,
): Steps<Parts> {
  const fours = foursOf(plane);
  const starts: number[] = [];
  const lengths: number[] = [];
  const parents: number[] = [];
  const tops: number[] = [];
  const find = (run: number): number => {
    let root = run;
    while (parents[root] !== root) root = parents[root]!;
    while (parents[run] !== root) {
      const next = parents[run]!;
      parents[run] = root;
      run = next;
    }
    return root;
  };
  const firstRuns = new Int32Array(height + 1);
  let above = 0;
  let here = 0;
  for (let y = 0; y < height; y++) {
    if (y % ROWS_PER_STEP === ROWS_PER_STEP - 1) yield { doing, done: y, total: height };
    const first = starts.length;
    let candidate = above;
    const end = (y + 1) * width;
    for (let i = y * width; i < end; i++) {
      if (plane[i]! < least) {
        if (i % 4 === 3) while (i + 4 < end && fours[(i + 1) >> 2] === 0) i += 4;
        continue;
      }
      const start = i;
      let top = 0;
      while (i < end && plane[i]! >= least) {
        if (plane[i]! > top) top = plane[i]!;
        i++;
        if (top === 255 && i % 4 === 0) while (i + 4 <= end && fours[i >> 2] === ALL_FULL) i += 4;
      }
      const run = starts.length;
      starts.push(start);
      lengths.push(i - start);
      parents.push(run);
      tops.push(top);
      // Runs of the row above that touch, corners included.
      const from = start - width - 1;
      const to = i - width;
      while (candidate < here && starts[candidate]! + lengths[candidate]! <= from) candidate++;
      for (let k = candidate; k < here && starts[k]! <= to; k++) {
        const a = find(k);
        const b = find(run);
        if (a < b) parents[b] = a;
        else parents[a] = b;
      }
    }
    above = first;
    here = starts.length;
    firstRuns[y + 1] = here;
  }
  const index = new Int32Array(starts.length).fill(-1);
  const areas: number[] = [];
  const peaks: number[] = [];
  const partOf = Int32Array.from(starts, (_, run) => {
    const root = find(run);
    if (index[root]! < 0) {
      index[root] = areas.length;
      areas.push(0);
      peaks.push(0);
    }
    const part = index[root]!;
    areas[part]! += lengths[run]!;
    peaks[part] = Math.max(peaks[part]!, tops[run]!);
    return part;
  });
  return {
    areas,
    peaks,
    forEachRun(tell) {
      for (let run = 0; run < starts.length; run++) tell(partOf[run]!, starts[run]!, lengths[run]!);
    },
    within(rect) {
      const found = new Set<number>();
      for (let y = rect.y; y < rect.y + rect.height; y++) {
        const from = y * width + rect.x;
        for (let run = firstRuns[y]!; run < firstRuns[y + 1]!; run++)
          if (starts[run]! < from + rect.width && starts[run]! + lengths[run]! > from)
            found.add(partOf[run]!);
      }
      return found;
    },
  };
}
