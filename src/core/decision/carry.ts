import type { Plane } from '../raster/plane';
import { labOf } from '../color/oklab';
import { CHAMFER_UNIT, chamferDistances, distancesTo } from '../numeric/chamfer-distance';
import { blurBox, sumBox, takeMeans } from '../numeric/box';
import { bytesBy } from '../numeric/plane';
import { quantile } from '../numeric/statistics';
import type { Progress, Steps } from '../numeric/steps';
import type { Raster } from '../raster/raster';
import { checkerModel, labOfDecimals } from '../stages/clear/backdrop';
import type { Checker } from '../stages/clear/checker';
import {
  distanceToModel,
  MAX_LEVEL,
  STEPS_PER_UNIT,
  type BackdropModel,
  type SpansOf,
} from '../stages/clear/distance';
import type { Measure } from '../stages/clear/reach-map';
import type { Rgb } from '../stages/clear/sample-color';
import type { Scene } from '../scene/scene';
import { colorAt, type Planes } from './planes';
import { regionsOf } from './regions';
import type { Sight } from './sight';
import { surfaceOf, type Smooth } from './smooth';

/**
 * What a decision says at each pixel of its size: solid subject; subject of threads, among which there may be background; near
 * the border between both, where the border itself is followed or, since both are too alike, the decision; background.
 */
export const SOLID = 0;
export const THREADS = 1;
export const NEAR = 2;
export const ALIKE = 3;
export const BACKGROUND = 4;
/** Background of any color: told, or away from the subject where no backdrop was seen, or at a shadow that is cast. */
export const FAR = 5;

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** Subject nearer to the background than this, in pixels of the decision, is looked at again at full size. */
const NEAR_PX = 1.5;

/** The background's own color, shade included, around each place, and what of a picture is subject; at the decision's size. */
export interface Carried {
  readonly width: number;
  readonly height: number;
  readonly reduction: number;
  /** SOLID, THREADS, NEAR, ALIKE or BACKGROUND. */
  readonly zones: Uint8Array;
  /** 255 where there is background, 0 elsewhere: read between pixels, a smooth border at any size. */
  readonly mask: Uint8Array;
  /** The background's color in the comparison space: lightness, a, b; without the pattern where there is one. */
  readonly lab: readonly [Float32Array, Float32Array, Float32Array];
  readonly checker: Checker | null;
  /**
   * In photos, 1 where the background's color lies between colors of the subject around: what looks like it there need not be
   * background. Nowhere in drawings, before patterns and where marks decide.
   */
  readonly between: Uint8Array;
  /** The tolerance that suits it at full size; see `toleranceBy`. */
  readonly tolerance: number;
}

/** Beyond this from the subject, in pixels of the decision, what marks call background is that in any color. */
const FAR_PX = 3;

/** How far around a place the background's color is averaged, in pixels of the decision; where there is none, farther. */
const AROUND = [3, 14] as const;

/** Less background than this share of what lies around tells no color. */
const LEAST_AROUND_SHARE = 0.08;

/** Background nearer to a border than this, in pixels, may be mixed with the subject; and in thirds of a pixel. */
const MIXED_PX = 1.5;
export const MIXED_TO_BORDER = MIXED_PX * CHAMFER_UNIT;

/** What is told meanwhile: the last part of looking at a picture. */
const CARRYING: Progress = { doing: 'looking', done: 3, total: 4 };

