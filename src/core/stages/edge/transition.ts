import { jpegLumaOf } from '../../color/luma';
import { lengthOf } from '../../numeric/exact';
import { offsetsWithin } from './certain';
import type { EdgeInput } from './mixture';
import type { Spread } from './spread';

/** How many pixels a transition may go on beyond the ordinary band, on either side; fewer than LEAST are not worth it. */
export const MOST_WIDER_PX = 9;
const LEAST_WIDER_PX = 3;

/** The other side of the border is looked for within this, in pixels. */
const BORDER_PX = 15;

/** Colors are compared this far before and behind a pixel, along the way from the border. */
const BEFORE_PX = 1.5;
const BEHIND_PX = 2.5;

/** What a transition must rise on both sides of a pixel: as a share of its whole, and in spreads of the background. */
const LEAST_RISE = 0.035;
const NOISE_RISE = 0.9;

/** A color so far beside the line from the background to the subject, as a share of its length, is no mixture. */
const BESIDE = 0.25;

/**
 * At the rim of the ordinary band color must still rise by this share before a pixel; less is a subject that reflects the
 * backdrop behind a narrow edge.
 */
const STILL_RISING = 0.1;

/** So far around pixels that were taken in the whole transition is wide. */
const WIDE_PX = 6;

/** A width set by hand counts as a wide transition from here on. */
const SOFT_PX = 4;

/** Below this, encoded, background and subject are too alike to follow a transition. */
const LEAST_SPAN = 24;

const RING = offsetsWithin(BORDER_PX);

export interface WideBand {
  /** As `bandOf` makes it, with the pixels that were taken in. */
  readonly band: Uint8Array;
  /** 1 where the transition is wide. */
  readonly soft: Uint8Array;
}

/**
 * Widens the band where the transition from background to subject goes on beyond it, as in photos that are a little out
 * of focus: from the band's rim on, pixel by pixel, as long as color moves on along the line from the background. It stops
 * where color stays: at a certain inside, at an outline of the subject. `fine` marks what is solved among threads.
 * `band` stays as it is. A width set by hand is kept.
 */
export function widenedBand(input: EdgeInput, band: Uint8Array, fine: Uint8Array, spread: Spread): WideBand {
  const { scratch, cleared, around } = input;
  const { width, height } = around;
  const soft = scratch.zeroed('edge soft', band.length);
  if (input.widthPx !== null) {
    if (input.widthPx >= SOFT_PX) for (let i = 0; i < band.length; i++) soft[i] = band[i] === 0 ? 0 : 1;
    return { band, soft };
  }
  if (input.widerPx < LEAST_WIDER_PX) return { band, soft };
  const wide = scratch.bytes('edge wide band', band.length);
  wide.set(band);
  const seen = scratch.zeroed('edge wide seen', band.length);
  const work = new Transition(input, spread);
  let layer: number[] = [];
  const take = (from: number, i: number, next: number[]) => {
    if (cleared[i] !== cleared[from] || wide[i] !== 0 || fine[i] === 1 || seen[i] === 1) return;
    seen[i] = 1;
    next.push(i);
  };
  const around4 = (i: number, next: number[]) => {
    const x = i % width;
    if (x > 0) take(i, i - 1, next);
    if (x < width - 1) take(i, i + 1, next);
    if (i >= width) take(i, i - width, next);
    if (i + width < width * height) take(i, i + width, next);
  };
  for (let i = 0; i < band.length; i++) if (band[i] !== 0) around4(i, layer);
  for (let step = 0; step < input.widerPx && layer.length > 0; step++) {
    const next: number[] = [];
    const taken = layer.filter((i) => work.goesOn(i, step === 0 ? STILL_RISING : LEAST_RISE));
    for (const i of taken) {
      wide[i] = 1 + cleared[i]!;
      markAround(soft, width, height, i);
    }
    for (const i of taken) around4(i, next);
    layer = next;
  }
  return { band: wide, soft };
}

function markAround(marks: Uint8Array, width: number, height: number, i: number): void {
  const x = i % width;
  const y = (i - x) / width;
  const left = Math.max(0, x - WIDE_PX);
  const right = Math.min(width - 1, x + WIDE_PX);
  for (let ny = Math.max(0, y - WIDE_PX); ny <= Math.min(height - 1, y + WIDE_PX); ny++)
    marks.fill(1, ny * width + left, ny * width + right + 1);
}

