import type { Plane } from '../raster/plane';
import { labOf } from '../color/oklab';
import { lumaOf } from '../color/luma';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import type { Channel } from '../stages/clear/settings';
import { AS_IT_CAME, type Prepare } from '../stages/prepare/settings';
import { deviation, median, quantile } from '../numeric/statistics';
import { runToEnd } from '../numeric/steps';
import { createRaster, type Raster, type Rect } from '../raster/raster';
import { halve, halvingsTo, smallCopy } from '../raster/reduce';
import { bestChannel, readInk, type InkReading } from '../stages/clear/by-ink/points';
import { estimateNoise } from '../stages/prepare/calm';
import { frameOf } from '../stages/prepare/frame';
import { estimateLight, evenLight, flattenRows, gainsOf, type Light } from '../stages/prepare/light';
import { developed, lightOf, uncropped, type Source } from '../stages/prepare/prepare';
import { hasRules } from '../stages/prepare/rules/find-rules';
import { findSheet, type SheetCorners } from '../stages/prepare/sheet';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Pixels that are enough to tell ink on paper. */
const LOOK_PIXELS = 260_000;

/** Smaller pictures tell nothing. */
const LEAST_SIDE_PX = 32;

/** Paper has this luma at least, this little chroma (OKLab), and is not the pure white of a drawn picture. */
const PAPER_LUMA = 110;
const PAPER_CHROMA_OKLAB = 0.075;
const PAPER_HUE_OKLAB = 0.03;

/** Shadows leave this share of the light; and what is no paper may cover so little of the picture. */
const DEEPEST_SHARE = 0.42;
const PATCHES_SHARE = 0.008;
const PURE_ENCODED = 253;

/** Ink covers this share of a sheet, at least and at most. */
const LEAST_INK_SHARE = 0.0004;
const MOST_INK_SHARE = 0.14;

/** Between ink and paper lie at most this many times as many pixels as are ink. */
const MOST_BETWEEN_TIMES = 3;

/** A stroke is at most so wide, as a share of the shorter side, and never less than FINEST_PX counts as one. */
const WIDEST_SHARE = 1 / 40;
const FINEST_PX = 5;

/** Of the strokes so much is thin. */
const THIN_SHARE = 0.85;

/** Ink is at most this light, and of one hue (deviation of OKLab a and b). */
const DARK_LIGHTNESS = 0.66;
const ONE_HUE_OKLAB = 0.03;

/** From this difference between the lightest and the darkest bare paper, as a share, the light is flattened. */
const UNEVEN_SHARE = 0.025;

/** Grain from which it is calmed, encoded, and how much for each unit above that. */
const GRAINY_ENCODED = 0.9;
const CALM_PER_UNIT = 45;

/** What was seen of ink on paper. */
export interface InkLook {
  readonly light: Light;
  readonly reading: InkReading;
  /** How the picture must lie for its paper to be seen: as it came, or squared up. */
  readonly base: Prepare;
  /** Where the ink lies, in pixels of the picture that lies so. */
  readonly content: Rect;
}

/** Why a picture is not ink on paper. */
export type NoInk =
  'patchy' | 'too small' | 'blank' | 'solid' | 'dark' | 'colored' | 'pure' | 'broad' | 'many hues' | 'photo';

/**
 * Whether a picture is dark writing on light paper: on the flattened picture what is dark is little, thin and of one hue,
 * and nearly all the rest is paper. Where that is not so of the whole and the picture may be framed anew (`mayFrame`), it is
 * looked at again between the corners of a light sheet. Where somebody asked for ink (`asked`) the paper may be pure white.
 */
export function lookForInk(source: Source, asked = false, mayFrame = false): InkLook | NoInk {
  const { original } = source;
  if (Math.min(original.width, original.height) < LEAST_SIDE_PX) return 'too small';
  const small = (source.small ??= smallCopy(original));
  const plain = lookAtPaper(small.raster, small.reduction, asked);
  if (typeof plain === 'object') return { ...plain, base: AS_IT_CAME };
  const corners = mayFrame ? findSheet(small) : null;
  if (!corners) return plain;
  const base: Prepare = { ...AS_IT_CAME, corners: insetCorners(corners) };
  const found = lookAtPaper(uncropped(source, base), small.reduction, asked);
  return typeof found === 'object' ? { ...found, base } : plain;
}

/** A sheet's rim is left out by this share of the way to its middle. */
const RIM_SHARE = 0.012;

function insetCorners(corners: SheetCorners): NonNullable<Prepare['corners']> {
  const middle = [0, 1].map((k) => corners.reduce((sum, corner) => sum + corner[k]!, 0) / 4);
  const inset = (value: number, k: number) =>
    Math.round((value + (middle[k]! - value) * RIM_SHARE) * 10) / 10;
  return corners.map(([x, y]) => [inset(x, 0), inset(y, 1)]) as NonNullable<Prepare['corners']>;
}