/** What is needed to carry a decision to any size of the picture. */
export function* carried(
  sight: Sight,
  goes: Uint8Array,
  reduction: number,
  checker: Checker | null,
  original: Raster,
  byMarks: boolean,
  told: ReadonlyMap<number, 1 | -1>,
): Steps<Carried> {
  const { width, height } = sight.planes;
  const local = localBackdrop(sight.planes, sight.toBorder, sight.backdrop, goes);
  yield CARRYING;
  const isPhoto = !sight.clean && !checker && !byMarks;
  const between = isPhoto ? betweenOf(sight, goes, local) : new Uint8Array(goes.length);
  yield CARRYING;
  const zones = zonesOf(sight, goes, local, checker, between);
  yield CARRYING;
  const isFar = byMarks ? () => true : checker ? null : nearShadow(sight);
  if (isFar) {
    const distances = distancesTo(width, height, (i) => goes[i] === 0);
    for (let i = 0; i < goes.length; i++)
      if (distances[i]! > FAR_PX * CHAMFER_UNIT && isFar(i)) zones[i] = FAR;
  }
  for (const [i, answer] of told) zones[i] = answer === 1 ? FAR : SOLID;
  const lab = labPlanes(local, sight.planes.light);
  yield CARRYING;
  const mask = bytesBy(goes.length, (i) => goes[i]! * 255);
  const untold: Omit<Carried, 'tolerance'> = { width, height, reduction, zones, mask, lab, checker, between };
  yield CARRYING;
  return { ...untold, tolerance: toleranceBy(untold, original) };
}

/** Tells what lies in a shadow that is cast, or so near to one that the background around has two colors; null where there is none. */
function nearShadow({ inShadow, planes: { width, height } }: Sight): ((i: number) => boolean) | null {
  if (!inShadow.includes(1)) return null;
  const distances = distancesTo(width, height, (i) => inShadow[i] === 1);
  return (i) => distances[i]! <= AROUND[0] * CHAMFER_UNIT;
}

/** The colors of planes in the comparison space, in the light that was divided out of them. */
function labPlanes(channels: Sight['backdrop'], light: Float32Array | null): Carried['lab'] {
  const lab = [0, 1, 2].map(() => new Float32Array(channels[0].length)) as unknown as Carried['lab'];
  for (let i = 0; i < channels[0].length; i++) {
    const { red, green, blue } = colorAt({ channels }, i);
    const lit = light ? light[i]! : 1;
    const { lightness, a, b } = labOfDecimals(within(lit * red), within(lit * green), within(lit * blue));
    lab[0][i] = lightness;
    lab[1][i] = a;
    lab[2][i] = b;
  }
  return lab;
}

function within(value: number): number {
  return value > 255 ? 255 : value > 0 ? value : 0;
}

/** Subject within so many pixels of the background is of threads where borders are this share of what lies around it. */
const THREADS_PX = 8;
const THREADS_AROUND_PX = 8;
const BORDERS_SHARE = 0.42;

/** In drawings on color narrow gaps between borders, as in lettering, are looked at again at full size. */
const LETTERS_SHARE = 0.3;
const LETTERS_PX = 10;

/** Subject and background that differ by less than this, in encoded levels, are too alike to follow their border. */
const LEAST_CONTRAST_ENCODED = 20;

function zonesOf(
  sight: Sight,
  goes: Uint8Array,
  local: Sight['backdrop'],
  checker: Checker | null,
  between: Uint8Array,
): Uint8Array {
  const { borders, planes, backdrop, clean, colored } = sight;
  const { width, height } = planes;
  // Before a pattern a color must stand out from both of its tones.
  const contrast =
    LEAST_CONTRAST_ENCODED + (checker ? Math.abs(checker.even.green - checker.odd.green) / 2 : 0);
  const depths = new Uint8Array(goes.length);
  chamferDistances(goes, 0, width, height, depths);
  const density = blurBox({ data: borders, width, height }, THREADS_AROUND_PX);
  const inside = bytesBy(goes.length, (i) => (depths[i]! > MIXED_TO_BORDER ? 1 : 0));
  const subject = averaged(planes.channels, backdrop, { data: inside, width, height });
  const isAlike = (i: number) => {
    let squares = 0;
    for (let c = 0; c < 3; c++) {
      const off = subject[c]![i]! - local[c]![i]!;
      squares += off * off;
    }
    return squares < contrast * contrast;
  };
  const zoneOf = (i: number) => {
    const depth = depths[i]! / CHAMFER_UNIT;
    if (goes[i] === 1) return BACKGROUND;
    if (!clean && !checker && between[i] === 0 && depth <= THREADS_PX && density[i]! > BORDERS_SHARE)
      return THREADS;
    if (clean && colored && depth <= LETTERS_PX && density[i]! > LETTERS_SHARE) return NEAR;
    if (depth > NEAR_PX) return SOLID;
    return planes.pattern?.alike[i] === 1 || isAlike(i) ? ALIKE : NEAR;
  };
  const zones = new Uint8Array(goes.length);
  for (let i = 0; i < zones.length; i++) zones[i] = zoneOf(i);
  return zones;
}

