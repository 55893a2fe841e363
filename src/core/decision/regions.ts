import { dotsIn } from './area';

/** A region of a plane: a run of places in `Regions.places`. */
export interface Region {
  readonly index: number;
  readonly from: number;
  readonly to: number;
  readonly pixels: number;
}

export interface Regions {
  readonly list: readonly Region[];
  /** The region's index of every pixel; -1 where there is none. */
  readonly of: Int32Array;
  /** The pixels of all regions, one region after another. */
  readonly places: Int32Array;
  readonly ends: Uint8Array;
}

/** Marks of pixels that belong to no region, and to none yet. */
const NONE = -1;
const OPEN = -2;

/** Bits of pixels at the ends of a row. To divide every place by the width would take most of a walk's time. */
export const FIRST = 1;
export const LAST = 2;

export function rowEnds(width: number, height: number): Uint8Array {
  const ends = new Uint8Array(width * height);
  for (let i = 0; i < ends.length; i += width) {
    ends[i]! |= FIRST;
    ends[i + width - 1]! |= LAST;
  }
  return ends;
}

/** What hangs together by edges among the pixels that are `inside`. */
export function regionsOf(width: number, height: number, inside: (i: number) => boolean): Regions {
  const pixels = width * height;
  const of = new Int32Array(pixels);
  for (let i = 0; i < pixels; i++) of[i] = inside(i) ? OPEN : NONE;
  const ends = rowEnds(width, height);
  const places = new Int32Array(pixels);
  const list: Region[] = [];
  let end = 0;
  for (let start = 0; start < pixels; start++) {
    if (of[start] !== OPEN) continue;
    const from = end;
    const index = list.length;
    of[start] = index;
    places[end++] = start;
    for (let k = from; k < end; k++) {
      const i = places[k]!;
      const at = ends[i]!;
      if ((at & FIRST) === 0 && of[i - 1] === OPEN) {
        of[i - 1] = index;
        places[end++] = i - 1;
      }
      if ((at & LAST) === 0 && of[i + 1] === OPEN) {
        of[i + 1] = index;
        places[end++] = i + 1;
      }
      if (i >= width && of[i - width] === OPEN) {
        of[i - width] = index;
        places[end++] = i - width;
      }
      if (i < pixels - width && of[i + width] === OPEN) {
        of[i + width] = index;
        places[end++] = i + width;
      }
    }
    list.push({ index, from, to: end, pixels: end - from });
  }
  return { list, of, places, ends };
}

/** Calls back for every neighbor by an edge of a region's pixels that does not belong to it. */
export function forEachOutside(
  regions: Regions,
  { index, from, to }: Region,
  width: number,
  tell: (i: number) => void,
): void {
  const { of, places, ends } = regions;
  for (let k = from; k < to; k++) {
    const i = places[k]!;
    const at = ends[i]!;
    if ((at & FIRST) === 0 && of[i - 1] !== index) tell(i - 1);
    if ((at & LAST) === 0 && of[i + 1] !== index) tell(i + 1);
    if (i >= width && of[i - width] !== index) tell(i - width);
    if (i < of.length - width && of[i + width] !== index) tell(i + width);
  }
}

/** Upper left and lower right pixel of a region. */
export function boxOf(
  places: Int32Array,
  { from, to }: Region,
  width: number,
): [number, number, number, number] {
  let left = Infinity;
  let top = Infinity;
  let right = 0;
  let bottom = 0;
  for (let k = from; k < to; k++) {
    const x = places[k]! % width;
    const y = (places[k]! - x) / width;
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return [left, top, right, bottom];
}

/** Where a region lies: a pixel deep inside, its box, and some of its pixels. */
export function placeOf({ of, places }: Regions, region: Region, depths: Uint8Array, width: number) {
  let deep = places[region.from]!;
  for (let k = region.from; k < region.to; k++) if (depths[places[k]!]! > depths[deep]!) deep = places[k]!;
  const x = deep % width;
  const box = boxOf(places, region, width);
  const dots = dotsIn(
    box,
    region.pixels,
    Math.max(width, of.length / width),
    (u, v) => of[v * width + u] === region.index,
  );
  return { x, y: (deep - x) / width, box, dots };
}