function lookAtPaper(whole: Raster, wholeReduction: number, asked: boolean): Omit<InkLook, 'base'> | NoInk {
  const halvings = halvingsTo(LOOK_PIXELS, whole.width, whole.height);
  let raster = whole;
  for (let k = 0; k < halvings; k++) raster = halve(raster);
  const reduction = wholeReduction + halvings;
  const light = estimateLight({ raster, reduction: 0 });
  const { red, green, blue } = light.paper;
  if (lumaOf(red, green, blue) < PAPER_LUMA) return 'dark';
  const lab = labOf(Math.round(red), Math.round(green), Math.round(blue));
  if (Math.sqrt(lab.a * lab.a + lab.b * lab.b) > PAPER_CHROMA_OKLAB) return 'colored';
  if (isPatchy(light)) return 'patchy';
  const flat = flattened(raster, light);
  const reading = readInk([flat]);
  if (!reading) return solidOrBlank(raster);
  if (reading.share > 0.5) return 'solid';
  if (!asked && Math.min(red, green, blue) >= PURE_ENCODED) return 'pure';
  if (reading.share < LEAST_INK_SHARE) return 'blank';
  if (reading.share > MOST_INK_SHARE) return 'broad';
  const mask = inkMask(flat, reading);
  if (mask.between > MOST_BETWEEN_TIMES * mask.ink.length + 0.01 * mask.marks.length) return 'photo';
  if (!isThin({ data: mask.marks, width: flat.width, height: flat.height }, mask.ink)) return 'broad';
  if (!isOneHue(flat, mask.ink)) return 'many hues';
  return { light, reading, content: boxOf(mask.ink, flat, reduction) };
}

/**
 * Whether some of the bare ground has another hue (OKLab a and b), or is far darker, than the rest: paper keeps its hue in
 * any light, and no shadow is so deep. What is not paper there is a broad part of a drawing or a photo.
 */
function isPatchy({ channels: [reds, greens, blues], paper }: Light): boolean {
  const step = Math.max(1, Math.floor(reds.length / 8000));
  const places = Array.from({ length: Math.floor(reds.length / step) }, (_, k) => k * step);
  const byte = (value: number) => Math.min(255, Math.max(0, Math.round(value)));
  const labs = places.map((i) => labOf(byte(reds[i]!), byte(greens[i]!), byte(blues[i]!)));
  const a = median(labs.map((lab) => lab.a));
  const b = median(labs.map((lab) => lab.b));
  const deepest = DEEPEST_SHARE * lumaOf(paper.red, paper.green, paper.blue);
  const other = places.filter((i, k) => {
    const lab = labs[k]!;
    const isOtherHue = Math.abs(lab.a - a) > PAPER_HUE_OKLAB || Math.abs(lab.b - b) > PAPER_HUE_OKLAB;
    return isOtherHue || lumaOf(reds[i]!, greens[i]!, blues[i]!) < deepest;
  });
  return other.length > PATCHES_SHARE * places.length;
}

function solidOrBlank(raster: Raster): NoInk {
  const { data } = raster;
  let sum = 0;
  for (let p = 0; p < data.length; p += 4) sum += lumaOf(data[p]!, data[p + 1]!, data[p + 2]!);
  return sum / (data.length / 4) < PAPER_LUMA ? 'solid' : 'blank';
}

function flattened(raster: Raster, light: Light): Raster {
  const out = createRaster(raster.width, raster.height, raster.data.slice());
  const placeOf = (row: number, xs: Float64Array, ys: Float64Array) => {
    for (let x = 0; x < xs.length; x++) xs[x] = x + 0.5;
    ys.fill(row + 0.5);
  };
  flattenRows(out, gainsOf(light, 1), placeOf, 0, out.height);
  return out;
}

/** Pixels that are ink, and how many lie between ink and paper. */
function inkMask({ data }: Raster, { ink, paper }: InkReading) {
  const marks = new Uint8Array(data.length >> 2);
  const limit = (ink + paper) / 2;
  const light = paper - 0.25 * (paper - ink);
  const found: number[] = [];
  let between = 0;
  for (let i = 0, p = 0; i < marks.length; i++, p += 4) {
    const luma = lumaOf(data[p]!, data[p + 1]!, data[p + 2]!);
    if (luma < limit) {
      marks[i] = 1;
      found.push(i);
    } else if (luma < light) between++;
  }
  return { marks, ink: found, between };
}