/** Colors that differ from the background by less than this, in encoded levels, tell no direction. */
const LEAST_OFF_ENCODED = 10;

/** How far around directions are compared, in pixels; and how many there must be. */
const DIRECTIONS_PX = 8;
const LEAST_DIRECTIONS = 30;

/** The mean of unit vectors is shorter than this where they point to several sides. */
const ONE_DIRECTION_LENGTH = 0.88;

/** A smaller part of a body, as a share of it, is the foot of some threads. */
const LEAST_BETWEEN_SHARE = 0.06;

/**
 * Where colors of the subject lie to several sides of the background's. What mixes with the background, as threads and what
 * is seen between them, lies in one direction from it, whose end it is.
 */
function betweenOf({ planes }: Sight, goes: Uint8Array, local: Sight['backdrop']): Uint8Array {
  const { width, height, channels } = planes;
  const units = channels.map(() => new Float32Array(goes.length));
  const counts = new Uint8Array(goes.length);
  for (let i = 0; i < goes.length; i++) {
    if (goes[i] === 1) continue;
    const x = channels[0][i]! - local[0][i]!;
    const y = channels[1][i]! - local[1][i]!;
    const z = channels[2][i]! - local[2][i]!;
    const far = Math.sqrt(x * x + y * y + z * z);
    if (far < LEAST_OFF_ENCODED) continue;
    counts[i] = 1;
    units[0]![i] = x / far;
    units[1]![i] = y / far;
    units[2]![i] = z / far;
  }
  const around = sumBox({ data: counts, width, height }, DIRECTIONS_PX);
  const [x, y, z] = units.map((plane) => sumBox({ data: plane, width, height }, DIRECTIONS_PX));
  const isBetween = (i: number) => {
    const one = ONE_DIRECTION_LENGTH * around[i]!;
    return (
      goes[i] === 0 &&
      around[i]! >= LEAST_DIRECTIONS &&
      x![i]! * x![i]! + y![i]! * y![i]! + z![i]! * z![i]! < one * one
    );
  };
  const bodies = regionsOf(width, height, (i) => goes[i] === 0);
  const { list, places } = regionsOf(width, height, isBetween);
  const out = new Uint8Array(goes.length);
  for (const { from, to, pixels } of list) {
    const body = bodies.list[bodies.of[places[from]!]!]!;
    if (pixels >= LEAST_BETWEEN_SHARE * body.pixels) for (const i of places.subarray(from, to)) out[i] = 1;
  }
  return out;
}

/** The background's color around each place in the comparison space, of what goes or else of the model. */
export function colorsAround(
  planes: Planes,
  smooth: Smooth,
  toBorder: Uint8Array,
  goes: Uint8Array,
): Carried['lab'] {
  const { width, height, light } = planes;
  return labPlanes(localBackdrop(planes, toBorder, surfaceOf(smooth, width, height), goes), light);
}

