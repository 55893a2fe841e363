import type { EdgeInput } from './mixture';
import type { Spread } from './spread';
import { TransitionWidths } from './transition-width';

/** From its middle a transition reaches so many half widths to either side: there a blurred edge has 2 % left. */
const REACH = 1.64;

/** How much farther pixels may still be mixtures, and how far at most. */
const BESIDE_PX = 0.5;
const MOST_PX = 14;

/** The ordinary band reaches less than this from the outermost uncleared pixels. */
const ORDINARY_PX = 4;

/** From this half width on a transition is wide, in pixels. */
const WIDE = 1.15;

/** A width set by hand counts as a wide transition from here on. */
const WIDE_BY_HAND_PX = 4;

/** Half widths are kept in 32nds of a pixel, steepness in 64ths. */
const HALF_UNIT = 32;
const STEEPNESS_UNIT = 64;

/** What may be a mixture, and how wide transitions are there. All planes cover the surroundings. */
export interface Transitions {
  /** 1 where an uncleared pixel may be a mixture, 2 where a cleared one may, 0 elsewhere. */
  readonly band: Uint8Array;
  /** Half the width of the transition, in units of HALF_UNIT; 0 where it is not known. */
  readonly halves: Uint8Array;
  /** How much wider than in luma transitions are in what alpha is read from, in units of STEEPNESS_UNIT; 0 where not known. */
  readonly steepness: Uint8Array;
}

/** Whether a transition is wide, as of subjects a little out of focus. */
export function isWide({ halves }: Transitions, i: number): boolean {
  return halves[i]! >= WIDE * HALF_UNIT;
}

/** How far across a transition reaches from one end to the other, in pixels; 0 where it is not known. */
export function acrossAt({ halves }: Transitions, i: number): number {
  return (2 * REACH * halves[i]!) / HALF_UNIT;
}

/** By how much alpha must be steepened to take back the width that halved chroma gives an edge; null where not known. */
export function steepnessAt({ steepness }: Transitions, i: number): number | null {
  return steepness[i] === 0 ? null : steepness[i]! / STEEPNESS_UNIT;
}

/**
 * The band as wide as transitions are at each place: narrower than the ordinary one (`narrow`, see `bandOf`) along sharp
 * edges, wider where the subject is out of focus. Where widths cannot be told, and among threads (`fine`), it is the
 * ordinary one; a width set by hand is kept. `spread` is that of `narrow`.
 */
export function transitionsOf(
  input: EdgeInput,
  narrow: Uint8Array,
  fine: Uint8Array,
  spread: Spread,
): Transitions {
  const { scratch, widthPx } = input;
  const halves = scratch.zeroed('edge halves', narrow.length);
  const steepness = scratch.zeroed('edge steepness', narrow.length);
  if (widthPx !== null && widthPx >= WIDE_BY_HAND_PX) {
    const half = Math.min(255, Math.round((HALF_UNIT * widthPx) / REACH));
    for (let i = 0; i < narrow.length; i++) if (narrow[i] !== 0) halves[i] = half;
  }
  if (widthPx !== null || !input.evenBackdrop) return { band: narrow, halves, steepness };
  const band = scratch.bytes('edge measured band', narrow.length);
  for (let i = 0; i < band.length; i++) band[i] = fine[i] === 1 ? narrow[i]! : 0;
  const transitions = { band, halves, steepness };
  const border = borderOf(input, narrow);
  const widths = new TransitionWidths(input, border, spread);
  for (const i of border) markAround(input, narrow, fine, widths, i, transitions);
  return transitions;
}

/** The uncleared pixels with a cleared one beside them. */
function borderOf({ cleared, around: { width, height } }: EdgeInput, narrow: Uint8Array): number[] {
  const border: number[] = [];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (narrow[i] !== 1) continue;
      const beside =
        (x > 0 ? cleared[i - 1]! : 0) +
        (x < width - 1 ? cleared[i + 1]! : 0) +
        (y > 0 ? cleared[i - width]! : 0) +
        (y < height - 1 ? cleared[i + width]! : 0);
      if (beside > 0) border.push(i);
    }
  }
  return border;
}

/** Marks what belongs to the transition around a pixel of the border. */
function markAround(
  { cleared, around: { width, height } }: EdgeInput,
  narrow: Uint8Array,
  fine: Uint8Array,
  widths: TransitionWidths,
  i: number,
  { band, halves, steepness }: Transitions,
): void {
  const found = widths.at(i);
  const reach = found ? REACH * found.half + BESIDE_PX : 0;
  const inward = found ? Math.min(MOST_PX, Math.max(1, found.middle + reach)) : ORDINARY_PX;
  const outward = found ? Math.min(MOST_PX, Math.max(1, reach - found.middle)) : ORDINARY_PX;
  const half = found ? Math.min(255, Math.round(HALF_UNIT * found.own)) : 0;
  const steep = found ? Math.min(255, Math.round((STEEPNESS_UNIT * found.half) / found.own)) : 0;
  const far = Math.floor(Math.max(inward, outward));
  const x = i % width;
  const y = (i - x) / width;
  for (let v = Math.max(0, y - far); v <= Math.min(height - 1, y + far); v++) {
    for (let u = Math.max(0, x - far); u <= Math.min(width - 1, x + far); u++) {
      const j = v * width + u;
      if (fine[j] === 1) continue;
      if (!found) {
        if (narrow[j] !== 0) band[j] = narrow[j]!;
        continue;
      }
      const limit = cleared[j] === 1 ? outward : inward;
      if ((u - x) * (u - x) + (v - y) * (v - y) > limit * limit) continue;
      band[j] = 1 + cleared[j]!;
      halves[j] = Math.max(halves[j]!, half);
      steepness[j] = Math.max(steepness[j]!, steep);
    }
  }
}
