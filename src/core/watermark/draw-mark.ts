import { rgbOfHex } from '../color/hex';
import { runToEnd } from '../numeric/steps';
import { drawnSteps } from '../proof/lay';
import { cornersOf, turnOf } from '../proof/place';
import type { Plane } from '../raster/plane';
import { createRaster, type Raster } from '../raster/raster';
import { addPath, coverageOf, newAccumulator, type Affine } from './fill-path';
import type { LaidMark, MarkBox } from './layout';
import { grown, shadowOf, veilOf } from './mark-effects';
import type { MarkLook } from './settings';
import { PATH } from './shaped';

// What the figures of this file rest on: docs/decisions/021-watermarks.md

/** The two versions of a mark. */
export type MarkVersion = 'light' | 'dark';

/** A mark in pixels of a photo, drawn once for all of its copies. */
export interface DrawnMark {
  readonly width: number;
  readonly height: number;
  /** Where its upper left pixel lies from the pixel in its middle. */
  readonly left: number;
  readonly top: number;
  /** Letters and cutouts. */
  readonly face: Readonly<Record<MarkVersion, Raster>>;
  /** Plate, shadow and outline, which lie under them; null where there are none. */
  readonly under: Readonly<Record<MarkVersion, Raster>> | null;
  /** How far the ground is darkened or lightened; most photos need none, so that it is made when it is asked for. */
  readonly veil: () => Veil;
  /** Of each row from where to where (that one not) there is something to lay without the veil. */
  readonly spans: Int32Array;
  /** The alpha of what is in the mark's color, whose edge contrast is measured on; of all where nothing is. */
  readonly measured: Plane;
}

/** How far the ground is darkened or lightened under a mark and around it. */
export interface Veil {
  /** 0 to 255: whole under the mark, less and less around it. */
  readonly data: Uint8Array;
  /** The same as the mark's spans, with the veil. */
  readonly spans: Int32Array;
}

/** How a mark is drawn. */
export interface MarkDrawing {
  /** Pixels for the mark's own unit. */
  readonly unitPx: number;
  readonly angleDeg: number;
  /** How far the veil reaches at most, in pixels: between copies there is less room. */
  readonly mostVeilPx: number;
}

/** The veil reaches so far, as a share of the mark's lesser side; in pixels at least, and where there is room. */
const VEIL_SHARE = 0.5;
const LEAST_VEIL_PX = 4;
const USUAL_VEIL_PX = 10;

/** Room for edges. */
const MARGIN_PX = 2;

/** How far a mark's veil reaches, in pixels. */
export function veilReachPx({ width, height }: MarkBox, { unitPx, mostVeilPx }: MarkDrawing): number {
  const wished = Math.max(USUAL_VEIL_PX, VEIL_SHARE * unitPx * Math.min(width, height));
  return Math.max(LEAST_VEIL_PX, Math.min(mostVeilPx, wished));
}

/** How far a mark's region goes beyond its box: outline, shadow, plate and veil, in pixels. */
function marginPx({ outline, shadow, plate }: MarkLook, box: MarkBox, drawing: MarkDrawing): number {
  const far = Math.max(
    outline?.width ?? 0,
    plate?.room ?? 0,
    shadow ? Math.max(Math.abs(shadow.x), Math.abs(shadow.y)) + 1.5 * shadow.blur + (outline?.width ?? 0) : 0,
  );
  return Math.ceil(Math.max(far * drawing.unitPx, veilReachPx(box, drawing))) + MARGIN_PX;
}

/** The size of the region that a mark changes at most. */
export function regionOf(
  { box }: Pick<LaidMark, 'box'>,
  look: MarkLook,
  drawing: MarkDrawing,
): Pick<DrawnMark, 'left' | 'top' | 'width' | 'height'> {
  const { unitPx, angleDeg } = drawing;
  const margin = marginPx(look, box, drawing);
  const width = box.width * unitPx + 2 * margin;
  const height = box.height * unitPx + 2 * margin;
  const corners = cornersOf({ x: -width / 2, y: -height / 2, width, height }, angleDeg);
  const left = Math.floor(Math.min(...corners.map(({ x }) => x)));
  const top = Math.floor(Math.min(...corners.map(({ y }) => y)));
  const right = Math.ceil(Math.max(...corners.map(({ x }) => x)));
  const bottom = Math.ceil(Math.max(...corners.map(({ y }) => y)));
  return { left, top, width: right - left, height: bottom - top };
}

