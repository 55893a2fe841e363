import { blurBox } from '../numeric/box';
import { closeGray } from '../numeric/morphology';
import { bytesBy, floatsBy } from '../numeric/plane';
import type { Checker } from '../stages/clear/checker';
import type { Reduced } from '../raster/reduce';
import { lumaChroma, planesOf, type PatternSeen, type Planes } from './planes';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md and 023-patterns-by-neighborhoods.md

/** Below this a wave is between two cells; how far around there cells are looked at, and how much of that must be certain. */
const CERTAIN_SHARE = 0.97;
const CELLS_AROUND = 3;
const LEAST_CERTAIN_SHARE = 0.1;

/** The darkest pattern that is divided by. */
const DARKEST_ENCODED = 8;

/** The planes of a picture at one size, without the pattern where there is one. */
export function planesBy({ raster, reduction }: Reduced, checker: Checker | null): Planes {
  const planes = planesOf(raster);
  return checker ? withoutPattern(planes, checker, 2 ** reduction) : planes;
}

/**
 * The planes as they would be without a painted-in checkerboard: divided by it in luma, so that a shadow that lies on both
 * tones becomes one shade, and freed of its color. `scale` is how many pixels of the original one of theirs covers.
 */
export function withoutPattern(planes: Planes, checker: Checker, scale: number): Planes {
  const { width, height, channels, blank } = planes;
  const [even, odd] = [lumaChroma(checker.even), lumaChroma(checker.odd)];
  const middle = [0, 1, 2].map((c) => (even[c]! + odd[c]!) / 2);
  const swing = [0, 1, 2].map((c) => (even[c]! - odd[c]!) / 2);
  const waves = wavesOf(checker, width, height, scale);
  const certain = bytesBy(waves.length, (i) => (Math.abs(waves[i]!) < CERTAIN_SHARE ? 0 : 1));
  const seen = patternSeen(planes, waves, { middle, swing }, checker.cellPx / scale);
  const { plain } = seen;
  const weights = blurBox({ data: certain, width, height }, CELLS_AROUND);
  const freed = channels.map((plane, c) => {
    const without = (i: number, wave: number) => {
      const there = swing[c]! * wave;
      return c === 0
        ? (plane[i]! / Math.max(DARKEST_ENCODED, middle[0]! + there)) * middle[0]!
        : plane[i]! - there;
    };
    // A plain color has nothing to be freed of, and is none of the pattern's, whichever of its tones it has, nor its shade: it is taken
    // to be lighter by as much as it differs.
    const asItIs = (i: number) =>
      c > 0 ? plane[i]! : middle[0]! + Math.abs(swing[0]!) + Math.abs(plane[i]! - middle[0]!);
    const out = floatsBy(waves.length, (i) => (plain[i] === 1 ? asItIs(i) : without(i, waves[i]!)));
    const sums = blurBox(
      { data: floatsBy(out.length, (i) => out[i]! * certain[i]!), width, height },
      CELLS_AROUND,
    );
    // Where two cells meet any mixture of both tones is pattern: the one that agrees best with the cells around.
    for (let i = 0; i < out.length; i++) {
      if (plain[i] === 1 || certain[i] === 1 || weights[i]! < LEAST_CERTAIN_SHARE) continue;
      const one = without(i, -1);
      const other = without(i, 1);
      out[i] = Math.min(Math.max(one, other), Math.max(Math.min(one, other), sums[i]! / weights[i]!));
    }
    return out;
  });
  return {
    width,
    height,
    channels: freed as unknown as Planes['channels'],
    blank,
    pattern: seen,
    light: null,
  };
}

/** A window has both tones of the pattern where each takes at least this share of it. */
const BOTH_TONES_SHARE = 0.25;

/** There the pattern spreads light by nearly half of its contrast; a plain color by less than this share of it. */
const PLAIN_SHARE = 0.3;

/** The pattern goes on where light follows it by so much of its contrast, in whatever light, and is off it by no more. */
const FOLLOWS_SHARE = [0.7, 1.3] as const;
const OFF_SHARE = 0.3;
const OFF_ENCODED = 1.2;
const OFF_COLOR_ENCODED = 6;
const OWN_OFF_SHARE = 0.6;
const OWN_OFF_ENCODED = 4;
const DARKEST_SHARE = 0.35;

/** Tones that differ by less than this, in levels of what is left of them at this size, tell nothing. */
const LEAST_SWING_ENCODED = 2;

