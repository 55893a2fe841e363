import { colorDistance, labOf, type Lab } from '../../color/oklab';
import { square } from '../../numeric/exact';
import { clipRect, type Raster, type Rect } from '../../raster/raster';
import type { Scene } from '../../scene/scene';
import { sampleColor } from '../clear/sample-color';
import type { Footprint } from './footprint';
import type { Path } from './path';

/** What lies under a brush, is alike in color, and hangs together with its line. */
export interface AlikeMask {
  readonly rect: Rect;
  /** 1 for each such pixel of `rect`. */
  readonly data: Uint8Array;
}

/** Side of the square whose color is read where a stroke begins, in pixels of the original. */
const READ_PX = 3;

/** A brush that reads its color along the line does so this often, as a share of its radius. */
const READ_EVERY_SHARE = 0.5;

/** As near to the line a pixel must lie for what is alike to be joined to it. */
const LINE_PX = 0.75;

interface Reading {
  readonly line: Path;
  readonly footprint: Footprint;
  readonly radius: number;
  /** In units of tolerance, as samples have it. */
  readonly tolerance: number;
  /** Whether the color is read where the stroke begins, or again and again along it. */
  readonly reads: 'start' | 'along';
}

/**
 * Marks the pixels under a brush whose color lies within a tolerance of the color that was read, as far as they hang together
 * with the brush's line by 8 neighbors. Colors are those of the prepared picture; the reference is read at full size.
 */
export function alikeMask(scene: Scene, { line, footprint, radius, tolerance, reads }: Reading): AlikeMask {
  const { raster } = scene;
  const rect = clipRect(footprint.box, raster.width, raster.height);
  const data = new Uint8Array(rect.width * rect.height);
  if (data.length === 0) return { rect, data };
  const covered = new Float32Array(data.length);
  footprint.cover(rect, covered);
  const alike = new Uint8Array(data.length);
  const readings = readingsOf(line, reads === 'start' ? Infinity : Math.max(1, radius * READ_EVERY_SHARE));
  for (const [x, y] of readings) {
    const color = colorAt(scene, x, y);
    if (!color) continue;
    const isAlike = alikeTo(raster, color, tolerance);
    const around: Rect =
      reads === 'start'
        ? { x: 0, y: 0, width: rect.width, height: rect.height }
        : squareAround(x - rect.x, y - rect.y, radius + 1, rect);
    for (let v = around.y; v < around.y + around.height; v++)
      for (let u = around.x; u < around.x + around.width; u++) {
        const i = v * rect.width + u;
        if (covered[i] === 0 || alike[i] === 1) continue;
        if (isAlike(((rect.y + v) * raster.width + rect.x + u) * 4)) alike[i] = 1;
      }
  }
  joinFrom(line, rect, alike, data);
  return { rect, data };
}

function squareAround(x: number, y: number, far: number, { width, height }: Rect): Rect {
  const left = Math.floor(x - far);
  const top = Math.floor(y - far);
  return clipRect(
    { x: left, y: top, width: Math.ceil(x + far) - left, height: Math.ceil(y + far) - top },
    width,
    height,
  );
}

/** Places of a line at which a color is read: its start, and one whenever it has gone so far. */
function readingsOf({ xs, ys }: Path, every: number): (readonly [number, number])[] {
  const places: [number, number][] = [[xs[0]!, ys[0]!]];
  for (let k = 1; k < xs.length; k++) {
    const [x, y] = places.at(-1)!;
    const far = Math.sqrt(square(xs[k]! - x) + square(ys[k]! - y));
    if (far < every) continue;
    const count = Math.floor(far / every);
    for (let step = 1; step <= count; step++) {
      const share = (step * every) / far;
      places.push([x + (xs[k]! - x) * share, y + (ys[k]! - y) * share]);
    }
  }
  return places;
}

/** The color of the original around a place of the scene; null outside. */
function colorAt({ original, reduction }: Scene, x: number, y: number): Lab | null {
  const unit = 1 << reduction;
  const [left, top] = [Math.floor(x * unit) - (READ_PX >> 1), Math.floor(y * unit) - (READ_PX >> 1)];
  const area = clipRect(
    { x: left, y: top, width: READ_PX, height: READ_PX },
    original.width,
    original.height,
  );
  if (area.width === 0 || area.height === 0) return null;
  const { red, green, blue } = sampleColor(original, [area]);
  return labOf(red, green, blue);
}

/** Colors remembered at a time; a power of two. */
const MEMO = 1 << 12;

function alikeTo({ data }: Raster, color: Lab, tolerance: number): (p: number) => boolean {
  const keys = new Int32Array(MEMO).fill(-1);
  const known = new Uint8Array(MEMO);
  return (p) => {
    const key = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
    const slot = (key ^ (key >> 7) ^ (key >> 13)) & (MEMO - 1);
    if (keys[slot] !== key) {
      keys[slot] = key;
      const far = colorDistance(labOf(data[p]!, data[p + 1]!, data[p + 2]!), color);
      known[slot] = far <= tolerance ? 1 : 0;
    }
    return known[slot] === 1;
  };
}

/** Marks what of `alike` hangs together with a line. */
function joinFrom({ xs, ys }: Path, rect: Rect, alike: Uint8Array, out: Uint8Array): void {
  const { width, height } = rect;
  const found: number[] = [];
  const take = (x: number, y: number) => {
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    const i = y * width + x;
    if (alike[i] === 0 || out[i] === 1) return;
    out[i] = 1;
    found.push(i);
  };
  for (let k = 0; k < xs.length; k++) {
    const from = Math.max(0, k - 1);
    const [ax, ay] = [xs[from]!, ys[from]!];
    const [wayX, wayY] = [xs[k]! - ax, ys[k]! - ay];
    const steps = Math.max(1, Math.ceil(Math.sqrt(square(wayX) + square(wayY)) / LINE_PX));
    for (let step = 0; step <= steps; step++)
      take(Math.floor(ax + (wayX * step) / steps) - rect.x, Math.floor(ay + (wayY * step) / steps) - rect.y);
  }
  for (let k = 0; k < found.length; k++) {
    const x = found[k]! % width;
    const y = (found[k]! - x) / width;
    for (let v = y - 1; v <= y + 1; v++) for (let u = x - 1; u <= x + 1; u++) take(u, v);
  }
}
