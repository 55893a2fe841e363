import { colorDistance, labOf } from '../color/oklab';
import { untouchedCut } from '../cut/parse';
import { LIMITS, type PocketDecision, type Sample } from '../cut/schema';
import { lengthOf } from '../numeric/exact';
import { quantile } from '../numeric/statistics';
import type { Steps } from '../numeric/steps';
import { checkerOf } from '../stages/clear/backdrop';
import type { Checker } from '../stages/clear/checker';
import {
  backdropOfSample,
  colorOfSample,
  plainDistances,
  reachOfSample,
  type ReachCache,
} from '../stages/clear/clear';
import { toleranceLevel } from '../stages/clear/distance';
import { borderSharpness, findPockets, enclosedRows, type Pocket } from '../stages/clear/pockets';
import type { ReachMap } from '../stages/clear/reach-map';
import type { Rgb } from '../stages/clear/sample-color';
import type { Scene } from '../stages/clear/scene';
import { hasHalvedChroma } from '../stages/edge/halved-chroma';

/** Pockets this near to the backdrop's own color count as background, those beyond OTHER do not; units of tolerance. */
const SAME = 1.6;
const OTHER = 2.4;

/** So much farther may the narrowest pockets lie: blur and compression mix the subject into them. */
const NARROW = 4;

/** Below this, encoded, compression noise is clipped on one side and moves mean colors by about so much. */
const NEAR_BLACK = 24;
const NOISE_NEAR_BLACK = 1.2;

/** Chroma at half the resolution bleeds from the subject into pockets up to so deep, and moves mean colors by so much. */
const BLED_PX = 10;
const BLED = 3;

/** A pocket of which less than this share of its contrast lies at its rim is a shine, not a hole. */
const SOFT_RIM = 0.78;
const SHINE_DEPTH = 3;
const EVEN = 0.8;

/** In a picture out of focus every rim is soft: a shine's is at most this share as sharp as the subject's border. */
const SOFTER = 0.86;

/** Why an enclosed area is kept, in words for one and for several. */
export type Why = readonly [string, string];
const ASKED: Why = ['you asked for it', 'you asked for them'];
const OFF_PATTERN: Why = ['the pattern does not go on in it', 'the pattern does not go on in them'];
const SHINE: Why = ['its rim is soft, like a shine', 'their rims are soft, like a shine'];
const OTHER_COLOR: Why = ['its color differs from the background', 'their color differs from the background'];

/** In the order in which they are said. */
export const REASONS: readonly Why[] = [ASKED, OFF_PATTERN, OTHER_COLOR, SHINE];

/** What becomes of a sample's pockets. */
export interface DecidedPockets {
  readonly pockets: readonly PocketDecision[];
  readonly cleared: readonly Pocket[];
  readonly kept: readonly { readonly pocket: Pocket; readonly why: Why }[];
  readonly open: readonly Pocket[];
}

/** Pockets that are decided at most, the largest; room is left in the cut for a person's own decisions. */
const MOST_DECIDED = LIMITS.pockets - 100;

/**
 * Decides the pockets of a sample: those that agree with the background around them are cleared, those that differ are
 * kept, and what is uncertain stays open. `keep` names places of the original that must stay. The sample's reach maps
 * are taken from and left in `cache`.
 */
export function* decidePockets(
  scene: Scene,
  sample: Sample,
  keep: readonly { x: number; y: number }[],
  cache: ReachCache,
): Steps<DecidedPockets> {
  const { raster, reduction } = scene;
  const reaching = (change: Partial<Sample>) =>
    reachOfSample(scene, { ...sample, ...change }, untouchedCut(), cache);
  const everywhere = yield* reaching({ reach: 'everywhere' });
  const joined = yield* reaching({ reach: 'joined' });
  const rows = enclosedRows(joined, everywhere, sample.tolerance);
  if (!rows) return { pockets: [], cleared: [], kept: [], open: [] };
  const plain = sample.shade.darker > 0 ? plainDistances(scene, sample, rows.from, rows.to) : everywhere;
  const pockets = findPockets(raster, joined, everywhere, plain, sample.tolerance).slice(0, MOST_DECIDED);
  const checker = sample.backdrop === 'checkerboard' ? checkerOf(scene) : null;
  const { red, green, blue } = colorOfSample(scene, sample);
  const dark = Math.max(red, green, blue) < NEAR_BLACK;
  const halved = hasHalvedChroma(scene.original);
  let known: number | null = null;
  const border = () => (known ??= borderSharpness(joined, plain, sample.tolerance, rows));
  const cleared: Pocket[] = [];
  const kept: { pocket: Pocket; why: Why }[] = [];
  const open: Pocket[] = [];
  for (const pocket of pockets) {
    const asked = keep.some(({ x, y }) => pocket.contains(x >> reduction, y >> reduction));
    const off = differs(scene, sample, pocket, joined);
    const slack = checker ? 0 : slackOf(pocket, dark, halved);
    if (asked) kept.push({ pocket, why: ASKED });
    else if (checker && !patternGoesOn(pocket, checker, scene)) kept.push({ pocket, why: OFF_PATTERN });
    else if (isShine(pocket, border)) kept.push({ pocket, why: SHINE });
    else if (off <= SAME + slack) cleared.push(pocket);
    else if (off > OTHER + slack) kept.push({ pocket, why: OTHER_COLOR });
    else open.push(pocket);
  }
  const place = ({ x, y }: Pocket) => ({ x: x << reduction, y: y << reduction });
  return {
    pockets: [
      ...cleared.map((pocket) => ({ ...place(pocket), keep: false })),
      ...kept.map(({ pocket }) => ({ ...place(pocket), keep: true })),
    ],
    cleared,
    kept,
    open,
  };
}

