import { boardSteps, renderBoard } from '../../src/core/board';
import { untouchedCut } from '../../src/core/cut/parse';
import type { Cut } from '../../src/core/cut/schema';
import { nearestPixel, squaredDistance } from '../../src/core/numeric/distance-transform';
import { labelRuns } from '../../src/core/numeric/label';
import { seededRandom } from '../../src/core/numeric/random';
import { runToEnd } from '../../src/core/numeric/steps';
import type { Raster } from '../../src/core/raster/raster';
import { textOfPath, type PathPlace } from '../../src/core/stages/touch-up/path';
import type { HandStroke } from '../../src/core/stages/touch-up/settings';
import { simplified } from '../../src/core/stages/touch-up/simplify';

/** How far a hand is off, in pixels, at places this far apart along its way. */
const OFF_PX = 3;
const EVERY_PX = 14;

/** Where alpha is off by more than this a person sees it. */
const SEEN_ALPHA = 64;

/** So many of the largest wrong places of each kind are tried. */
const TRIED = 3;

/** What a hand made of a cut, and how far alpha is from the truth (mean square, times 1000) before and after each stroke. */
export interface ByHand {
  readonly strokes: readonly HandStroke[];
  readonly mse: readonly number[];
}

/**
 * Plays a person with a brush: the largest places that are wrong are gone over, each along its border or through its middle, off
 * by up to OFF_PX, and what helps most is kept. Where that helps more, everything is cleared and the subject outlined and
 * brought back.
 */
export function playHand(picture: Raster, truth: Raster, proposed: Cut | null, count: number): ByHand {
  const cut = proposed ?? untouchedCut();
  const board = runToEnd(boardSteps({ original: picture }, cut));
  const random = seededRandom(count);
  const draw = (strokes: readonly HandStroke[]) =>
    runToEnd(renderBoard(board, { ...cut, touchUp: { ...cut.touchUp, strokes: [...strokes] } })).raster;
  let strokes: readonly HandStroke[] = [];
  let now = draw(strokes);
  const mse = [alphaError(now, truth)];
  while (strokes.length < count) {
    let best: {
      readonly more: readonly HandStroke[];
      readonly error: number;
      readonly raster: Raster;
    } | null = null;
    for (const more of waysOn(now, truth, random)) {
      if (strokes.length + more.length > count) continue;
      const raster = draw([...strokes, ...more]);
      const error = alphaError(raster, truth);
      if (!best || error < best.error) best = { more, error, raster };
    }
    if (!best || best.error >= mse.at(-1)!) break;
    strokes = [...strokes, ...best.more];
    now = best.raster;
    for (let k = 0; k < best.more.length; k++) mse.push(best.error);
  }
  return { strokes, mse };
}

export function alphaError({ data }: Raster, truth: Raster): number {
  let sum = 0;
  for (let p = 3; p < data.length; p += 4) {
    const off = (data[p]! - truth.data[p]!) / 255;
    sum += off * off;
  }
  return (1000 * sum) / (data.length / 4);
}

/** What a person might do next: lists of strokes that belong together. */
function* waysOn(now: Raster, truth: Raster, random: () => number): Generator<readonly HandStroke[]> {
  for (const does of ['clear', 'restore'] as const) {
    const wrong = maskOf(now, (p) =>
      does === 'clear'
        ? now.data[p]! - truth.data[p]! > SEEN_ALPHA
        : truth.data[p]! - now.data[p]! > SEEN_ALPHA,
    );
    for (const part of largest(wrong, now, TRIED)) {
      yield [areaOf(does, shaky(outlineOf(part, now.width, now.height), random))];
      yield [throughMiddle(does, part, now, random)];
    }
  }
  const subject = maskOf(truth, (p) => truth.data[p]! > 127);
  const parts = largest(subject, truth, 2).map((part) =>
    areaOf('restore', shaky(outlineOf(part, truth.width, truth.height), random)),
  );
  const { width, height } = now;
  const all = areaOf('clear', [
    [-9, -9],
    [width + 9, -9],
    [width + 9, height + 9],
    [-9, height + 9],
  ]);
  if (parts.length > 0) yield [all, parts[0]!];
  if (parts.length > 1) yield [all, ...parts];
}

/** The picture's pixels as a mask; `isIn` is told where alpha lies. */
function maskOf({ data }: Raster, isIn: (p: number) => boolean): Uint8Array {
  const mask = new Uint8Array(data.length / 4);
  for (let i = 0, p = 3; i < mask.length; i++, p += 4) if (isIn(p)) mask[i] = 1;
  return mask;
}

