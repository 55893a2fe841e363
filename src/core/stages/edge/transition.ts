import { lengthOf } from '../../numeric/exact';
import { nextOne } from '../../numeric/plane';
import { sampledBackground } from './certain';
import type { EdgeInput } from './mixture';
import type { Spread } from './spread';
import { TransitionWidths, type TransitionWidth } from './transition-width';

// What the figures of this file rest on: docs/decisions/011-measured-widths.md

/** From its middle a transition reaches so many half widths to either side: there a blurred edge has 2 % left. */
const REACH_HALF_WIDTHS = 1.64;

/** How much farther pixels may still be mixtures, and how far at most. */
const BESIDE_PX = 0.5;
const MOST_PX = 14;

/** The ordinary band reaches less than this from the outermost uncleared pixels. */
const ORDINARY_PX = 4;

/** Uncleared pixels nearer to the background than this share of the height of half alpha are none of the subject. */
const CORNER_SHARE = 0.75;

/** From this half width on a transition is wide, in pixels. */
const WIDE_PX = 1.15;

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
  return halves[i]! >= WIDE_PX * HALF_UNIT;
}

/** How far across a transition reaches from one end to the other, in pixels; 0 where it is not known. */
export function acrossAt({ halves }: Transitions, i: number): number {
  return (2 * REACH_HALF_WIDTHS * halves[i]!) / HALF_UNIT;
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
    const half = Math.min(255, Math.round((HALF_UNIT * widthPx) / REACH_HALF_WIDTHS));
    for (let i = 0; i < narrow.length; i++) if (narrow[i] !== 0) halves[i] = half;
  }
  if (widthPx !== null || !input.evenBackdrop) return { band: narrow, halves, steepness };
  const band = scratch.bytes('edge measured band', narrow.length);
  band.fill(0);
  for (let i = nextOne(fine, 0); i >= 0; i = nextOne(fine, i + 1)) band[i] = narrow[i]!;
  const transitions = { band, halves, steepness };
  const border = borderOf(input, narrow);
  const widths = new TransitionWidths(input, border, spread);
  for (const i of border) markAround(input, narrow, fine, widths, i, transitions);
  markCorners(input, narrow, fine, widths, spread, transitions);
  return transitions;
}

/**
 * Takes in pixels of the ordinary band that are more background than subject: acute corners that Clear did not reach
 * into, deeper than a transition is wide.
 */
function markCorners(
  input: EdgeInput,
  narrow: Uint8Array,
  fine: Uint8Array,
  widths: TransitionWidths,
  spread: Spread,
  { band, halves, steepness }: Transitions,
): void {
  const { raster, around } = input;
  const b = new Float64Array(3);
  for (let i = nextOne(narrow, 0); i >= 0; i = nextOne(narrow, i + 1)) {
    if (band[i] !== 0 || fine[i] === 1) continue;
    const x = i % around.width;
    const y = (i - x) / around.width;
    const found = widths.at(i);
    if (!found || (!spread.background(x, y, b) && !sampledBackground(input, i, b))) continue;
    const p = ((around.y + y) * raster.width + around.x + x) * 4;
    const { data } = raster;
    if (lengthOf(data[p]! - b[0]!, data[p + 1]! - b[1]!, data[p + 2]! - b[2]!) > CORNER_SHARE * found.height)
      continue;
    band[i] = 1;
    halves[i] = halfOf(found);
    steepness[i] = steepnessOf(found);
  }
}

/** The uncleared pixels with a cleared one beside them. */
function borderOf({ cleared, around: { width, height } }: EdgeInput, narrow: Uint8Array): number[] {
  const border: number[] = [];
  for (let i = nextOne(narrow, 0); i >= 0; i = nextOne(narrow, i + 1)) {
    const x = i % width;
    const y = (i - x) / width;
    const beside =
      (x > 0 ? cleared[i - 1]! : 0) +
      (x < width - 1 ? cleared[i + 1]! : 0) +
      (y > 0 ? cleared[i - width]! : 0) +
      (y < height - 1 ? cleared[i + width]! : 0);
    if (beside > 0) border.push(i);
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
  const reach = found ? REACH_HALF_WIDTHS * found.half + BESIDE_PX : 0;
  const inward = found ? Math.min(MOST_PX, Math.max(1, found.middle + reach)) : ORDINARY_PX;
  const outward = found ? Math.min(MOST_PX, Math.max(1, reach - found.middle)) : ORDINARY_PX;
  const half = found ? halfOf(found) : 0;
  const steep = found ? steepnessOf(found) : 0;
  const far = Math.floor(Math.max(inward, outward));
  const x = i % width;
  const y = (i - x) / width;
  const left = Math.max(0, x - far);
  const right = Math.min(width - 1, x + far);
  const ofSubject = inward * inward;
  const ofBackground = outward * outward;
  for (let v = Math.max(0, y - far); v <= Math.min(height - 1, y + far); v++) {
    const rows = (v - y) * (v - y);
    for (let u = left, j = v * width + left; u <= right; u++, j++) {
      if (fine[j] === 1) continue;
      const side = cleared[j]!;
      if (!found) {
        if (narrow[j] !== 0) band[j] = narrow[j]!;
        continue;
      }
      if ((u - x) * (u - x) + rows > (side === 1 ? ofBackground : ofSubject)) continue;
      band[j] = 1 + side;
      if (halves[j]! < half) halves[j] = half;
      if (steepness[j]! < steep) steepness[j] = steep;
    }
  }
}

function halfOf({ own }: TransitionWidth): number {
  return Math.min(255, Math.round(HALF_UNIT * own));
}

function steepnessOf({ half, own }: TransitionWidth): number {
  return Math.min(255, Math.round((STEEPNESS_UNIT * half) / own));
}
