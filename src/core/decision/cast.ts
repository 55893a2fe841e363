import { CHAMFER_UNIT, distancesTo } from '../numeric/chamfer-distance';
import { lengthOf } from '../numeric/exact';
import { dilateGray } from '../numeric/morphology';
import { bytesBy, floatsBy } from '../numeric/plane';
import { median, quantile } from '../numeric/statistics';
import type { Progress, Steps } from '../numeric/steps';
import { regionsOf, type Region, type Regions } from './regions';
import { NEVER, SHADED_SHARE, type Sight } from './sight';

// What the figures of this file rest on: docs/decisions/024-shadows-by-their-shape.md

/** Less of the picture that may be a shadow is not looked at, and no shadow is smaller. */
const LEAST_SHARE = 0.0015;

/** Sides of the squares in which shapes are compared, at first and finally, in shares of the longer side. */
const CELL_SHARES = [1 / 75, 1 / 150] as const;

/** A shadow lies no farther than this from what casts it, as a share of the longer side. */
const FAR_SHARE = 0.14;

/** How shadows that lie on a floor lean and are foreshortened, for each row above the foot of what casts them. */
const LEANS = Array.from({ length: 15 }, (_, k) => 0.2 * (k - 7));
const FLATTENED = [0.25, 0.35, 0.45, 0.55, 0.65, 0.75, 0.85];

/** A shape that is cast falls on what is dark by at least this share, and on lit backdrop by no more than the other. */
const LEAST_DARK_SHARE = 0.5;
const MOST_LIT_SHARE = 0.2;
const LIT_COUNTS_TIMES = 1.5;
const LEAST_CELLS = 30;

/** Of a dark region so much lies within a shape that is cast, or it is something else. */
const WITHIN_SHARE = 0.8;

/** Regions whose share of the backdrop's light differs by less than this may lie in one shadow. */
const ALIKE_SHARE = 0.07;

/** What casts shadows is at least so many times as large. */
const LEAST_BODY_TIMES = 0.8;

/** Shadows are no larger than this many times what casts them; and none is so much lighter than the largest, but on colors. */
const MOST_SHADED_TIMES = 0.9;
const LIGHTER_SHARE = 0.25;

/**
 * How much light changes over SLOPE_PX to both sides in the middle of a region, and between the darker and the lighter tenth of
 * it, as shares of the backdrop's; and how much of all that is dark shadows explain, or none is one. In photos round pale
 * things have slopes, and a shadow with a sharp border has none; what is drawn is flat, so its shadows may be soft.
 */
const SLOPE_PX = 3;
const LIMITS = {
  photographed: { slope: 0.0045, spread: 0.06, explained: 0.9 },
  drawn: { slope: 0.03, spread: 1, explained: 0.55 },
} as const;
type Limits = (typeof LIMITS)[keyof typeof LIMITS];

/** How many shadows are looked for, and in how many regions their light is. */
const MOST_SHADOWS = 3;
const MOST_LIGHTS = 3;

/** A shadow lies no farther than this from where the backdrop is lit, in pixels: a border is between. */
const OPEN_PX = 4;

/** Penumbrae reach so far beyond a shape, in cells; borders this near to what is no shadow stay, and those this far from one, in pixels. */
const PENUMBRA_CELLS = 2;
const KEPT_BORDER_PX = 3;
const RIM_PX = 8;

/** What is told meanwhile: the second part of looking at a picture. */
const LOOKING: Progress = { doing: 'looking', done: 2, total: 4 };

/** Where a shape is cast: shifted by `x`, `y`, and by `lean` and `rise` for each row above its foot; in cells. */
interface Cast {
  readonly x: number;
  readonly y: number;
  readonly lean: number;
  readonly rise: number;
}

/** What lies in a cell: the body, what may be its shadow, what is known to lie in the shade, lit backdrop, or anything else. */
const OTHER = 0;
const BODY = 1;
const DARK = 2;
const SHADE = 3;
const LIT = 4;
const KINDS = 5;

/** Kinds of cells, the places of the body's in their order, its lowest row, and how many are dark. */
interface Cells {
  readonly width: number;
  readonly height: number;
  readonly kinds: Uint8Array;
  readonly body: Int32Array;
  readonly foot: number;
  readonly darks: number;
}

/**
 * Marks with 1 the shadows that the subject casts on its backdrop, sharp borders and all; null where none is seen. A shadow keeps
 * the backdrop's hue, but so may gray paint: what tells them apart is shape. A shadow repeats the outline of what casts it,
 * shifted (on a wall) or leaning and foreshortened (on a floor): the transform that lays the body's silhouette best on what
 * is dark, and least on what is lit, is searched in a coarse raster and refined by coordinate descent.
 */