/** The color of the background around each place: of what goes, smoothed; where none is near, of the model. */
function localBackdrop(
  { width, height, channels, blank }: Planes,
  toBorder: Uint8Array,
  backdrop: Sight['backdrop'],
  goes: Uint8Array,
): Sight['backdrop'] {
  const counts = new Uint8Array(goes.length);
  for (let i = 0; i < counts.length; i++)
    if (goes[i] === 1 && toBorder[i]! > MIXED_TO_BORDER && blank?.[i] !== 1) counts[i] = 1;
  return averaged(channels, backdrop, { data: counts, width, height });
}

/** Means of what counts around each place, near by where there is enough of it; `otherwise` where there is none. */
function averaged(
  channels: Sight['backdrop'],
  otherwise: Sight['backdrop'],
  { data: counts, width, height }: Plane,
): Sight['backdrop'] {
  const out = otherwise.map((plane) => plane.slice()) as unknown as Sight['backdrop'];
  for (const radius of [...AROUND].reverse())
    takeMeans(channels, { data: counts, width, height }, radius, LEAST_AROUND_SHARE, out);
  return out;
}

/** Reads a line of a plane of the decision into the pixels `from` up to `to`, which cover `step` of the original each. */
function readLine(
  plane: Float32Array | Uint8Array,
  { width, height, reduction }: Pick<Carried, 'width' | 'height' | 'reduction'>,
  y: number,
  line: Float32Array,
  out: Float32Array,
  step: number,
  from = 0,
  to = out.length,
): void {
  const scale = 2 ** reduction;
  const v = Math.min(height - 1, Math.max(0, (y + 0.5) / scale - 0.5));
  const top = Math.floor(v);
  const upper = top * width;
  const lower = Math.min(height - 1, top + 1) * width;
  const share = v - top;
  const placeOf = (x: number) => Math.min(width - 1, Math.max(0, ((x + 0.5) * step) / scale - 0.5));
  const last = Math.min(width - 1, (placeOf(to - 1) | 0) + 1);
  for (let x = placeOf(from) | 0; x <= last; x++)
    line[x] = plane[upper + x]! + (plane[lower + x]! - plane[upper + x]!) * share;
  for (let x = from; x < to; x++) {
    const u = placeOf(x);
    const left = u | 0;
    const own = line[left]!;
    out[x] = left + 1 < width ? own + (line[left + 1]! - own) * (u - left) : own;
  }
}

function middleOf({ even, odd }: Checker): Rgb {
  return {
    red: (even.red + odd.red) / 2,
    green: (even.green + odd.green) / 2,
    blue: (even.blue + odd.blue) / 2,
  };
}

/** The background as a model for distances, at the scene's size. */
function modelOf(
  carried: Omit<Carried, 'tolerance'>,
  { raster, reduction }: Pick<Scene, 'raster' | 'reduction'>,
): BackdropModel {
  const scale = 2 ** reduction;
  const { checker, lab } = carried;
  const line = new Float32Array(carried.width);
  const read = (y: number, out: readonly Float32Array[], from: number, to: number) => {
    for (let c = 0; c < 3; c++)
      readLine(lab[c]!, carried, (y + 0.5) * scale - 0.5, line, out[c]!, scale, from, to);
  };
  if (!checker)
    return {
      bounds: false,
      fill: (y, { lightness, a, b }, _own, from, to) => read(y, [lightness, a, b], from, to),
    };
  const pattern = checkerModel(checker, raster.width, reduction);
  const middle = middleOf(checker);
  const base = labOf(Math.round(middle.red), Math.round(middle.green), Math.round(middle.blue)).lightness;
  const shade = [0, 1, 2].map(() => new Float32Array(raster.width));
  const lit = new Float32Array(raster.width);
  return {
    bounds: true,
    fill(y, row, own, from, to) {
      read(y, shade, from, to);
      for (let x = from; x < to; x++) {
        shade[0]![x] = Math.min(1, shade[0]![x]! / base);
        lit[x] = own[x]! / Math.max(0.05, shade[0]![x]!);
      }
      pattern.fill(y, row, lit, from, to);
      for (const plane of [row.lightness, row.a, row.b, row.low, row.high])
        for (let x = from; x < to; x++) plane[x]! *= shade[0]![x]!;
    },
  };
}