/** Whether strokes are thin across, along rows, columns or diagonals. */
function isThin({ data: marks, width, height }: Plane, ink: readonly number[]): boolean {
  const widest = Math.max(FINEST_PX, Math.round(Math.min(width, height) * WIDEST_SHARE));
  const run = (i: number, step: number, back: number, forth: number) => {
    let length = 1;
    for (let k = 1; k <= back && length <= widest && marks[i - k * step] === 1; k++) length++;
    for (let k = 1; k <= forth && length <= widest && marks[i + k * step] === 1; k++) length++;
    return length;
  };
  const thin = ink.filter((i) => {
    const x = i % width;
    const y = (i - x) / width;
    const [right, below] = [width - 1 - x, height - 1 - y];
    const down = run(i, width + 1, Math.min(x, y), Math.min(right, below));
    const up = run(i, width - 1, Math.min(right, y), Math.min(x, below));
    return (
      Math.min(run(i, 1, x, right), run(i, width, y, below), Math.SQRT2 * down, Math.SQRT2 * up) <= widest
    );
  });
  return thin.length >= THIN_SHARE * ink.length;
}

function isOneHue({ data }: Raster, ink: readonly number[]): boolean {
  const labs = ink.map((i) => labOf(data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!));
  const lightness = quantile(
    labs.map((lab) => lab.lightness),
    0.3,
  );
  return (
    lightness < DARK_LIGHTNESS &&
    deviation(labs.map(({ a }) => a)) < ONE_HUE_OKLAB &&
    deviation(labs.map(({ b }) => b)) < ONE_HUE_OKLAB
  );
}

function boxOf(ink: readonly number[], { width, height }: Raster, reduction: number): Rect {
  const xs = ink.map((i) => i % width);
  const ys = ink.map((i) => Math.floor(i / width));
  // A stray pixel or two is not what is meant by content.
  const low = (values: number[]) => quantile(values, 0.002) << reduction;
  const high = (values: number[], size: number) =>
    Math.min(size << reduction, (quantile(values, 0.998) + 1) << reduction);
  const x = low(xs);
  const y = low(ys);
  return { x, y, width: high(xs, width) - x, height: high(ys, height) - y };
}

/** Bands of the picture that are read at full size to set the points, and their height. */
const BANDS = 6;
const BAND_PX = 48;
const MOST_WIDTH_PX = 2400;

/** Specks below this area are dropped, in square pixels: grows with the size of the picture. */
function speckLimit({ width, height }: Raster): number {
  return Math.max(4, Math.round((width * height) / 90_000));
}

/** A first cut by ink: what to prepare, which channel to read and where its points lie. */
export function proposeByInk(source: Source, look: InkLook, wanted: Channel | null): Cut {
  const { original } = source;
  const prepare = prepareFor(source, look);
  const reading = readBands(source, prepare, look.content) ?? look.reading;
  const { channel, black, mid, white } =
    reading.channels.find((one) => one.channel === wanted) ?? bestChannel(reading);
  const cut = untouchedCut();
  const ink = { on: true, channel, black, mid, white, speckPx: speckLimit(original) };
  return { ...cut, prepare, clear: { ...cut.clear, ink } };
}

function prepareFor(source: Source, { light, base }: InkLook): Prepare {
  const [grain] = [...estimateNoise(source.original)].sort((a, b) => b - a);
  const calm =
    grain! > GRAINY_ENCODED ? Math.min(100, Math.round((grain! - GRAINY_ENCODED) * CALM_PER_UNIT + 20)) : 0;
  return {
    ...base,
    flatten: unevenness(light) > UNEVEN_SHARE ? 100 : 0,
    calm,
    removeRules: hasRules({ raster: flatCopy(source, base), reduction: 0 }, evenLight(lightOf(source).paper)),
  };
}

/** The small copy of a picture as it lies, in even light. */
export function flatCopy(source: Source, base: Prepare): Raster {
  return (source.flat ??= uncropped(source, { ...base, flatten: 100 }));
}

/** How much darker the darkest bare paper is than the lightest, as a share; a little of either end left out. */
function unevenness({ channels: [, green] }: Light): number {
  const step = Math.max(1, Math.floor(green.length / 20_000));
  const some = Array.from({ length: Math.floor(green.length / step) }, (_, k) => green[k * step]!);
  return 1 - quantile(some, 0.02) / Math.max(1, quantile(some, 0.98));
}

/** What bands through the writing show at full size, prepared as they will be. */
function readBands(source: Source, prepare: Prepare, content: Rect): InkReading | null {
  const { original } = source;
  const frame = frameOf(prepare, original.width, original.height);
  const width = Math.min(MOST_WIDTH_PX, content.width);
  const x = content.x + ((content.width - width) >> 1);
  const bands = content.height <= BANDS * BAND_PX ? 1 : BANDS;
  const height = bands === 1 ? content.height : BAND_PX;
  const parts = Array.from({ length: bands }, (_, k) => {
    const y = content.y + (bands === 1 ? 0 : Math.floor((k * (content.height - height)) / (bands - 1)));
    return runToEnd(developed(source, { ...prepare, removeRules: false }, frame, { x, y, width, height }, 0));
  });
  return readInk(parts);
}