export function* castShadows(sight: Sight, goes: Uint8Array): Steps<Uint8Array | null> {
  const { planes, borders, clearance, calm, backdrop } = sight;
  const { width, height } = planes;
  const limits = LIMITS[sight.clean ? 'drawn' : 'photographed'];
  const light = floatsBy(goes.length, (i) => calm[0][i]! / Math.max(8, backdrop[0][i]!));
  const isShade = (i: number) => clearance[i]! < NEVER && light[i]! < SHADED_SHARE;
  const dark = openOnly(sight, goes, isShade);
  if (countOf(dark) < LEAST_SHARE * goes.length) return null;
  const regions = regionsOf(width, height, (i) => dark[i] === 1 && borders[i] === 0);
  const lights = regions.list
    .filter(({ pixels }) => pixels >= LEAST_SHARE * goes.length)
    .sort((one, other) => other.pixels - one.pixels)
    .slice(0, MOST_LIGHTS)
    .map(({ from, to, pixels }) => {
      let sum = 0;
      for (let k = from; k < to; k++) sum += light[regions.places[k]!]!;
      return sum / pixels;
    });
  const mask = new Uint8Array(goes.length);
  const ways: Way[] = [];
  for (let round = 0; round < MOST_SHADOWS; round++) {
    let best: Found | null = null;
    for (const own of [null, ...lights]) {
      yield LOOKING;
      const cast = searched(width, height, (i) => {
        if (goes[i] === 1 || mask[i] === 1) return goes[i] === 0 || light[i]! < SHADED_SHARE ? SHADE : LIT;
        const mayBeLit = clearance[i]! < NEVER;
        if (dark[i] === 0) return mayBeLit && borders[i] === 0 ? OTHER : BODY;
        return own === null || Math.abs(light[i]! - own) < ALIKE_SHARE
          ? DARK
          : borders[i] === 0
            ? BODY
            : OTHER;
      });
      if (cast && ways.every((way) => !isAgainst(way, cast.way)) && cast.gain > (best?.gain ?? 0))
        best = cast;
    }
    if (!best) break;
    ways.push(best.way);
    for (let i = 0; i < mask.length; i++) if (best.mask[i] === 1) mask[i] = 1;
  }
  let explained = 0;
  for (let i = 0; i < mask.length; i++) explained += mask[i]! & dark[i]!;
  return explained >= limits.explained * countOf(dark)
    ? shadowsWithin(sight, goes, { light, dark, mask }, regions, limits)
    : null;
}

/** Marks what is shade, stays, and comes near to what goes. */
function openOnly(
  { planes: { width, height } }: Sight,
  goes: Uint8Array,
  isShade: (i: number) => boolean,
): Uint8Array {
  const toOutside = distancesTo(width, height, (i) => goes[i] === 1);
  const { list, places } = regionsOf(width, height, (i) => goes[i] === 0 && isShade(i));
  const open = new Uint8Array(goes.length);
  for (const { from, to } of list) {
    const own = places.subarray(from, to);
    if (own.some((i) => toOutside[i]! <= CHAMFER_UNIT * OPEN_PX)) for (const i of own) open[i] = 1;
  }
  return open;
}

function countOf(marks: Uint8Array, value = 1): number {
  let count = 0;
  for (const mark of marks) if (mark === value) count++;
  return count;
}

/** The share of the backdrop's light at each pixel; 1 on what is dark, and 1 where shapes are cast. */
interface Shade {
  readonly light: Float32Array;
  readonly dark: Uint8Array;
  readonly mask: Uint8Array;
}

/** The regions that lie within shapes that are cast, and their rims; null where there are none. */
function shadowsWithin(
  sight: Sight,
  goes: Uint8Array,
  { light, dark, mask }: Shade,
  { list, of, places }: Regions,
  most: Limits,
): Uint8Array | null {
  const { planes, clearance, colored } = sight;
  const { width, height } = planes;
  const lights = list.map((region) => {
    let within = 0;
    for (let k = region.from; k < region.to; k++) within += mask[places[k]!]!;
    if (within < WITHIN_SHARE * region.pixels) return null;
    const { slope, spread, middle } = lightWithin(light, of, places, region);
    return slope <= most.slope && spread <= most.spread ? middle : null;
  });
  const largest = list.reduce<Region | null>(
    (best, one) => (lights[one.index] !== null && one.pixels > (best?.pixels ?? 0) ? one : best),
    null,
  );
  if (!largest || largest.pixels < LEAST_SHARE * goes.length) return null;
  const lightest = colored ? 1 : lights[largest.index]! + LIGHTER_SHARE;
  const isOwn = lights.map((middle) => middle !== null && middle <= lightest);
  const shaded = list.reduce((sum, { index, pixels }) => sum + (isOwn[index] ? pixels : 0), 0);
  if (shaded > MOST_SHADED_TIMES * (goes.length - countOf(goes) - countOf(dark))) return null;
  const toOwn = distancesTo(width, height, (i) => of[i]! >= 0 && isOwn[of[i]!]!);
  const isRim = (i: number) => of[i]! < 0 && mayBeRim(sight, light[i]!, i);
  const isLit = (i: number) => clearance[i]! < NEVER && dark[i] === 0;
  const others = floatsBy(goes.length, (i) =>
    goes[i] === 1 || isRim(i) || (of[i]! >= 0 && isOwn[of[i]!]) || isLit(i) ? 0 : 1,
  );
  const { data: near } = dilateGray({ data: others, width, height }, KEPT_BORDER_PX);
  return bytesBy(goes.length, (i) => {
    if (goes[i] === 1) return 0;
    if (of[i]! >= 0) return isOwn[of[i]!] ? 1 : 0;
    return isRim(i) && mask[i] === 1 && near[i] === 0 && toOwn[i]! <= CHAMFER_UNIT * RIM_PX ? 1 : 0;
  });
}

