import type { Plane } from '../../../raster/plane';
import { Fact, Remembered } from '../../../scene/memo';
import type { ByInk } from '../settings';
import { labelRuns } from '../../../numeric/label';
import type { Scene } from '../../../scene/scene';
import { inkAlphaInto } from './ink-alpha';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Alpha from which a pixel hangs together with its neighbors. */
const LEAST_ALPHA = 8;

/** A speck this much larger than asked for is dropped too where it is nowhere darker than FAINT_ALPHA: a shade of the paper. */
const FAINT_TIMES = 12;
const FAINT_ALPHA = 90;

/** Specks that are dropped, by size and settings. */
const SPECKS = new Fact(() => new Remembered<Uint8Array | null>(7));

/**
 * Marks with 1 the pixels of specks: what hangs together (8 neighbors) over fewer than `speckPx` square pixels of the
 * original, or is faint and not much larger. Null where there are none. Kept for the scene's size.
 */
export function droppedSpecks(scene: Scene, ink: ByInk, table: Uint8Array): Uint8Array | null {
  const { raster, reduction, memo } = scene;
  const key = JSON.stringify([reduction, raster.width, ink]);
  return memo.of(SPECKS).at(key, () => {
    const alphas = new Uint8Array(raster.width * raster.height);
    inkAlphaInto(raster, ink, table, alphas);
    return specksOf(
      { data: alphas, width: raster.width, height: raster.height },
      ink.speckPx / 4 ** reduction,
    );
  });
}

/** What is fainter than TRACE_ALPHA and has nothing as dark as STROKE_ALPHA within NEAR_PX is a trace of the paper or of compression. */
const TRACE_ALPHA = 32;
const STROKE_ALPHA = 64;
const NEAR_PX = 2;

/** Marks the pixels of specks below an area in an alpha plane, and clears nothing else. */
export function specksOf({ data: alphas, width, height }: Plane, areaPx: number): Uint8Array | null {
  const parts = labelRuns({ data: alphas, width, height }, LEAST_ALPHA);
  const drop = parts.areas.map((area, k) =>
    area < areaPx || (area < FAINT_TIMES * areaPx && parts.peaks[k]! < FAINT_ALPHA) ? 1 : 0,
  );
  const marks = new Uint8Array(alphas.length);
  let any = false;
  // What is below LEAST_ALPHA hangs together with nothing; it goes with what lies beside it or where nothing does.
  for (let i = 0; i < alphas.length; i++) if (alphas[i]! > 0 && alphas[i]! < LEAST_ALPHA) marks[i] = 2;
  parts.forEachRun((part, start, length) => {
    if (drop[part] === 1) {
      marks.fill(1, start, start + length);
      any = true;
    } else keepAround(marks, start, length, width, height);
  });
  for (let i = 0; i < marks.length; i++) {
    if (marks[i] !== 2) continue;
    marks[i] = 1;
    any = true;
  }
  const strokes = nearStrokes(alphas, width);
  for (let i = 0; i < marks.length; i++) {
    if (alphas[i]! >= TRACE_ALPHA || alphas[i] === 0 || strokes[i] === 1) continue;
    marks[i] = 1;
    any = true;
  }
  return any ? marks : null;
}

/** Keeps the faint pixels that touch a run which stays. */
function keepAround(marks: Uint8Array, start: number, length: number, width: number, height: number): void {
  const y = Math.floor(start / width);
  const from = Math.max(0, (start % width) - 1);
  const to = Math.min(width, (start % width) + length + 1);
  for (let row = Math.max(0, y - 1); row <= Math.min(height - 1, y + 1); row++)
    for (let i = row * width + from, end = row * width + to; i < end; i++) if (marks[i] === 2) marks[i] = 0;
}

/** Marks what lies within NEAR_PX steps, across or down, of a stroke. */
function nearStrokes(alphas: Uint8Array, width: number): Uint8Array {
  let marks = new Uint8Array(alphas.length);
  for (let i = 0; i < marks.length; i++) if (alphas[i]! >= STROKE_ALPHA) marks[i] = 1;
  for (let step = 0; step < NEAR_PX; step++) {
    const grown = marks.slice();
    for (let i = 0; i < marks.length; i++) {
      if (marks[i] === 0) continue;
      const x = i % width;
      if (x > 0) grown[i - 1] = 1;
      if (x < width - 1) grown[i + 1] = 1;
      if (i >= width) grown[i - width] = 1;
      if (i + width < grown.length) grown[i + width] = 1;
    }
    marks = grown;
  }
  return marks;
}
