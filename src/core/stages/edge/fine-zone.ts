import type { Plane } from '../../raster/plane';
import { jpegLumaOf } from '../../color/luma';
import { lengthOf } from '../../numeric/exact';
import { nextOne } from '../../numeric/plane';
import { sampledBackground } from './certain';
import type { EdgeInput } from './mixture';
import type { Spread } from './spread';
import { wayAround } from './ways';

// What the figures of this file rest on: docs/decisions/007-reflections-and-threads.md

/** Subject pixels with no core within this are thin, in pixels; a core pixel has no cleared neighbor. */
const THIN_PX = 2;

/** A strand has at least so many thin pixels within this; less is a speck or the ringing of a compressed picture. */
const STRAND_PX = 6;
const STRAND_PIXELS = 10;

/** Bundles of threads have no certain inside within this, in pixels. */
const INSIDE_PX = 4;

/**
 * Around thin pixels everything within this is solved, cleared or not: threads fade out and enclose small areas. At
 * reduced sizes it shrinks with the picture, but not below LEAST_ZONE_PX.
 */
const ZONE_PX = 9;
const LEAST_ZONE_PX = 3;

/** How often the zone grows into what still looks like background, and how near to it that is in luma, encoded. */
const GROWTH_ROUNDS = 6;
const ALIKE_LUMA = 22;

/**
 * Ends of threads fade out within the tolerance. The zone follows them that often: where the mean of 3 x 3 cleared pixels at
 * its rim differs from the background by more than LEAST_TRACE_ENCODED and so many of its own spreads.
 */
const FOLLOWED_ROUNDS = 3;
const LEAST_TRACE_ENCODED = 1;
const TRACE_SPREADS = 2;

/**
 * Where the subject is of threads: marks 1 around subject pixels that have no core near, and from there around those
 * that have no certain inside near, where threads lie close, and along their faint ends. `band` is that of the same mask,
 * `spread` that of the band.
 */
export function fineZone(input: EdgeInput, band: Uint8Array, spread: Spread): Uint8Array {
  const {
    cleared,
    scratch,
    around: { width, height },
  } = input;
  const zone = scratch.zeroed('fine zone', cleared.length);
  const thin = scratch.zeroed('fine thin', cleared.length);
  const planeOf = (data: Uint8Array): Plane => ({ data, width, height });
  const [zones, thins, mask, edge] = [planeOf(zone), planeOf(thin), planeOf(cleared), planeOf(band)];
  const seeds: number[] = [];
  // Whether a pixel is a core: 0 as long as nobody asked.
  const cores = scratch.zeroed('fine cores', cleared.length);
  for (let i = nextOne(band, 0); i >= 0; i = nextOne(band, i + 1)) {
    if (input.solid?.[i] === 1 || hasCore(mask, cores, i % width, Math.floor(i / width))) continue;
    thin[i] = 1;
    seeds.push(i);
  }
  const radius = Math.max(LEAST_ZONE_PX, ZONE_PX >> input.reduction);
  const strands = seeds.filter((i) => countAround(thins, i % width, Math.floor(i / width)) >= STRAND_PIXELS);
  if (strands.length === 0) return zone;
  markAll(zones, strands, radius);
  const bundled: number[] = [];
  for (let i = nextOne(zone, 0); i >= 0; i = nextOne(zone, i + 1))
    if (band[i] === 1 && !hasInside(cleared, edge, i % width, Math.floor(i / width))) bundled.push(i);
  markAll(zones, bundled, radius);
  for (let round = 0; round < GROWTH_ROUNDS; round++) grow(input, zones, radius);
  for (let round = 0; round < FOLLOWED_ROUNDS; round++) follow(input, zones, band, spread, radius);
  if (input.solid) for (let i = 0; i < zone.length; i++) if (input.solid[i] === 1) zone[i] = 0;
  return zone;
}

/** Takes in the surroundings of what is in the zone and not cleared, but hardly differs from the background in luma. */
function grow(input: EdgeInput, zones: Plane, radius: number): void {
  const {
    raster,
    around,
    cleared,
    around: { width },
  } = input;
  const { data: zone } = zones;
  const b = new Float64Array(3);
  const edge: number[] = [];
  for (let i = nextOne(zone, 0); i >= 0; i = nextOne(zone, i + 1)) {
    if (cleared[i] === 1) continue;
    const x = i % width;
    const y = (i - x) / width;
    if (enclosed(zones, x, y)) continue;
    const p = ((around.y + y) * raster.width + around.x + x) * 4;
    if (sampledBackground(input, i, b) && lumaApart(raster.data, p, b) < ALIKE_LUMA) edge.push(i);
  }
  markAll(zones, edge, radius);
}