/** Draws a mark at a size and angle, about its middle. */
export function drawMark(mark: LaidMark, look: MarkLook, drawing: MarkDrawing): DrawnMark {
  const region = regionOf(mark, look, drawing);
  const letters = drawLetters(mark, region, drawing);
  const cutouts = drawCutouts(mark, region, drawing);
  const versions = look.version === 'auto' ? (['light', 'dark'] as const) : ([look.version] as const);
  const first = faceOf(look[versions[0]], letters, cutouts, region);
  const second = versions.length > 1 ? faceOf(look[versions[1]!], letters, cutouts, region) : first;
  const face = versions[0] === 'light' ? { light: first, dark: second } : { light: second, dark: first };
  const alpha = alphaOf(first);
  const { outline, shadow, plate } = look;
  const has = Boolean(outline?.width) || Boolean(shadow?.opacity) || Boolean(plate?.opacity);
  const plateAlpha = plate ? drawPlate(mark.box, plate, region, drawing) : null;
  const under = has
    ? {
        light: underOf(alpha, plateAlpha, look, look.dark, drawing.unitPx),
        dark: underOf(alpha, plateAlpha, look, look.light, drawing.unitPx),
      }
    : null;
  const measured = paintedAlpha(letters, cutouts, alpha);
  const inked = under ? [alpha, alphaOf(under.light)] : [alpha];
  let made: Veil | null = null;
  const veil = (): Veil => {
    if (made) return made;
    const plane = veilOf(alpha, veilReachPx(mark.box, drawing));
    return (made = { data: plane.data, spans: spansOf([...inked, plane]) });
  };
  return { ...region, face, under, veil, spans: spansOf(inked), measured };
}

/** From where to where each row of planes of one size has something: two numbers a row, equal where it has nothing. */
function spansOf(planes: readonly Plane[]): Int32Array {
  const { width, height } = planes[0]!;
  const out = new Int32Array(2 * height);
  for (let y = 0; y < height; y++) {
    let from = width;
    let to = 0;
    for (const { data } of planes) {
      const row = y * width;
      let x = 0;
      while (x < from && data[row + x] === 0) x++;
      from = Math.min(from, x);
      x = width;
      while (x > to && data[row + x - 1] === 0) x--;
      to = Math.max(to, x);
    }
    out[2 * y] = Math.min(from, to);
    out[2 * y + 1] = to;
  }
  return out;
}

type Region = Pick<DrawnMark, 'left' | 'top' | 'width' | 'height'>;

/** From the mark's unit, y downward from the middle of its box, to pixels of the region. */
function placing({ box }: LaidMark, region: Region, { unitPx, angleDeg }: MarkDrawing) {
  const { sine, cosine } = turnOf(angleDeg);
  const middleX = box.x + box.width / 2;
  const middleY = box.y + box.height / 2;
  return (x: number, y: number, size: number): Affine => {
    const u = (x - middleX) * unitPx;
    const v = (y - middleY) * unitPx;
    const long = size * unitPx;
    return {
      a: long * cosine,
      b: long * sine,
      c: long * sine,
      d: -long * cosine,
      e: u * cosine - v * sine - region.left,
      f: u * sine + v * cosine - region.top,
    };
  };
}

function drawLetters(mark: LaidMark, region: Region, drawing: MarkDrawing): Plane {
  const { width, height } = region;
  const place = placing(mark, region, drawing);
  const to = newAccumulator(width, height);
  for (const item of mark.items)
    if (item.kind === 'path') addPath(to, item.path, place(item.x, item.y, item.size));
  return { data: coverageOf(to), width, height };
}

interface DrawnCutout {
  readonly raster: Raster;
  readonly left: number;
  readonly top: number;
  readonly painted: boolean;
}

function drawCutouts(mark: LaidMark, region: Region, drawing: MarkDrawing): DrawnCutout[] {
  const place = placing(mark, region, drawing);
  const { unitPx, angleDeg } = drawing;
  return mark.items.flatMap((item) => {
    if (item.kind !== 'cutout') return [];
    const { x, y, width, height } = item.box;
    const { e, f } = place(x + width / 2, y + height / 2, 1);
    const size = { width: width * unitPx, height: height * unitPx };
    const box = { x: e - size.width / 2, y: f - size.height / 2, ...size };
    const drawn = runToEnd(
      drawnSteps({ cutout: item.cutout, box, angleDeg, opacity: 100, blend: 'normal' }, region),
    );
    return [{ ...drawn, painted: item.painted }];
  });
}