interface Pattern {
  readonly middle: readonly number[];
  readonly swing: readonly number[];
}

/**
 * Looks at windows in which the pattern has both of its tones: squares a cell wide, and narrow ones two cells long, across and down. Where light hardly
 * varies there, what they cover is of one plain color, and the color of one of the tones is no reason to take it for the pattern. Where
 * light follows the pattern in phase, by as much as the light of the place leaves of its contrast (regression of luma on the
 * pattern), the pattern goes on, in shadow too.
 */
function patternSeen(planes: Planes, waves: Float32Array, pattern: Pattern, cellPx: number): PatternSeen {
  const { width, height } = planes;
  const radius = Math.max(2, Math.ceil(cellPx / 2));
  const plain = new Uint8Array(width * height);
  const shown = new Uint8Array(width * height);
  for (const [across, down] of [
    [radius, radius],
    [2 * radius, 1],
    [1, 2 * radius],
  ] as const)
    seeWith(planes, waves, pattern, { across, down }, plain, shown);
  takeTeeth(planes, waves, pattern, cellPx, plain, shown);
  const [darkest, lightest] = [-1, 1].map((sign) => pattern.middle[0]! + sign * Math.abs(pattern.swing[0]!));
  const [luma, ...colors] = planes.channels;
  const isAlike = (i: number) =>
    luma[i]! > darkest! - ALIKE_ENCODED &&
    luma[i]! < lightest! + ALIKE_ENCODED &&
    colors.every((plane, c) => Math.abs(plane[i]! - pattern.middle[c + 1]!) < ALIKE_ENCODED);
  const alike = bytesBy(plain.length, (i) => (plain[i] === 1 && isAlike(i) ? 1 : 0));
  return { plain, shown, alike, radius };
}

/** A color so near to both tones, in levels, is alike. */
const ALIKE_ENCODED = 20;

/** The outline of a plain body is drawn by cells of the other tone; between two of them, this far apart in cells, it goes on. */
const TOOTH_CELLS = 0.75;

/** What goes on there has the color of the body, to within so many levels. */
const OF_BODY_ENCODED = 8;

/**
 * Along the rim of a plain body that has one of the tones, cells of that tone look like the pattern, and the other cells tell where the
 * body ends: takes into it what lies between them (a closing; Serra, 1982) and has its color.
 */
function takeTeeth(
  { width, height, channels: [luma] }: Planes,
  waves: Float32Array,
  { middle, swing }: Pattern,
  cellPx: number,
  plain: Uint8Array,
  shown: Uint8Array,
): void {
  const radius = Math.max(2, Math.ceil(TOOTH_CELLS * cellPx));
  const least = 0.5 / ((2 * radius + 1) * (2 * radius + 1));
  const share = (of: ArrayLike<number>) => blurBox({ data: of, width, height }, radius);
  const isOff = (i: number) =>
    Math.abs(luma[i]! - (middle[0]! + swing[0]! * waves[i]!)) > OWN_OFF_SHARE * Math.abs(swing[0]!);
  const body = floatsBy(luma.length, (i) => (plain[i] === 1 || (shown[i] === 0 && isOff(i)) ? 1 : 0));
  const { data: closed } = closeGray({ data: body, width, height }, radius);
  const count = share(plain);
  const sums = share(floatsBy(luma.length, (i) => luma[i]! * plain[i]!));
  const found = bytesBy(luma.length, (i) => {
    if (plain[i] === 1 || closed[i] === 0 || count[i]! <= least) return 0;
    return Math.abs(luma[i]! - sums[i]! / count[i]!) < OF_BODY_ENCODED ? 1 : 0;
  });
  for (let i = 0; i < found.length; i++) {
    if (found[i] === 0) continue;
    plain[i] = 1;
    shown[i] = 0;
  }
}

