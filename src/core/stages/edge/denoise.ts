import type { EdgeInput } from './mixture';
import { isWide, type Transitions } from './transition';

/** States of a pixel: not a mixture or not to be told; solved; solved where the background is free of noise. */
export const UNSOLVED = 0;
export const SOLVED = 1;
export const CLEAN = 2;
/** Solved, but subject and background are too alike to rely on it. */
export const UNSURE = 3;

/** How far around a pixel alpha must be solved before it can be judged. */
export const VEIL_PX = 2;

// What the figures of this file rest on: docs/decisions/005-un-mixing.md

/** Faint alpha with nothing stronger than this beside it is the ringing of a compressed picture, not a subject. */
const VEIL_OPACITY = 0.3;

/** Still fainter alpha needs something stronger right beside it. */
const FAINT_OPACITY = 0.14;

/** Nearly full alpha with nothing fainter than DENT_RIM_OPACITY beside it lies inside of the edge and is full. */
const DENT_OPACITY = 0.8;
const DENT_RIM_OPACITY = 0.5;

/** In a wide transition alpha rises slowly: only what is this near to nothing or all, with nothing farther off beside it. */
const SOFT_END_OPACITY = 0.06;
const SOFT_REST_OPACITY = 0.14;

/** Among threads faint alpha needs company: at least so many of the eight neighbors that are not clear. */
const COMPANY_PIXELS = 2;
const FAINT_THREAD_OPACITY = 0.3;

/** A part whose mixtures are solved. */
export interface Solved {
  /** 1 among threads, see `fineZone`. */
  readonly fine: Uint8Array;
  readonly transitions: Transitions;
  /** 0 to 1 in either; right within VEIL_PX of the part that was asked for. */
  readonly alpha: Float32Array;
  /** Three channels a pixel, 0 to 255, where it was solved. */
  readonly colors: Uint8Array;
  readonly state: Uint8Array;
}

/** Alpha of a pixel that may be a mixture, with what noise left of it taken out. */
export function denoised(input: EdgeInput, solved: Solved, i: number): number {
  if (solved.state[i] === CLEAN) return solved.alpha[i]!;
  if (solved.fine[i] === 1) return denoisedThread(input, solved, i);
  return isWide(solved.transitions, i) ? denoisedSoft(input, solved, i) : denoisedEdge(input, solved, i);
}

/** Alpha with what compression left of it taken out: veils with nothing solid beside them, dents inside of the edge. */
function denoisedEdge(input: EdgeInput, solved: Solved, i: number): number {
  const own = solved.alpha[i]!;
  if (own === 0 || own === 1) return own;
  if (own < FAINT_OPACITY && extreme(input, solved, i, 1, Math.max) < VEIL_OPACITY) return 0;
  if (own < VEIL_OPACITY) return extreme(input, solved, i, VEIL_PX, Math.max) < VEIL_OPACITY ? 0 : own;
  if (own > DENT_OPACITY) return extreme(input, solved, i, 1, Math.min) >= DENT_RIM_OPACITY ? 1 : own;
  return own;
}

/** Alpha within a wide transition with the noise at its ends taken out. */
function denoisedSoft(input: EdgeInput, solved: Solved, i: number): number {
  const own = solved.alpha[i]!;
  if (own < SOFT_END_OPACITY) return extreme(input, solved, i, 1, Math.max) < SOFT_REST_OPACITY ? 0 : own;
  if (own > 1 - SOFT_END_OPACITY)
    return extreme(input, solved, i, 1, Math.min) > 1 - SOFT_REST_OPACITY ? 1 : own;
  return own;
}

/** The largest or smallest alpha in the square around a pixel. */
function extreme(
  input: EdgeInput,
  solved: Solved,
  i: number,
  radius: number,
  pick: (one: number, other: number) => number,
): number {
  const { width, height } = input.around;
  const x = i % width;
  const y = (i - x) / width;
  let found = solved.alpha[i]!;
  for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
    for (let nx = Math.max(0, x - radius); nx <= Math.min(width - 1, x + radius); nx++) {
      found = pick(found, alphaAt(input, solved, ny * width + nx));
    }
  }
  return found;
}

/** Alpha of any pixel: solved where it may be a mixture, all or nothing elsewhere. */
function alphaAt({ cleared }: EdgeInput, { alpha, transitions: { band }, fine }: Solved, i: number): number {
  return band[i]! + fine[i]! === 0 ? 1 - cleared[i]! : alpha[i]!;
}

/** Alpha of a pixel among threads; faint alpha that stands alone is noise. */
function denoisedThread(input: EdgeInput, solved: Solved, i: number): number {
  const own = solved.alpha[i]!;
  if (own === 0 || own >= FAINT_THREAD_OPACITY) return own;
  const { width, height } = input.around;
  const x = i % width;
  const y = (i - x) / width;
  let company = -1;
  for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
    for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
      if (alphaAt(input, solved, ny * width + nx) > 0) company++;
    }
  }
  return company >= COMPANY_PIXELS ? own : 0;
}