function faceOf(
  color: string,
  letters: Plane,
  cutouts: readonly DrawnCutout[],
  { width, height }: Region,
): Raster {
  const { red, green, blue } = rgbOfHex(color);
  const face = createRaster(width, height);
  const { data } = face;
  for (let i = 0, p = 0; i < letters.data.length; i++, p += 4) {
    if (letters.data[i] === 0) continue;
    data[p] = red;
    data[p + 1] = green;
    data[p + 2] = blue;
    data[p + 3] = letters.data[i]!;
  }
  for (const { raster, left, top, painted } of cutouts)
    for (let y = 0; y < raster.height; y++)
      for (let x = 0, q = y * raster.width * 4; x < raster.width; x++, q += 4) {
        if (raster.data[q + 3] === 0) continue;
        const p = ((top + y) * width + left + x) * 4;
        const own = raster.data;
        if (painted) over(data, p, red, green, blue, own[q + 3]!);
        else over(data, p, own[q]!, own[q + 1]!, own[q + 2]!, own[q + 3]!);
      }
  return face;
}

/** Puts a color over a pixel, straight alpha; the color's own alpha is 0 to 255. */
function over(data: Uint8Array, p: number, red: number, green: number, blue: number, alpha: number): void {
  const below = data[p + 3]!;
  const rest = (below * (255 - alpha)) / 255;
  const sum = alpha + rest;
  if (sum === 0) return;
  data[p] = Math.round((red * alpha + data[p]! * rest) / sum);
  data[p + 1] = Math.round((green * alpha + data[p + 1]! * rest) / sum);
  data[p + 2] = Math.round((blue * alpha + data[p + 2]! * rest) / sum);
  data[p + 3] = Math.round(sum);
}

function alphaOf({ data, width, height }: Raster): Plane {
  const alpha = new Uint8Array(width * height);
  for (let i = 0, p = 3; i < alpha.length; i++, p += 4) alpha[i] = data[p]!;
  return { data: alpha, width, height };
}

/** The alpha of what is in the mark's color; of everything where nothing is. */
function paintedAlpha(letters: Plane, cutouts: readonly DrawnCutout[], all: Plane): Plane {
  const { width, height } = letters;
  const data = new Uint8Array(letters.data);
  for (const { raster, left, top, painted } of cutouts)
    for (let y = 0; painted && y < raster.height; y++)
      for (let x = 0; x < raster.width; x++) {
        const i = (top + y) * width + left + x;
        data[i] = Math.max(data[i]!, raster.data[(y * raster.width + x) * 4 + 3]!);
      }
  return data.some((value) => value > 0) ? { data, width, height } : all;
}

/** Half of the side of a square whose corners are rounded by a quarter of a circle as a cubic curve (error below 0.03 %). */
const CIRCLE = 0.5522847498;

function drawPlate(
  box: MarkBox,
  { room, corner }: NonNullable<MarkLook['plate']>,
  region: Region,
  drawing: MarkDrawing,
): Plane {
  const { width, height } = region;
  const w = box.width / 2 + room;
  const h = box.height / 2 + room;
  const r = Math.min(corner, w, h);
  const k = r * (1 - CIRCLE);
  const { move, line, cubic, close } = PATH;
  // y runs up in paths; a rectangle is the same upside down.
  const path = [
    ...[move, -w + r, -h, line, w - r, -h, cubic, w - k, -h, w, -h + k, w, -h + r],
    ...[line, w, h - r, cubic, w, h - k, w - k, h, w - r, h],
    ...[line, -w + r, h, cubic, -w + k, h, -w, h - k, -w, h - r],
    ...[line, -w, -h + r, cubic, -w, -h + k, -w + k, -h, -w + r, -h, close],
  ];
  const place = placing({ items: [], box }, region, drawing);
  const to = newAccumulator(width, height);
  addPath(to, path, place(box.x + box.width / 2, box.y + box.height / 2, 1));
  return { data: coverageOf(to), width, height };
}

/** Plate, shadow and outline as one picture, the plate lowest. */
function underOf(
  alpha: Plane,
  plateAlpha: Plane | null,
  look: MarkLook,
  other: string,
  unitPx: number,
): Raster {
  const { width, height } = alpha;
  const out = createRaster(width, height);
  const { plate, shadow, outline } = look;
  if (plate && plateAlpha) paint(out, plateAlpha, plate.color ?? other, plate.opacity);
  const lined = outline && outline.width > 0 ? grown(alpha, outline.width * unitPx) : null;
  if (shadow && shadow.opacity > 0) {
    const cast = shadowOf(lined ?? alpha, shadow, unitPx);
    paint(out, cast, shadow.color ?? other, shadow.opacity);
  }
  if (outline && lined) paint(out, lined, outline.color ?? other, 100);
  return out;
}

function paint({ data }: Raster, { data: alpha }: Plane, color: string, opacity: number): void {
  const { red, green, blue } = rgbOfHex(color);
  for (let i = 0, p = 0; i < alpha.length; i++, p += 4)
    if (alpha[i]! > 0) over(data, p, red, green, blue, (alpha[i]! * opacity) / 100);
}
