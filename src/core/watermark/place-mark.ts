import { cornersOf } from '../proof/place';
import type { Plane } from '../raster/plane';
import { regionOf, veilReachPx, type MarkDrawing } from './draw-mark';
import type { LaidMark } from './layout';
import { quietMiddle } from './quiet-place';
import type { MarkLook, MarkPlace, PhotoSize, Watermark } from './settings';

// What the figures of this file rest on: docs/decisions/021-watermarks.md

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