/** Lines of the picture at which tolerance is read. */
const LINES = 64;

/** Tolerance clears all but this share of the background's grain, with some room, but not this share of the subject's rim. */
const GRAIN_SHARE = 0.985;
const GRAIN_ROOM_TIMES = 1.3;
const RIM_SHARE = 0.15;
const RIM_ROOM_SHARE = 0.35;

/** Bounds of the tolerance that is found, in its units. */
const LEAST_TOLERANCE = 1.5;
const MOST_TOLERANCE = 12;

/** How far inside of the near zone the rim is read, in pixels of the decision. */
const RIM_PX = 3;

/**
 * The tolerance that suits a decision at full size: beyond the grain of the background, and well below the contrast of the
 * subject's rim. What Clear leaves of a transition is Edge's, so it need not be large.
 */
function toleranceBy(carried: Omit<Carried, 'tolerance'>, original: Raster): number {
  const { width, height } = original;
  const model = modelOf(carried, { raster: original, reduction: 0 });
  const grain: number[] = [];
  const rim: number[] = [];
  const near = rimOf(carried);
  for (let k = 0; k < LINES; k++) {
    const y = Math.floor(((k + 0.5) * height) / LINES);
    const line = { width, height: 1, data: original.data.subarray(y * width * 4, (y + 1) * width * 4) };
    const levels = new Uint16Array(width);
    const here: BackdropModel = {
      ...model,
      fill: (_y, row, own, from, to) => model.fill(y, row, own, from, to),
    };
    distanceToModel(line as Raster, here, NO_SHADE, 0, 1, 0, levels);
    const row = Math.min(carried.height - 1, y >> carried.reduction) * carried.width;
    for (let x = 0; x < width; x++) {
      const j = row + Math.min(carried.width - 1, x >> carried.reduction);
      if (carried.zones[j]! >= BACKGROUND) grain.push(levels[x]!);
      else if (near[j] === 1) rim.push(levels[x]!);
    }
  }
  const most = rim.length > 0 ? (RIM_ROOM_SHARE * quantile(rim, RIM_SHARE)) / STEPS_PER_UNIT : MOST_TOLERANCE;
  const least = (GRAIN_ROOM_TIMES * (quantile(grain, GRAIN_SHARE) || 0)) / STEPS_PER_UNIT;
  const wanted = Math.max(LEAST_TOLERANCE, Math.min(MOST_TOLERANCE, Math.max(least, most)));
  return Math.round(wanted * 10) / 10;
}

/** Marks with 1 the subject's rim: beyond what is near the background, and no farther than RIM_PX. */
function rimOf({ zones, width, height }: Pick<Carried, 'zones' | 'width' | 'height'>): Uint8Array {
  const depths = distancesTo(width, height, (i) => zones[i]! >= BACKGROUND);
  return bytesBy(zones.length, (i) =>
    depths[i]! > NEAR_PX * CHAMFER_UNIT && depths[i]! <= (NEAR_PX + RIM_PX) * CHAMFER_UNIT ? 1 : 0,
  );
}

/** The distance of each pixel to the background's color around it, at the decision's size. */
export function levelsBy(carried: Carried, small: Pick<Scene, 'raster' | 'reduction'>): Uint16Array {
  const levels = new Uint16Array(carried.width * carried.height);
  distanceToModel(small.raster, modelOf(carried, small), NO_SHADE, 0, carried.height, 0, levels);
  return levels;
}

/** The level of what is solid subject by the decision, and of nothing else. */
export const SOLID_LEVEL = MAX_LEVEL;

const NO_SHADE = { darker: 0, lighter: 0 };