/** Takes in the surroundings of cleared pixels of the zone's rim that a thread has left a trace in. */
function follow(input: EdgeInput, zones: Plane, band: Uint8Array, spread: Spread, radius: number): void {
  const {
    raster,
    around,
    cleared,
    around: { width, height },
  } = input;
  const { data: zone } = zones;
  const b = new Float64Array(3);
  const way = new Float64Array(3);
  const traces: number[] = [];
  for (let i = nextOne(zone, 0); i >= 0; i = nextOne(zone, i + 1)) {
    if (cleared[i] === 0) continue;
    const x = i % width;
    const y = (i - x) / width;
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1 || enclosed(zones, x, y)) continue;
    // Beside what stays it may be an edge that shows, not a thread; a drawing's colors tell them apart.
    if (band[i] !== 0 && input.drawnColors.length === 0) continue;
    if (!spread.background(x, y, b) && !sampledBackground(input, i, b)) continue;
    wayAround(raster, around.x + x, around.y + y, 1, b, way);
    // The mean of nine pixels spreads a third as far as one.
    const trace = lengthOf(way[0]!, way[1]!, way[2]) / 9;
    if (trace > LEAST_TRACE_ENCODED + (TRACE_SPREADS * spread.at(i, 1)) / 3) traces.push(i);
  }
  markAll(zones, traces, radius);
}

function enclosed({ data: zone, width, height }: Plane, x: number, y: number): boolean {
  const i = y * width + x;
  return (
    (x === 0 || zone[i - 1] === 1) &&
    (x === width - 1 || zone[i + 1] === 1) &&
    (y === 0 || zone[i - width] === 1) &&
    (y === height - 1 || zone[i + width] === 1)
  );
}

function lumaApart(data: Uint8Array, p: number, b: Float64Array): number {
  return Math.abs(jpegLumaOf(data[p]! - b[0]!, data[p + 1]! - b[1]!, data[p + 2]! - b[2]!));
}

function countAround({ data: thin, width, height }: Plane, x: number, y: number): number {
  let count = 0;
  for (let ny = Math.max(0, y - STRAND_PX); ny <= Math.min(height - 1, y + STRAND_PX); ny++) {
    for (let nx = Math.max(0, x - STRAND_PX); nx <= Math.min(width - 1, x + STRAND_PX); nx++)
      count += thin[ny * width + nx]!;
  }
  return count;
}

function hasInside(cleared: Uint8Array, { data: band, width, height }: Plane, x: number, y: number): boolean {
  for (let ny = Math.max(0, y - INSIDE_PX); ny <= Math.min(height - 1, y + INSIDE_PX); ny++) {
    for (let nx = Math.max(0, x - INSIDE_PX); nx <= Math.min(width - 1, x + INSIDE_PX); nx++) {
      const j = ny * width + nx;
      if (band[j] === 0 && cleared[j] === 0) return true;
    }
  }
  return false;
}

function hasCore(mask: Plane, cores: Uint8Array, x: number, y: number): boolean {
  const { width, height } = mask;
  for (let ny = Math.max(0, y - THIN_PX); ny <= Math.min(height - 1, y + THIN_PX); ny++) {
    for (let nx = Math.max(0, x - THIN_PX); nx <= Math.min(width - 1, x + THIN_PX); nx++) {
      const i = ny * width + nx;
      if (cores[i] === 0) cores[i] = isCore(mask, nx, ny) ? CORE : NO_CORE;
      if (cores[i] === CORE) return true;
    }
  }
  return false;
}

const CORE = 1;
const NO_CORE = 2;

function isCore({ data: cleared, width, height }: Plane, x: number, y: number): boolean {
  for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
      if (cleared[ny * width + nx] === 1) return false;
    }
  }
  return true;
}

/** Marks the squares around some pixels. */
function markAll(zone: Plane, pixels: readonly number[], radius: number): void {
  for (const i of pixels) mark(zone, i % zone.width, Math.floor(i / zone.width), radius);
}

function mark({ data: zone, width, height }: Plane, x: number, y: number, radius: number): void {
  for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
    zone.fill(1, ny * width + Math.max(0, x - radius), ny * width + Math.min(width - 1, x + radius) + 1);
  }
}