/** The light in a region, its slope and its spread; see LIMITS. */
function lightWithin(light: Float32Array, of: Int32Array, places: Int32Array, { index, from, to }: Region) {
  const slopes: number[] = [];
  for (let k = from; k < to; k++) {
    const i = places[k]!;
    if (of[i - SLOPE_PX] === index && of[i + SLOPE_PX] === index)
      slopes.push(Math.abs(light[i + SLOPE_PX]! - light[i - SLOPE_PX]!));
  }
  const lights = floatsBy(to - from, (k) => light[places[from + k]!]!);
  return {
    middle: median(lights),
    slope: slopes.length > 0 ? median(slopes) : 0,
    spread: quantile(lights, 0.9) - quantile(lights, 0.1),
  };
}

/** Compression rings at a shadow's rim, and spreads color into it: the light and color that it may have, in levels. */
const MOST_LIGHT_SHARE = 1.06;
const LEAST_LIGHT_SHARE = 0.25;
const MOST_COLOR_ENCODED = 8;

function mayBeRim({ calm, backdrop }: Sight, light: number, i: number): boolean {
  const blue = calm[1][i]! - light * backdrop[1][i]!;
  const red = calm[2][i]! - light * backdrop[2][i]!;
  return (
    light < MOST_LIGHT_SHARE &&
    light > LEAST_LIGHT_SHARE &&
    blue * blue + red * red < MOST_COLOR_ENCODED * MOST_COLOR_ENCODED
  );
}

/** Where a shape's middle is cast. */
type Way = readonly [x: number, y: number];

/** Light does not come from opposite sides: what seems to fall so is an outline. The cosine between both ways is no less. */
const LEAST_COSINE = -0.7;

function isAgainst([x, y]: Way, [u, v]: Way): boolean {
  return x * u + y * v < LEAST_COSINE * lengthOf(x, y) * lengthOf(u, v);
}

/** A mask of the pixels that a shape is cast on, by how many more of them are dark than lit, and which way it is cast. */
interface Found {
  readonly mask: Uint8Array;
  readonly gain: number;
  readonly way: Way;
}

/** The best place where the body's shape is cast, as a mask of the pixels, and by how much more is dark there than lit. */
function searched(width: number, height: number, kindOf: (i: number) => number): Found | null {
  const kinds = bytesBy(width * height, kindOf);
  const sides = CELL_SHARES.map((share) => Math.max(2, Math.round(share * Math.max(width, height))));
  const [coarse, fine] = sides.map((side) => cellsOf(kinds, width, height, side)) as [Cells, Cells];
  if (coarse.darks === 0 || coarse.body.length < LEAST_BODY_TIMES * coarse.darks) return null;
  const far = Math.ceil((FAR_SHARE * Math.max(width, height)) / sides[0]!);
  const starts: Cast[] = [];
  for (let y = -far; y <= far; y++) for (let x = -far; x <= far; x++) starts.push({ x, y, lean: 0, rise: 0 });
  for (const lean of LEANS) for (const rise of FLATTENED) starts.push({ x: 0, y: 0, lean, rise });
  const scorer = new Scorer(coarse);
  let first = starts[0]!;
  let most = 0;
  for (const start of starts) {
    const score = scorer.above(most, start);
    if (score) [first, most] = [start, score.gain];
  }
  if (most <= 0 || Math.max(Math.abs(first.x), Math.abs(first.y)) === far) return null;
  const times = sides[0]! / sides[1]!;
  const finer = new Scorer(fine);
  const cast = refined(finer, { ...first, x: first.x * times, y: first.y * times });
  const { dark, shade, lit, all, gain } = finer.above(-Infinity, cast)!;
  if (dark < LEAST_CELLS || dark + shade < LEAST_DARK_SHARE * all || lit > MOST_LIT_SHARE * all) return null;
  const data = floatsBy(fine.kinds.length, (cell) => (finer.stamps[cell] === finer.count ? 1 : 0));
  const shape = { data, width: fine.width, height: fine.height };
  const { data: wide } = dilateGray(shape, PENUMBRA_CELLS);
  const mask = bytesBy(width * height, (i) => {
    const x = Math.floor((i % width) / sides[1]!);
    const y = Math.floor(Math.floor(i / width) / sides[1]!);
    return wide[y * fine.width + x]!;
  });
  const middle = (fine.foot - Math.floor(fine.body[0]! / fine.width)) / 2;
  const way = [cast.x + middle * cast.lean, cast.y + middle * cast.rise] as const;
  return { mask, gain: gain * sides[1]! * sides[1]!, way };
}