/**
 * Measures a scene by a decision: the distance to the background's own color at each place, shade included, and SOLID_LEVEL where
 * the decision is certain of the subject; scaled so that they mean at `tolerance` what they do at the decision's own. So a sharp border is found at full size, and hairs stay in the background. With a
 * plain measure of some tolerance the decision is followed only where `disputed` says so (1, at its size; null: nowhere), its distances so that
 * they mean the same at that tolerance.
 */
export function measureBy(
  carried: Carried,
  scene: Scene,
  tolerance: number,
  plain: { readonly measure: Measure; readonly disputed: Uint8Array | null } | null,
): Measure {
  const { raster, reduction } = scene;
  const scale = 2 ** reduction;
  const model = modelOf(carried, scene);
  const line = new Float32Array(carried.width);
  const share = new Float32Array(raster.width);
  const shift = carried.reduction - reduction;
  const scaled = tolerance / carried.tolerance;
  const rowOf = (y: number) =>
    carried.width * Math.min(carried.height - 1, shift >= 0 ? y >> shift : y << -shift);
  const cells = Int32Array.from({ length: raster.width }, (_, x) =>
    Math.min(carried.width - 1, shift >= 0 ? x >> shift : x << -shift),
  );
  const isPlain = (j: number) => plain?.disputed?.[j] === 0;
  const ownSpans = spansWhere(rowOf, cells, (j) => !isPlain(j) && isMeasured(carried.zones[j]!));
  const plainSpans = spansWhere(rowOf, cells, isPlain);
  return (from, to, mark, out) => {
    const start = from * raster.width;
    if (plain && !plain.disputed) {
      plain.measure(from, to, mark, out);
      for (let i = start; i < to * raster.width; i++)
        if ((out[i]! & ~mark) >= SOLID_LEVEL) out[i] = (SOLID_LEVEL - 1) | mark;
      return;
    }
    distanceToModel(raster, model, NO_SHADE, from, to, mark, out, ownSpans);
    plain?.measure(from, to, mark, out, plainSpans);
    for (let y = from; y < to; y++) {
      readLine(carried.mask, carried, (y + 0.5) * scale - 0.5, line, share, scale);
      const row = rowOf(y);
      for (let x = 0, i = y * raster.width; x < raster.width; x++, i++) {
        const j = row + cells[x]!;
        if (isPlain(j)) {
          if ((out[i]! & ~mark) >= SOLID_LEVEL) out[i] = (SOLID_LEVEL - 1) | mark;
          continue;
        }
        const zone = carried.zones[j]!;
        let level = Math.round((out[i]! & ~mark) * scaled);
        if (zone === SOLID) level = SOLID_LEVEL;
        else if (zone === FAR) level = 0;
        else if (zone === ALIKE) level = share[x]! > HALF_ALPHA ? 0 : SOLID_LEVEL - 1;
        else if (level >= SOLID_LEVEL) level = SOLID_LEVEL - 1;
        out[i] = level | mark;
      }
    }
  };
}

/** Whether a zone leaves it to the distance. */
function isMeasured(zone: number): boolean {
  return zone === THREADS || zone === NEAR || zone === BACKGROUND;
}

/** The stretches of a row whose cells are wanted; `cells` are those of its pixels. Rows of the same cells share a list. */
function spansWhere(
  rowOf: (y: number) => number,
  cells: Int32Array,
  isWanted: (j: number) => boolean,
): SpansOf {
  let row = -1;
  let spans: number[] = [];
  return (y) => {
    if (rowOf(y) === row) return spans;
    row = rowOf(y);
    spans = [];
    let inside = false;
    for (let x = 0; x < cells.length; x++) {
      if (x > 0 && cells[x] === cells[x - 1]) continue;
      if (isWanted(row + cells[x]!) === inside) continue;
      inside = !inside;
      spans.push(x);
    }
    if (inside) spans.push(cells.length);
    return spans;
  };
}

/** More background than this on the mask, of 255, is background where both are alike. */
const HALF_ALPHA = 127.5;
