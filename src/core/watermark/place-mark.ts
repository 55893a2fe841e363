import { cornersOf } from '../proof/place';
import type { Plane } from '../raster/plane';
import { regionOf, veilReachPx, type MarkDrawing } from './draw-mark';
import type { LaidMark } from './layout';
import type { MarkLook, MarkPlace, Watermark } from './settings';

// What the figures of this file rest on: docs/decisions/021-watermarks.md

/** A photo's size as it is seen. */
export interface PhotoSize {
  readonly width: number;
  readonly height: number;
}

/** Which of its places a watermark has on a photo of that shape. */
export function placeOn({ place, portrait }: Watermark, { width, height }: PhotoSize): MarkPlace {
  return portrait && height > width ? portrait : place;
}

/** Where the middles of a mark's copies lie, in pixels of the photo. */
export interface MarkPlaces {
  /** Pixels for the mark's own unit. */
  readonly unitPx: number;
  readonly middles: readonly { readonly x: number; readonly y: number }[];
  /** Whether it had to be smaller than its rule says, to fit or not to change too much. */
  readonly isShrunk: boolean;
  /** How far the veil may reach, in pixels: half of the room between two copies, or as the most share allows. */
  readonly roomPx: number;
}

/** Copies that a tiled mark has at most. */
const MOST_COPIES = 400;

/** A mark is made smaller by such steps. */
const SHRINK = 0.97;

/** Places a mark on a photo by its rule. `light` is the photo's, made small, for a quiet place. */
export function placedMark(
  mark: LaidMark,
  look: MarkLook,
  place: MarkPlace,
  photo: PhotoSize,
  light: (() => Plane<Float32Array>) | null,
): MarkPlaces {
  const wanted = unitBySize(mark, place, photo);
  const fitted = fittedUnit(mark, place, photo, wanted);
  if (place.tiled) {
    const tiled = tiledUnit(mark, look, place, photo, fitted);
    return { ...tiled, isShrunk: tiled.unitPx < wanted * SHRINK };
  }
  const most = (place.mostShare / 100) * photo.width * photo.height;
  let unitPx = fitted;
  // What is around the mark gives way first, then the mark itself.
  let roomPx = Infinity;
  const isTooMuch = () => areaOf(mark, look, { unitPx, angleDeg: place.angleDeg, mostVeilPx: roomPx }) > most;
  if (isTooMuch())
    for (
      roomPx = veilReachPx(mark.box, { unitPx, angleDeg: 0, mostVeilPx: Infinity });
      isTooMuch();
      roomPx *= SHRINK
    )
      if (roomPx < LEAST_ROOM_PX) break;
  while (isTooMuch() && unitPx > LEAST_UNIT_PX) unitPx *= SHRINK;
  const middles = [middleOf(mark, place, photo, unitPx, light)];
  return { unitPx, middles, isShrunk: unitPx < wanted * SHRINK, roomPx };
}

const LEAST_UNIT_PX = 0.01;
const LEAST_ROOM_PX = 4;

/** Pixels for the mark's unit by its rule of size. */
function unitBySize({ box }: LaidMark, { size }: MarkPlace, { width, height }: PhotoSize): number {
  const share = size.percent / 100;
  switch (size.of) {
    case 'width':
      return (share * width) / box.width;
    case 'height':
      return (share * height) / box.height;
    case 'shorter':
      return (share * Math.min(width, height)) / box.width;
    case 'area':
      return Math.sqrt((share * width * height) / (box.width * box.height));
  }
}

/** The same, but no larger than fits between the insets. */
function fittedUnit(mark: LaidMark, place: MarkPlace, photo: PhotoSize, unitPx: number): number {
  const inset = insetPx(place, photo);
  const { width, height } = turnedSize(mark, unitPx, place.angleDeg);
  return unitPx * Math.min(1, (photo.width - 2 * inset) / width, (photo.height - 2 * inset) / height);
}

function insetPx({ inset }: MarkPlace, { width, height }: PhotoSize): number {
  return (inset / 100) * Math.min(width, height);
}

function turnedSize({ box }: LaidMark, unitPx: number, angleDeg: number): PhotoSize {
  const [width, height] = [box.width * unitPx, box.height * unitPx];
  const corners = cornersOf({ x: -width / 2, y: -height / 2, width, height }, angleDeg);
  return {
    width: 2 * Math.max(...corners.map(({ x }) => x)),
    height: 2 * Math.max(...corners.map(({ y }) => y)),
  };
}

function areaOf(mark: LaidMark, look: MarkLook, drawing: MarkDrawing): number {
  const { width, height } = regionOf(mark, look, drawing);
  return width * height;
}

function middleOf(
  mark: LaidMark,
  place: MarkPlace,
  photo: PhotoSize,
  unitPx: number,
  light: (() => Plane<Float32Array>) | null,
) {
  const size = turnedSize(mark, unitPx, place.angleDeg);
  const inset = insetPx(place, photo);
  const parts = place.anchor.split('-');
  const along = (near: string, far: string, whole: number, own: number) =>
    parts.includes(near) ? inset + own / 2 : parts.includes(far) ? whole - inset - own / 2 : whole / 2;
  const middle = {
    x: along('left', 'right', photo.width, size.width),
    y: along('top', 'bottom', photo.height, size.height),
  };
  return place.quiet && light ? quietMiddle(light(), photo, middle, size, inset) : middle;
}

/** How far from its anchor a quiet place is looked for, as shares of the photo, and steps in which it is. */
const QUIET_SHARE = 0.4;
const QUIET_STEPS = 16;

/** How much a place counts as less quiet for being as far away as is looked. */
const FAR_COST = 2;

