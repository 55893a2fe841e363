import type { Prepare } from './settings';
import { badArgument } from '../../errors';
import { sineAndCosineOfDegrees } from '../../numeric/exact';
import {
  apply,
  IDENTITY,
  inverse,
  multiply,
  squareToQuad,
  type Matrix3,
  type Point,
} from '../../numeric/matrix3';
import { clipRect, wholeOf, type Rect } from '../../raster/raster';

/**
 * How a picture lies after Prepare: its size, the part of it that is delivered, and where its places come from. Places
 * are continuous: pixel (x, y) covers x to x + 1 and y to y + 1.
 */
export interface Frame {
  /** Size of the picture squared up, turned and straightened, not yet cropped, in pixels of about the original's size. */
  readonly width: number;
  readonly height: number;
  /** The crop in it; all of it where nothing is cropped. */
  readonly crop: Rect;
  readonly toOriginal: Matrix3;
  readonly toFrame: Matrix3;
  /** Whether pixels fall on pixels, so that nothing is resampled. */
  readonly exact: boolean;
}

/** Longest side of a frame, as a multiple of the original's. */
const LONGEST_TIMES = 2;

/**
 * The frame of a picture of that size. In this order: the sheet between the four corners is squared up, left and right are
 * exchanged, quarter turns are made, then the picture is straightened around its middle and grows so that nothing is lost.
 * Throws `bad-argument` where the corners span no sheet, or where the crop lies outside of the picture.
 */
export function frameOf(prepare: Prepare, width: number, height: number): Frame {
  if (!prepare.on) return frameWith({ width, height }, IDENTITY, true, null);
  let size = { width, height };
  let toOriginal: Matrix3 = IDENTITY;
  if (prepare.corners) {
    const sheet = sheetOf(prepare.corners, size);
    ({ size } = sheet);
    toOriginal = sheet.toOriginal;
  }
  if (prepare.flip) toOriginal = multiply(toOriginal, [-1, 0, size.width, 0, 1, 0, 0, 0, 1]);
  for (let turn = 0; turn < prepare.turn; turn += 90) {
    // A quarter turn clockwise: (x, y) of the turned picture was (y, height - x).
    toOriginal = multiply(toOriginal, [0, 1, 0, -1, 0, size.height, 0, 0, 1]);
    size = { width: size.height, height: size.width };
  }
  if (prepare.straightenDeg !== 0) {
    const { sine, cosine } = sineAndCosineOfDegrees(prepare.straightenDeg);
    const across = Math.ceil(size.width * cosine + size.height * Math.abs(sine) - 1e-9);
    const down = Math.ceil(size.height * cosine + size.width * Math.abs(sine) - 1e-9);
    // Turned clockwise for angles above 0, around the middle.
    toOriginal = multiply(toOriginal, [
      cosine,
      sine,
      size.width / 2 - (cosine * across + sine * down) / 2,
      -sine,
      cosine,
      size.height / 2 - (-sine * across + cosine * down) / 2,
      0,
      0,
      1,
    ]);
    size = { width: across, height: down };
  }
  const exact = prepare.corners === null && prepare.straightenDeg === 0;
  return frameWith(size, toOriginal, exact, prepare.crop);
}

function frameWith(
  { width, height }: { width: number; height: number },
  toOriginal: Matrix3,
  exact: boolean,
  wanted: Rect | null,
): Frame {
  const crop = wanted ? clipRect(wanted, width, height) : wholeOf({ width, height });
  if (wanted && (crop.width === 0 || crop.height === 0)) {
    const { x, y } = wanted;
    throw badArgument('cut.prepare.crop', `a place within ${width} x ${height} pixels`, `${x},${y}`);
  }
  return { width, height, crop, toOriginal, toFrame: inverse(toOriginal)!, exact };
}

function sheetOf(corners: NonNullable<Prepare['corners']>, whole: { width: number; height: number }) {
  const points = corners.map(([x, y]) => ({ x, y })) as unknown as readonly [Point, Point, Point, Point];
  const [p0, p1, p2, p3] = points;
  const size = {
    width: sideOf(p0, p1, p3, p2, whole),
    height: sideOf(p0, p3, p1, p2, whole),
  };
  const quad = isConvex(points) ? squareToQuad(points) : null;
  if (!quad || !inverse(quad))
    throw badArgument(
      'cut.prepare.corners',
      'four corners of a sheet: upper left, upper right, lower right, lower left',
      JSON.stringify(corners),
    );
  return { size, toOriginal: multiply(quad, [1 / size.width, 0, 0, 0, 1 / size.height, 0, 0, 0, 1]) };
}

/** The mean length of two opposite sides in whole pixels. */
function sideOf(a: Point, b: Point, c: Point, d: Point, whole: { width: number; height: number }): number {
  const length = (p: Point, q: Point) => Math.sqrt((p.x - q.x) * (p.x - q.x) + (p.y - q.y) * (p.y - q.y));
  const most = LONGEST_TIMES * Math.max(whole.width, whole.height);
  return Math.max(1, Math.min(most, Math.round((length(a, b) + length(c, d)) / 2)));
}

/** Whether four corners go around clockwise without crossing, as those of a sheet do. */
export function isConvex(points: readonly Point[]): boolean {
  return points.every((p, k) => {
    const q = points[(k + 1) % 4]!;
    const r = points[(k + 2) % 4]!;
    return (q.x - p.x) * (r.y - q.y) - (q.y - p.y) * (r.x - q.x) > 0;
  });
}

/** Where the middle of a pixel of the original lies in the frame, in whole pixels; may lie outside. */
export function pixelToFrame({ toFrame }: Frame, x: number, y: number): Point {
  const at = apply(toFrame, x + 0.5, y + 0.5);
  return { x: Math.floor(at.x), y: Math.floor(at.y) };
}

/** The pixel of the original that the middle of a pixel of the frame comes from, in whole pixels; may lie outside. */
export function pixelToOriginal({ toOriginal }: Frame, x: number, y: number): Point {
  const at = apply(toOriginal, x + 0.5, y + 0.5);
  return { x: Math.floor(at.x), y: Math.floor(at.y) };
}