/** Steps of each of a cast's numbers, tried from large to small. */
const STEPS: readonly Cast[] = [2, 1, 0.5].map((size) => ({
  x: size,
  y: size,
  lean: 0.08 * size,
  rise: 0.06 * size,
}));

/** Climbs to the best cast near one, one number at a time. */
function refined(scorer: Scorer, start: Cast): Cast {
  let best = start;
  let { gain } = scorer.above(-Infinity, start)!;
  for (const steps of STEPS)
    for (let again = true; again;) {
      again = false;
      for (const key of ['x', 'y', 'lean', 'rise'] as const)
        for (const sign of [1, -1]) {
          const tried = { ...best, [key]: best[key] + sign * steps[key] };
          const score = scorer.above(gain, tried);
          if (score) [best, gain, again] = [tried, score.gain, true];
        }
    }
  return best;
}

/** What a cast falls on, beside the body itself: cells that are dark, in the shade and lit, of all within the picture. */
interface Score {
  readonly dark: number;
  readonly shade: number;
  readonly lit: number;
  readonly all: number;
  readonly gain: number;
}

/** Scores a cast, and stamps with `mark` the cells that it falls on; null where its gain is no larger than `least`. */
function scored(
  { width, height, kinds, body, foot, darks }: Cells,
  { x, y, lean, rise }: Cast,
  least: number,
  stamps: Int32Array,
  mark: number,
): Score | null {
  // All that is dark may still come.
  const mostLit = (darks - least) / LIT_COUNTS_TIMES;
  let dark = 0;
  let shade = 0;
  let lit = 0;
  let all = 0;
  let end = 0;
  let up = 0;
  let row = 0;
  for (let k = 0; k < body.length; k++) {
    const at = body[k]!;
    if (at >= end) {
      const own = Math.floor(at / width);
      end = (own + 1) * width;
      up = foot - own;
      row = Math.round(own + y + rise * up);
    }
    const column = Math.round(at - end + width + x + lean * up);
    if (column < 0 || row < 0 || column >= width || row >= height) continue;
    const cell = row * width + column;
    if (stamps[cell] === mark) continue;
    const kind = kinds[cell];
    if (kind === BODY) continue;
    stamps[cell] = mark;
    all++;
    if (kind === DARK) dark++;
    else if (kind === SHADE) shade++;
    else if (kind === LIT && ++lit >= mostLit) return null;
  }
  const gain = dark - LIT_COUNTS_TIMES * lit;
  return gain > least ? { dark, shade, lit, all, gain } : null;
}

/** Scores one cast after another; what the last one fell on is stamped with how many there were. */
class Scorer {
  readonly stamps: Int32Array;
  count = 0;

  constructor(readonly cells: Cells) {
    this.stamps = new Int32Array(cells.kinds.length);
  }

  /** The score of a cast; null where its gain is no larger than `least`. */
  above(least: number, cast: Cast): Score | null {
    return scored(this.cells, cast, least, this.stamps, ++this.count);
  }
}

/** Cells of a side, in pixels, by what most of each is. */
function cellsOf(pixels: Uint8Array, wide: number, high: number, side: number): Cells {
  const width = Math.ceil(wide / side);
  const height = Math.ceil(high / side);
  const counts = new Uint16Array(KINDS * width * height);
  for (let y = 0, i = 0; y < high; y++)
    for (let x = 0, at = KINDS * width * Math.floor(y / side); x < wide; at += KINDS)
      for (const end = Math.min(wide, x + side); x < end; x++, i++) counts[at + pixels[i]!]!++;
  const kinds = bytesBy(width * height, (cell) => {
    let most = OTHER;
    for (let kind = BODY; kind < KINDS; kind++)
      if (counts[KINDS * cell + kind]! > counts[KINDS * cell + most]!) most = kind;
    return most;
  });
  const body = Int32Array.from(kinds.keys()).filter((cell) => kinds[cell] === BODY);
  const foot = body.length > 0 ? Math.floor(body.at(-1)! / width) : 0;
  return { width, height, kinds, body, foot, darks: countOf(kinds, DARK) };
}