/** Marks what windows of one shape cover. */
function seeWith(
  { width, height, channels }: Planes,
  waves: Float32Array,
  pattern: Pattern,
  { across, down }: { readonly across: number; readonly down: number },
  plain: Uint8Array,
  shown: Uint8Array,
): void {
  const [luma] = channels;
  const [middle, swing] = [pattern.middle[0]!, pattern.swing[0]!];
  const mean = (data: ArrayLike<number>) => blurBox({ data, width, height }, across, down);
  const over = floatsBy(luma.length, (i) => luma[i]! - middle);
  const around = mean(over);
  const squares = mean(floatsBy(luma.length, (i) => over[i]! * over[i]!));
  const wave = mean(waves);
  const power = mean(floatsBy(waves.length, (i) => waves[i]! * waves[i]!));
  const together = mean(floatsBy(waves.length, (i) => waves[i]! * over[i]!));
  const colors = [channels[1], channels[2]].map(mean);
  const plainWindows = new Uint8Array(luma.length);
  const shownWindows = new Uint8Array(luma.length);
  const lights = new Float32Array(luma.length);
  for (let i = 0; i < luma.length; i++) {
    // A window whose pixels have the tones p and 1 - p has the mean 2p - 1 and, of their spread, 4p (1 - p).
    const mixed = power[i]! - wave[i]! * wave[i]!;
    if (mixed < 4 * BOTH_TONES_SHARE * (1 - BOTH_TONES_SHARE) * power[i]!) continue;
    const light = (around[i]! + middle) / (middle + swing * wave[i]!);
    const there = Math.abs(swing) * Math.sqrt(mixed) * Math.min(1, light);
    if (there < LEAST_SWING_ENCODED) continue;
    const spread = squares[i]! - around[i]! * around[i]!;
    if (spread < PLAIN_SHARE * PLAIN_SHARE * there * there) {
      plainWindows[i] = 1;
      continue;
    }
    const slope = (together[i]! - around[i]! * wave[i]!) / mixed;
    const follows = slope / (swing * light);
    if (light < DARKEST_SHARE || follows < FOLLOWS_SHARE[0] || follows > FOLLOWS_SHARE[1]) continue;
    const off = spread - slope * slope * mixed;
    if (off > OFF_SHARE * OFF_SHARE * there * there + OFF_ENCODED * OFF_ENCODED) continue;
    const isOff = (plane: Float32Array, c: number) =>
      Math.abs(plane[i]! - light * (pattern.middle[c]! + pattern.swing[c]! * wave[i]!)) > OFF_COLOR_ENCODED;
    if (isOff(colors[0]!, 1) || isOff(colors[1]!, 2)) continue;
    shownWindows[i] = 1;
    lights[i] = light;
  }
  const least = 0.5 / ((2 * across + 1) * (2 * down + 1));
  const isPlain = mean(plainWindows);
  const isShown = mean(shownWindows);
  const sums = mean(lights);
  for (let i = 0; i < luma.length; i++) {
    if (isPlain[i]! > least) plain[i] = 1;
    if (isShown[i]! <= least) continue;
    // Within a window each place must follow too; where two cells meet it has any mixture of them.
    const light = sums[i]! / isShown[i]!;
    const off = Math.abs(luma[i]! - light * (middle + swing * waves[i]!));
    const isBetween = Math.abs(waves[i]!) < CERTAIN_SHARE;
    if (isBetween || off < OWN_OFF_SHARE * Math.abs(swing) * light + OWN_OFF_ENCODED) shown[i] = 1;
  }
}

/** The pattern at each pixel of reduced planes: 1 in even cells, -1 in odd ones, means where a pixel covers both. */
function wavesOf(checker: Checker, width: number, height: number, scale: number): Float32Array {
  const waves = new Float32Array(width * height);
  if (checker.tilt !== 0) {
    const shares = Array.from({ length: scale }, (_, step) => step + 0.5);
    for (let i = 0; i < waves.length; i++) {
      const left = (i % width) * scale;
      const top = Math.floor(i / width) * scale;
      let sum = 0;
      for (const down of shares)
        for (const right of shares) {
          const [x, y] = [left + right, top + down];
          sum += checker.across(x, y).wave * checker.down(y, x).wave;
        }
      waves[i] = sum / (scale * scale);
    }
    return waves;
  }
  const across = meanWaves(width, scale, (x) => checker.across(x, 0).wave);
  const down = meanWaves(height, scale, (y) => checker.down(y, 0).wave);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) waves[i] = across[x]! * down[y]!;
  return waves;
}

/** The mean of a wave over each pixel of a reduced line. */
function meanWaves(length: number, scale: number, wave: (at: number) => number): Float32Array {
  return Float32Array.from({ length }, (_, k) => {
    let sum = 0;
    for (let step = 0; step < scale; step++) sum += wave(k * scale + step + 0.5);
    return sum / scale;
  });
}
