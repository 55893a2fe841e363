import { halve, halvingsTo } from '../../raster/reduce';
import type { Raster } from '../../raster/raster';
import { estimateLight, type Light } from './light';
import { profileAngle, type LineAngle } from './profile-angle';
import { darknessOf, thinLines } from './darkness';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Pixels that are enough to find an angle. */
const SEEN_PIXELS = 400_000;

/** Pictures lie at most so far askew to be straightened by themselves. */
const MOST_DEG = 15;

/** What counts of a place's darkness, at least and at most. */
const FAINT_SHARE = 0.12;
const CAP_SHARE = 0.5;

/** By what the angle was found. */
export interface Straightening extends LineAngle {
  readonly by: 'ruled lines' | 'writing';
}

/**
 * How far a picture of writing must be turned, clockwise above 0, so that its ruled lines, or else its lines of writing,
 * lie level, and how sure that is, 0 to 1. `raster` may be a reduced copy; its paper is estimated where it is not given.
 */
export function findStraightening(raster: Raster, paper?: Light): Straightening {
  const reduction = halvingsTo(SEEN_PIXELS, raster.width, raster.height);
  let small = raster;
  for (let k = 0; k < reduction; k++) small = halve(small);
  const dark = darknessOf(small, paper ?? estimateLight({ raster: small, reduction: 0 }), 0);
  const rules = profileAngle(thinLines(dark), MOST_DEG);
  const ink = new Float32Array(dark.data.length);
  for (let i = 0; i < ink.length; i++)
    ink[i] = dark.data[i]! < FAINT_SHARE ? 0 : Math.min(CAP_SHARE, dark.data[i]!);
  const writing = profileAngle({ ...dark, data: ink }, MOST_DEG);
  const better = rules.confidence > Math.max(0.5, writing.confidence) ? rules : writing;
  return {
    deg: -better.deg,
    confidence: better.confidence,
    by: better === rules ? 'ruled lines' : 'writing',
  };
}