/** The largest parts that hang together, each as a mask. */
function largest(mask: Uint8Array, { width, height }: Raster, count: number): Uint8Array[] {
  const parts = labelRuns({ data: mask, width, height }, 1);
  const order = parts.areas.map((area, part) => ({ area, part })).sort((one, other) => other.area - one.area);
  const wanted = new Map(order.slice(0, count).map(({ part }) => [part, new Uint8Array(mask.length)]));
  parts.forEachRun((part, start, length) => wanted.get(part)?.fill(1, start, start + length));
  return [...wanted.values()];
}

/** The outer border of a part, along the sides of its pixels, clockwise. */
function outlineOf(mask: Uint8Array, width: number, height: number): PathPlace[] {
  const first = mask.indexOf(1);
  const isIn = (x: number, y: number) =>
    x >= 0 && y >= 0 && x < width && y < height && mask[y * width + x] === 1;
  const start: PathPlace = [first % width, Math.floor(first / width)];
  const places: PathPlace[] = [];
  let [x, y] = start;
  let [dx, dy] = [1, 0];
  do {
    places.push([x, y]);
    // The pixels ahead, to the right and to the left of the way.
    const ahead = (side: number) => isIn(x + (dx - dy * side - 1) / 2, y + (dy + dx * side - 1) / 2);
    if (ahead(-1)) [dx, dy] = [dy, -dx];
    else if (!ahead(1)) [dx, dy] = [-dy, dx];
    [x, y] = [x + dx, y + dy];
  } while (x !== start[0] || y !== start[1]);
  return places;
}

/** A border as a hand follows it. */
function shaky(places: readonly PathPlace[], random: () => number): PathPlace[] {
  const every = places.filter((_, k) => k % EVERY_PX === 0);
  const off = () => (2 * random() - 1) * OFF_PX;
  const led = every.map(([x, y]): PathPlace => [x + off(), y + off()]);
  return led.length < 3 ? [...places] : simplified(led, 0.5);
}

function areaOf(does: 'clear' | 'restore', places: readonly PathPlace[]): HandStroke {
  return { kind: 'area', does, shape: 'outline', corners: textOfPath(places), offsetPx: 0, softnessPx: 0 };
}

/** A brush led through the middle of a part, as wide as the part is there in the mean. */
function throughMiddle(
  does: 'clear' | 'restore',
  mask: Uint8Array,
  { width, height }: Raster,
  random: () => number,
): HandStroke {
  const nearest = nearestPixel({ data: mask, width, height }, 0);
  const depth = Float64Array.from(mask, (value, i) =>
    value === 1 && nearest[i]! >= 0 ? squaredDistance(i, nearest[i]!, width) : 0,
  );
  const far = (from: number) => farthest(mask, width, height, from);
  const [one] = far(mask.indexOf(1));
  const [other, came] = far(one);
  const way: number[] = [];
  for (let i = other; i >= 0; i = came[i]!) way.push(i);
  // The way is drawn to where the part is deepest near it.
  const middles = way.filter((_, k) => k % EVERY_PX === 0).map((i) => deepest(depth, mask, width, height, i));
  const radius = middles.reduce((sum, i) => sum + Math.sqrt(depth[i]!), 0) / middles.length;
  const off = () => (2 * random() - 1) * OFF_PX;
  const path = middles.map((i): PathPlace => [
    (i % width) + 0.5 + off(),
    Math.floor(i / width) + 0.5 + off(),
  ]);
  return {
    kind: 'brush',
    does,
    radiusPx: Math.min(500, Math.max(1, radius)),
    softness: 0,
    strength: 100,
    pressure: 'none',
    alike: null,
    path: textOfPath(path),
  };
}

/** The pixel of a part that is farthest from another along it, and the way there. */
function farthest(mask: Uint8Array, width: number, height: number, from: number): [number, Int32Array] {
  const came = new Int32Array(mask.length).fill(-2);
  const found = [from];
  came[from] = -1;
  for (let k = 0; k < found.length; k++) {
    const i = found[k]!;
    const x = i % width;
    const y = (i - x) / width;
    for (const [u, v] of [
      [x - 1, y],
      [x + 1, y],
      [x, y - 1],
      [x, y + 1],
    ] as const) {
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const n = v * width + u;
      if (mask[n] === 0 || came[n] !== -2) continue;
      came[n] = i;
      found.push(n);
    }
  }
  return [found.at(-1)!, came];
}

/** From a pixel step by step to where the part is deepest. */
function deepest(
  depth: ArrayLike<number>,
  mask: Uint8Array,
  width: number,
  height: number,
  from: number,
): number {
  let at = from;
  for (;;) {
    const x = at % width;
    const y = (at - x) / width;
    let next = at;
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const n = v * width + u;
        if (mask[n] === 1 && depth[n]! > depth[next]!) next = n;
      }
    if (next === at) return at;
    at = next;
  }
}
