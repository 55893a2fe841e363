import { colorDistance, labOf, type Lab } from '../color/oklab';
import { median } from '../numeric/statistics';
import type { Raster } from '../raster/raster';
import type { Surface } from '../stages/clear/surface';
import { surfaceColor } from '../stages/clear/surface';

/** What a picture's frame looks like. */
export interface FrameReading {
  /** Indices of its pixels. */
  readonly pixels: readonly number[];
  /** Its middle color, encoded sRGB. */
  readonly color: readonly [number, number, number];
  /** Share of its pixels within FLAT_TOLERANCE units of that color. */
  readonly flatShare: number;
  /** Share of its pixels that are fully transparent. */
  readonly clearShare: number;
}

/** Frame pixels nearer than this to one color, in units of tolerance, are of that color. */
const FLAT_TOLERANCE = 6;

/** Reads the frame: rows and columns about a fiftieth of the shorter side deep. */
export function readFrame(raster: Raster): FrameReading {
  const { width, height, data } = raster;
  const depth = Math.max(1, Math.floor(Math.min(width, height) / 50));
  const pixels: number[] = [];
  for (let y = 0; y < height; y++) {
    const edge = y < depth || y >= height - depth;
    for (let x = 0; x < width; x++) if (edge || x < depth || x >= width - depth) pixels.push(y * width + x);
  }
  const opaque = pixels.filter((i) => data[i * 4 + 3]! > 0);
  const channel = (c: number) => median(opaque.map((i) => data[i * 4 + c]!)) || 0;
  const color = [channel(0), channel(1), channel(2)] as const;
  const lab = labOf(...color);
  const near = opaque.filter((i) => colorDistance(labAt(data, i), lab) <= FLAT_TOLERANCE).length;
  return {
    pixels,
    color,
    flatShare: near / pixels.length,
    clearShare: 1 - opaque.length / pixels.length,
  };
}

/** Share of the frame's pixels that a surface explains within FLAT_TOLERANCE units. */
export function shareOnSurface(raster: Raster, frame: FrameReading, surface: Surface): number {
  const scaleX = surface.width / raster.width;
  const scaleY = surface.height / raster.height;
  let near = 0;
  for (const i of frame.pixels) {
    const x = i % raster.width;
    const there = surfaceColor(surface, x * scaleX, ((i - x) / raster.width) * scaleY);
    const lab = labOf(Math.round(there.red), Math.round(there.green), Math.round(there.blue));
    if (colorDistance(labAt(raster.data, i), lab) <= FLAT_TOLERANCE) near++;
  }
  return near / frame.pixels.length;
}

/** How much a surface changes over the picture: the largest distance between the colors of a 3 x 3 grid of places. */
export function rangeOf(surface: Surface): number {
  const labs: Lab[] = [];
  for (const u of [0.02, 0.5, 0.98]) {
    for (const v of [0.02, 0.5, 0.98]) {
      const { red, green, blue } = surfaceColor(surface, u * surface.width, v * surface.height);
      labs.push(labOf(Math.round(red), Math.round(green), Math.round(blue)));
    }
  }
  return Math.max(...labs.flatMap((one) => labs.map((other) => colorDistance(one, other))));
}

function labAt(data: Uint8Array, i: number): Lab {
  return labOf(data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!);
}