/**
 * A shine has a soft rim, softer than the subject's own border, and rises from its middle; the rim of a hole among fine
 * threads may be soft, but it is even.
 */
function isShine({ sharpness, depth, spread }: Pocket, border: () => number): boolean {
  return sharpness < SOFT_RIM && depth >= SHINE_DEPTH && spread > EVEN && sharpness < SOFTER * border();
}

/** How much farther than SAME a pocket may lie: the grain of small ones, what is mixed into narrow ones, noise near black. */
function slackOf({ spread, depth }: Pocket, dark: boolean, halved: boolean): number {
  const bled = halved ? BLED * Math.max(0, 1 - depth / BLED_PX) : 0;
  return (
    spread / (1 + depth / 8) + NARROW * Math.max(0, 1 - depth / 3) + (dark ? NOISE_NEAR_BLACK : 0) + bled
  );
}

/** A pattern that goes on keeps at least this share of its contrast, in a shadow too. */
const LEAST_PATTERN = 0.35;

/** Whether the pattern goes on in a pocket: it has light and dark cells, and they differ as those of the pattern do. */
function patternGoesOn({ inner }: Pocket, checker: Checker, { raster, reduction }: Scene): boolean {
  const scale = 2 ** reduction;
  const greens: { even: number[]; odd: number[] } = { even: [], odd: [] };
  for (const i of inner) {
    const x = i % raster.width;
    const y = (i - x) / raster.width;
    const tone = checker.across((x + 0.5) * scale).wave * checker.down((y + 0.5) * scale).wave;
    if (Math.abs(tone) > 0.95) greens[tone > 0 ? 'even' : 'odd'].push(raster.data[i * 4 + 1]!);
  }
  const { even, odd } = greens;
  if (Math.min(even.length, odd.length) < 0.25 * (even.length + odd.length)) return false;
  const contrast = quantile(even, 0.5) - quantile(odd, 0.5);
  return contrast / (checker.even.green - checker.odd.green) >= LEAST_PATTERN;
}

/** How far around a pocket the background is compared with it, in pixels of the working size. */
const AROUND_PX = 24;

/**
 * How far a pocket's mean color lies from that of the background around it, in units of tolerance. Where the backdrop is
 * modelled both are taken as shares of it; where shade is allowed, a lightness that occurs around is no difference. With
 * no background near, the sample's own color (or the model's) counts.
 */
function differs(scene: Scene, sample: Sample, pocket: Pocket, joined: ReachMap): number {
  const around = joinedAround(joined, sample.tolerance, pocket.box);
  const backdrop = backdropOfSample(scene, sample);
  const own = meanShare(scene, pocket.inner, backdrop);
  const whole = backdrop ? PLAIN : colorOfSample(scene, sample);
  const other = around.length > 0 ? meanShare(scene, around, backdrop) : whole;
  const { width } = scene.raster;
  const base = meanBase(scene, pocket.inner, backdrop);
  const lab = (share: Rgb) => {
    const color = [share.red * base.red, share.green * base.green, share.blue * base.blue];
    const [red, green, blue] = color.map((value) => Math.round(Math.min(255, value)));
    return labOf(red!, green!, blue!);
  };
  const [here, there] = [lab(own), lab(other)];
  if (sample.shade.darker === 0 || around.length === 0) return colorDistance(here, there);
  const along = here.lightness / Math.max(0.05, there.lightness);
  const hue = colorDistance(here, {
    lightness: here.lightness,
    a: there.a * along,
    b: there.b * along,
  });
  const shares = around.map((i) => {
    const { green } = backdrop?.(i % width, Math.floor(i / width)) ?? PLAIN;
    return scene.raster.data[i * 4 + 1]! / green;
  });
  const beyond = Math.max(0, quantile(shares, 0.03) - own.green, own.green - quantile(shares, 0.97));
  return lengthOf(hue, (beyond * base.green * 100) / 255);
}

const PLAIN: Rgb = { red: 1, green: 1, blue: 1 };

type BackdropAt = ((x: number, y: number) => Rgb) | null;

/** Mean color of the modelled backdrop under pixels; ones where there is none. */
function meanBase({ raster: { width } }: Scene, pixels: readonly number[], backdrop: BackdropAt): Rgb {
  const sums = [0, 0, 0];
  for (const i of pixels) {
    const { red, green, blue } = backdrop?.(i % width, Math.floor(i / width)) ?? PLAIN;
    sums[0]! += red / pixels.length;
    sums[1]! += green / pixels.length;
    sums[2]! += blue / pixels.length;
  }
  return { red: sums[0]!, green: sums[1]!, blue: sums[2]! };
}

/** Mean color of pixels, as a share of the backdrop where it is modelled. */
function meanShare(scene: Scene, pixels: readonly number[], backdrop: BackdropAt): Rgb {
  const base = meanBase(scene, pixels, backdrop);
  const { data } = scene.raster;
  const mean = (c: number) => pixels.reduce((sum, i) => sum + data[i * 4 + c]!, 0) / pixels.length;
  return { red: mean(0) / base.red, green: mean(1) / base.green, blue: mean(2) / base.blue };
}

/** What is joined to the sample around a pocket. */
function joinedAround(joined: ReachMap, tolerance: number, box: Pocket['box']): number[] {
  const limit = toleranceLevel(tolerance);
  const [left, top, right, bottom] = box;
  const found: number[] = [];
  for (let y = Math.max(0, top - AROUND_PX); y <= Math.min(joined.height - 1, bottom + AROUND_PX); y++) {
    for (let x = Math.max(0, left - AROUND_PX); x <= Math.min(joined.width - 1, right + AROUND_PX); x++) {
      const i = y * joined.width + x;
      if (joined.levels[i]! <= limit) found.push(i);
    }
  }
  return found;
}