/** Tells whether a pixel lies within a transition. */
class Transition {
  private readonly b = new Float64Array(3);
  private readonly before = new Float64Array(3);
  private readonly here = new Float64Array(3);
  private readonly behind = new Float64Array(3);

  constructor(
    private readonly input: EdgeInput,
    private readonly spread: Spread,
  ) {}

  /** `leastRise`: what color must rise before the pixel, as a share of the whole. */
  goesOn(i: number, leastRise: number): boolean {
    const { around, cleared } = this.input;
    const { b, before, here, behind } = this;
    const x = i % around.width;
    const y = (i - x) / around.width;
    const border = this.borderOf(x, y, cleared[i]!);
    if (border < 0) return false;
    const bx = border % around.width;
    const by = (border - bx) / around.width;
    if (!this.spread.background(x, y, b) && !this.spread.background(bx, by, b)) return false;
    if (this.input.halvedChroma) lumaOnly(b);
    const far = lengthOf(x - bx, y - by);
    const nx = (x - bx) / far;
    const ny = (y - by) / far;
    this.mean(x - BEFORE_PX * nx, y - BEFORE_PX * ny, before);
    this.mean(x, y, here);
    this.mean(x + BEHIND_PX * nx, y + BEHIND_PX * ny, behind);
    // Away from the background, whichever side the pixel lies on.
    const inner = cleared[i] === 0 ? behind : before;
    const outer = cleared[i] === 0 ? before : behind;
    const span = lengthOf(inner[0]! - b[0]!, inner[1]! - b[1]!, inner[2]! - b[2]!);
    if (span < LEAST_SPAN) return false;
    const along = (color: Float64Array) =>
      ((color[0]! - b[0]!) * (inner[0]! - b[0]!) +
        (color[1]! - b[1]!) * (inner[1]! - b[1]!) +
        (color[2]! - b[2]!) * (inner[2]! - b[2]!)) /
      span;
    const own = along(here);
    const share = own / span;
    const beside = lengthOf(
      here[0]! - b[0]! - share * (inner[0]! - b[0]!),
      here[1]! - b[1]! - share * (inner[1]! - b[1]!),
      here[2]! - b[2]! - share * (inner[2]! - b[2]!),
    );
    const least = Math.max(LEAST_RISE * span, NOISE_RISE * this.spread.at(border, 1));
    const rise = own - along(outer);
    return span - own > least && rise > Math.max(least, leastRise * span) && beside < BESIDE * span;
  }

  /** The nearest pixel of the other side, -1 where there is none near. */
  private borderOf(x: number, y: number, side: number): number {
    const { around, cleared } = this.input;
    for (let k = 0; k < RING.length; k += 2) {
      const nx = x + RING[k]!;
      const ny = y + RING[k + 1]!;
      if (nx < 0 || ny < 0 || nx >= around.width || ny >= around.height) continue;
      const j = ny * around.width + nx;
      if (cleared[j] !== side) return j;
    }
    return -1;
  }

  /** The mean color of the 3 x 3 pixels around a place. */
  private mean(x: number, y: number, out: Float64Array): void {
    const { raster, around } = this.input;
    const cx = around.x + Math.floor(x + 0.5);
    const cy = around.y + Math.floor(y + 0.5);
    let count = 0;
    out.fill(0);
    for (let ny = Math.max(0, cy - 1); ny <= Math.min(raster.height - 1, cy + 1); ny++) {
      for (let nx = Math.max(0, cx - 1); nx <= Math.min(raster.width - 1, cx + 1); nx++) {
        const p = (ny * raster.width + nx) * 4;
        for (let c = 0; c < 3; c++) out[c]! += raster.data[p + c]!;
        count++;
      }
    }
    for (let c = 0; c < 3; c++) out[c]! /= count;
    if (this.input.halvedChroma) lumaOnly(out);
  }
}

/** Chroma at half the resolution is smeared along edges and tells nothing of their width. */
function lumaOnly(color: Float64Array): void {
  color.fill(jpegLumaOf(color[0]!, color[1]!, color[2]!));
}
