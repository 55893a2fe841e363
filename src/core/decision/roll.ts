import { bytesBy } from '../numeric/plane';
import { FIRST, forEachOutside, LAST, regionsOf, rowEnds } from './regions';
import { isOpen, NEVER, type Sight } from './sight';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** A piece that touches the background along this share of its rim, with no border between, belongs to it. */
const OPEN_RIM_SHARE = 0.15;

/** Pieces larger than this share of the picture are no pieces. */
const MOST_PIECE_SHARE = 0.02;

/** How far from the frame's outermost pixels the backdrop may begin, and with which clearance at most, as a share of `reach`. */
const RIM_PX = 2;
const RIM_CLEARANCE = 0.6;

/**
 * Marks with 1 what can be reached from the frame and from `seeds` where borders leave room: as if discs rolled over the
 * picture, small ones over what looks like the backdrop, large ones over what could be its shade, so that no shade leaks
 * into a subject through a gap of its outline (an opening by a disc whose size depends on the place; Serra, 1982).
 */
export function roll(sight: Sight, seeds: readonly number[]): Uint8Array {
  const { planes, borders, clearance, frame, reach } = sight;
  const { width, height } = planes;
  const pixels = width * height;
  const goes = new Uint8Array(pixels);
  const open = bytesBy(pixels, (i) => (isOpen(sight, i) ? 1 : 0));
  const queue = new Int32Array(pixels);
  let end = 0;
  const take = (i: number) => {
    if (open[i] === 0) return;
    open[i] = 0;
    goes[i] = 1;
    queue[end++] = i;
  };
  for (const i of frame) {
    const x = i % width;
    const y = (i - x) / width;
    const rim = x < RIM_PX || y < RIM_PX || x >= width - RIM_PX || y >= height - RIM_PX;
    if (rim && clearance[i]! < RIM_CLEARANCE * reach) take(i);
  }
  if (planes.blank) for (let i = 0; i < pixels; i++) if (planes.blank[i] === 1) take(i);
  for (const i of seeds) {
    if (goes[i] === 1) continue;
    open[i] = 0;
    goes[i] = 1;
    queue[end++] = i;
  }
  const ends = rowEnds(width, height);
  for (let k = 0; k < end; k++) {
    const i = queue[k]!;
    const at = ends[i]!;
    if ((at & FIRST) === 0) take(i - 1);
    if ((at & LAST) === 0) take(i + 1);
    if (i >= width) take(i - width);
    if (i < pixels - width) take(i + width);
  }
  // From where the middles of discs may lie to all that discs cover.
  const left = new Float32Array(pixels);
  for (let k = 0; k < end; k++) {
    const i = queue[k]!;
    const own = clearance[i]! < reach ? clearance[i]! : reach;
    left[i] = own > 1 ? own : 1;
  }
  const covered = bytesBy(pixels, (i) =>
    goes[i] === 0 && borders[i] === 0 && clearance[i]! < NEVER ? 1 : 0,
  );
  const spread = (j: number, rest: number) => {
    if (covered[j] === 0) return;
    covered[j] = 0;
    goes[j] = 1;
    left[j] = rest;
    queue[end++] = j;
  };
  for (let k = 0; k < end; k++) {
    const i = queue[k]!;
    const rest = left[i]! - 1;
    if (rest < 0) continue;
    const at = ends[i]!;
    if ((at & FIRST) === 0) spread(i - 1, rest);
    if ((at & LAST) === 0) spread(i + 1, rest);
    if (i >= width) spread(i - width, rest);
    if (i < pixels - width) spread(i + width, rest);
  }
  return goes;
}

/** Adds pieces of backdrop and shade that touch what goes along an open rim. */
export function takeOpenPieces({ planes, borders, clearance }: Sight, goes: Uint8Array): void {
  const { width, height } = planes;
  for (let pass = 0; pass < 3; pass++) {
    const regions = regionsOf(
      width,
      height,
      (i) => goes[i] === 0 && borders[i] === 0 && clearance[i]! < NEVER,
    );
    let any = false;
    for (const region of regions.list) {
      if (region.pixels > MOST_PIECE_SHARE * goes.length) continue;
      let open = 0;
      let rim = 0;
      forEachOutside(regions, region, width, (i) => {
        rim++;
        if (goes[i] === 1) open++;
      });
      if (open <= OPEN_RIM_SHARE * rim) continue;
      for (let k = region.from; k < region.to; k++) goes[regions.places[k]!] = 1;
      any = true;
    }
    if (!any) return;
  }
}

/**
 * A pixel of a border within so many units of noise of the background beside it belongs to it; so far is looked. Both are more in
 * drawings, whose borders are told surely and ring when they are compressed.
 */
const BESIDE = { drawn: { noise: 4, px: 3 }, photographed: { noise: 3, px: 2 } } as const;

/** Adds the outer halves of borders: pixels that look like the background beside them. */
export function takeBorders({ planes, noise, clean }: Sight, goes: Uint8Array): void {
  const { width, channels } = planes;
  const most = BESIDE[clean ? 'drawn' : 'photographed'];
  const ends = rowEnds(width, planes.height);
  const beside = (i: number): number => {
    const at = ends[i]!;
    if ((at & FIRST) === 0 && goes[i - 1] === 1) return i - 1;
    if ((at & LAST) === 0 && goes[i + 1] === 1) return i + 1;
    if (i >= width && goes[i - width] === 1) return i - width;
    return i < goes.length - width && goes[i + width] === 1 ? i + width : -1;
  };
  for (let pass = 0; pass < most.px; pass++) {
    const found: number[] = [];
    for (let i = 0; i < goes.length; i++) {
      if (goes[i] === 1) continue;
      const j = beside(i);
      if (j < 0) continue;
      let off = 0;
      for (let c = 0; c < 3; c++) {
        const far = (channels[c]![i]! - channels[c]![j]!) / noise[c]!;
        off += far * far;
      }
      if (off < most.noise * most.noise) found.push(i);
    }
    for (const i of found) goes[i] = 1;
  }
}

/** Leftovers up to this share of the picture, of steps up to so many times a border's, are grain. */
const MOST_GRAIN_SHARE = 0.0008;
const GRAIN_STEP_TIMES = 2.2;
const MOST_OTHER_SHARE = 0.3;

/** Adds what is left within the background of grain that looked like a border. */
export function takeGrain({ planes, steps, strength, clearance }: Sight, goes: Uint8Array): void {
  const { width, height } = planes;
  const regions = regionsOf(width, height, (i) => goes[i] === 0);
  for (const { from, to, pixels } of regions.list) {
    if (pixels > MOST_GRAIN_SHARE * goes.length) continue;
    let most = 0;
    let other = 0;
    for (let k = from; k < to; k++) {
      const i = regions.places[k]!;
      if (steps[i]! > most) most = steps[i]!;
      if (clearance[i]! >= NEVER) other++;
    }
    if (most < GRAIN_STEP_TIMES * strength && other < MOST_OTHER_SHARE * pixels)
      for (let k = from; k < to; k++) goes[regions.places[k]!] = 1;
  }
}