/** The place near another where the photo is calmest: the least gradients on the average, and no square full of them. */
function quietMiddle(
  light: Plane<Float32Array>,
  photo: PhotoSize,
  middle: { readonly x: number; readonly y: number },
  size: PhotoSize,
  inset: number,
) {
  const scale = light.width / photo.width;
  const sums = summedGradients(light);
  const [farX, farY] = [QUIET_SHARE * photo.width, QUIET_SHARE * photo.height];
  let best = middle;
  let least = Infinity;
  for (let v = -QUIET_STEPS; v <= QUIET_STEPS; v++)
    for (let u = -QUIET_STEPS; u <= QUIET_STEPS; u++) {
      const x = middle.x + (u / QUIET_STEPS) * farX;
      const y = middle.y + (v / QUIET_STEPS) * farY;
      const isWithin =
        x - size.width / 2 >= inset - 1 &&
        x + size.width / 2 <= photo.width - inset + 1 &&
        y - size.height / 2 >= inset - 1 &&
        y + size.height / 2 <= photo.height - inset + 1;
      if (!isWithin) continue;
      const restless = restlessness(
        sums,
        light,
        (x - size.width / 2) * scale,
        (y - size.height / 2) * scale,
        {
          width: size.width * scale,
          height: size.height * scale,
        },
      );
      const far = (u * u + v * v) / (2 * QUIET_STEPS * QUIET_STEPS);
      const cost = restless + FAR_COST * far;
      if (cost < least) {
        least = cost;
        best = { x, y };
      }
    }
  return best;
}

/** Sums of gradients above and left of each place: `(width + 1) x (height + 1)`. */
function summedGradients({ data, width, height }: Plane<Float32Array>): Float64Array {
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const across = x + 1 < width ? Math.abs(data[i + 1]! - data[i]!) : 0;
      const down = y + 1 < height ? Math.abs(data[i + width]! - data[i]!) : 0;
      row += across + down;
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1]! + row;
    }
  }
  return sums;
}

/** Squares that a place is looked at in, for details that a mean would hide. */
const SQUARES = 3;

function restlessness(
  sums: Float64Array,
  { width, height }: Plane<Float32Array>,
  left: number,
  top: number,
  size: PhotoSize,
): number {
  const mean = (x0: number, y0: number, x1: number, y1: number) => {
    const [a, b] = [clampTo(Math.floor(x0), width), clampTo(Math.ceil(x1), width)];
    const [c, d] = [clampTo(Math.floor(y0), height), clampTo(Math.ceil(y1), height)];
    const stride = width + 1;
    const sum = sums[d * stride + b]! - sums[c * stride + b]! - sums[d * stride + a]! + sums[c * stride + a]!;
    return sum / Math.max(1, (b - a) * (d - c));
  };
  let worst = 0;
  for (let v = 0; v < SQUARES; v++)
    for (let u = 0; u < SQUARES; u++)
      worst = Math.max(
        worst,
        mean(
          left + (u * size.width) / SQUARES,
          top + (v * size.height) / SQUARES,
          left + ((u + 1) * size.width) / SQUARES,
          top + ((v + 1) * size.height) / SQUARES,
        ),
      );
  return mean(left, top, left + size.width, top + size.height) + worst;
}

function clampTo(value: number, most: number): number {
  return Math.min(most, Math.max(0, value));
}

/** The middles of copies over the whole photo; they stand farther apart where they would change too much of it. */
function tiledUnit(
  mark: LaidMark,
  look: MarkLook,
  place: MarkPlace,
  photo: PhotoSize,
  unitPx: number,
): Omit<MarkPlaces, 'isShrunk'> {
  const tiled = place.tiled!;
  const area = areaOf(mark, look, { unitPx, angleDeg: place.angleDeg, mostVeilPx: Infinity });
  const most = (place.mostShare / 100) * photo.width * photo.height;
  const size = { width: mark.box.width * unitPx, height: mark.box.height * unitPx };
  let across = size.width * (1 + tiled.across / 100);
  let down = size.height * (1 + tiled.down / 100);
  for (;;) {
    const middles = gridOf(photo, across, down, place.angleDeg, tiled.stagger / 100);
    const isEnough =
      middles.length <= MOST_COPIES && (place.mostShare >= 100 || middles.length * area <= most);
    const roomPx = Math.max(0, Math.min(across - size.width, down - size.height)) / 2;
    if (isEnough || middles.length <= 1) return { unitPx, middles, roomPx };
    across *= 1.1;
    down *= 1.1;
  }
}

/** Places of a grid that is turned about the photo's middle; those whose copies would lie on the photo. */
function gridOf(photo: PhotoSize, across: number, down: number, angleDeg: number, stagger: number) {
  const half = Math.sqrt(photo.width * photo.width + photo.height * photo.height) / 2;
  const columns = Math.ceil(half / across) + 1;
  const rows = Math.ceil(half / down) + 1;
  const middles: { x: number; y: number }[] = [];
  for (let v = -rows; v <= rows; v++)
    for (let u = -columns; u <= columns; u++) {
      const late = v % 2 === 0 ? 0 : stagger;
      const [corner] = cornersOf(
        { x: -(u + late) * across, y: -v * down, width: 2 * (u + late) * across, height: 2 * v * down },
        angleDeg,
      );
      const x = photo.width / 2 + corner!.x;
      const y = photo.height / 2 + corner!.y;
      if (x > -across / 2 && y > -down / 2 && x < photo.width + across / 2 && y < photo.height + down / 2)
        middles.push({ x, y });
    }
  return middles;
}
