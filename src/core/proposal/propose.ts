import { colorDistance, labOf } from '../color/oklab';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Channel, Cut, Sample } from '../cut/schema';
import { KenosisError } from '../errors';
import { runToEnd, type Steps } from '../numeric/steps';
import { halvingsTo } from '../raster/reduce';
import type { Raster } from '../raster/raster';
import { colorOfSample, reachOfSample, type ReachCache } from '../stages/clear/clear';
import { checkerOf, surfaceAround } from '../stages/clear/backdrop';
import type { ReachMap } from '../stages/clear/reach-map';
import { halvedScene, sceneOf, smallScene, type Scene } from '../stages/clear/scene';
import { sampleAreas } from '../stages/clear/sample-color';
import { toleranceLevel } from '../stages/clear/distance';
import { startingTolerance, toleranceCurve } from '../stages/clear/tolerance-curve';
import { rangeOf, readFrame, shareOnSurface, type Frame } from './frame';
import { decidePockets, REASONS, type DecidedPockets } from './decide-pockets';
import { lookForInk, proposeByInk } from './ink';
import { explainInk } from './explain-ink';
import { noInk } from './no-ink';
import { reframed } from './reframe';
import { nameColor } from './name-color';

/** What a picture was found to be. */
export type PictureKind = 'flat' | 'gradient' | 'pattern' | 'ink' | 'transparent' | 'busy' | 'blank';

/** A complete first cut, or none, with the reason in one sentence. */
export interface Proposal {
  readonly kind: PictureKind;
  /** Null where nothing is proposed. */
  readonly cut: Cut | null;
  readonly reason: string;
}

/** Pixels that are enough to choose a tolerance and a shade allowance. */
const ROUGH_PIXELS = 120_000;

/** A frame of which less than this is backdrop is too busy to tell. */
const LEAST_FRAME = 0.55;

/** From this change over the picture a smooth backdrop is modelled, in units of tolerance, and from that one it is called a gradient. */
const UNEVEN = 2.5;
const GRADIENT = 12;

/** The shade allowances tried, darker than the backdrop, one after another; and how much lighter goes with each. */
const SHADES = [6, 11, 17, 24, 32, 41];
const LIGHTER = 6;

/** A safe range that starts beyond this lies behind a shadow or the subject; then this tolerance is proposed. */
const LATEST_SAFE = 14;
const CAUTIOUS = 10;

/** What the shade allowance must clear more, as a share of the picture, to be kept. */
const SHADE_GAIN = 0.002;

/** A step of the allowance that clears so much more at once, as a share of the picture, has broken into the subject. */
const LEAK = 0.02;

/** What a proposal is asked for. */
export interface Wishes {
  /** Places of the original that must stay. */
  readonly keep?: readonly { readonly x: number; readonly y: number }[];
  /** How to clear; what the picture is found to be where it is left out. */
  readonly method?: 'color' | 'ink' | null;
  /** What ink is read from; the best where it is left out. */
  readonly channel?: Channel | null;
  /** Whether the picture may be cropped to its content, and straightened. */
  readonly crop?: boolean;
  readonly straighten?: boolean;
}

/**
 * Looks at a picture and proposes a first cut: by ink where it is writing on paper and nothing else must stay, by color
 * otherwise. Works at a reduced size; the same picture gives the same proposal everywhere.
 */
export function* proposeSteps(whole: Scene, wishes: Wishes = {}): Steps<Proposal> {
  const keep = wishes.keep ?? [];
  if (wishes.method !== 'color' && keep.length === 0) {
    const source = { original: whole.original };
    const look = lookForInk(source, wishes.method === 'ink', wishes.crop);
    yield { stage: 'proposal', done: 1, total: 4 };
    if (typeof look === 'object') {
      const proposed = proposeByInk(source, look, wishes.channel ?? null);
      const frame = reframed(source, look, proposed, wishes);
      return { kind: 'ink', cut: frame.cut, reason: explainInk(look, frame) };
    }
    if (wishes.method === 'ink') throw noInk(look);
  }
  if (wishes.method === 'ink' && keep.length > 0)
    throw new KenosisError(
      'bad-argument',
      '--keep: expected clearing by color, got --method ink, which knows no pockets',
    );
  const scene = smallScene(whole);
  const { raster } = scene;
  yield { stage: 'proposal', done: 1, total: 4 };
  const frame = readFrame(raster);
  if (frame.clearShare > 0.5) {
    const reason = 'Already transparent at the frame: its own alpha is the starting point.';
    return { kind: 'transparent', cut: null, reason };
  }
  const found = lookAt(scene, frame);
  if (!found) {
    const reason =
      'Too busy to tell what is background: click it to place a sample, or add several with Shift.';
    return { kind: 'busy', cut: null, reason };
  }
  yield { stage: 'proposal', done: 2, total: 4 };
  const { sample, shadow } = yield* chooseShade(roughly(scene), found.sample);
  yield { stage: 'proposal', done: 3, total: 4 };
  const cache: ReachCache = new Map();
  const decided = yield* decidePockets(scene, sample, keep, cache);
  const joined = yield* reachOfSample(scene, sample, untouchedCut(), cache);
  if (keep.length === 0 && asMeasured(sample, joined).cleared > 1 - LEAST_SUBJECT) {
    const reason =
      'Nothing but one even surface is seen: no ink, no subject. Nothing is proposed; click the background if there is something faint on it.';
    return { kind: 'blank', cut: null, reason };
  }
  const cut: Cut = {
    ...untouchedCut(),
    clear: {
      on: true,
      samples: [sample],
      pockets: [...decided.pockets, ...keep.map(({ x, y }) => ({ x, y, keep: true }))],
      ink: null,
    },
  };
  return { kind: found.kind, cut, reason: explain(found.kind, scene, sample, shadow, decided) };
}

/** The proposal at once. */
export function propose(original: Raster, wishes: Wishes = {}): Proposal {
  return runToEnd(proposeSteps(sceneOf(original), wishes));
}

/** The scene reduced further. */
function roughly(scene: Scene): Scene {
  return halvedScene(scene, halvingsTo(ROUGH_PIXELS, scene.raster.width, scene.raster.height));
}

/** A subject is at least this share of the picture. */
const LEAST_SUBJECT = 0.00002;

/** The kind of backdrop and a sample on it; null where the frame shows none. */
function lookAt(
  scene: Scene,
  frame: Frame,
): { kind: 'flat' | 'gradient' | 'pattern'; sample: Sample } | null {
  const { original, raster } = scene;
  const place = placeOnFrame(scene, frame);
  if (checkerOf(scene)) {
    return { kind: 'pattern', sample: newSample('s1', place.x, place.y, { backdrop: 'checkerboard' }) };
  }
  const stretch = stretchOnFrame(scene);
  const sample = newSample('s1', stretch.x, stretch.y, { to: stretch.to, backdrop: 'smooth' });
  const surface = surfaceAround(scene, sampleAreas(sample, original));
  if (surface) {
    const share = shareOnSurface(raster, frame, surface);
    const range = rangeOf(surface);
    if (share >= LEAST_FRAME && range >= UNEVEN && share > frame.flatShare - 0.03) {
      return { kind: range >= GRADIENT ? 'gradient' : 'flat', sample };
    }
  }
  if (frame.flatShare < LEAST_FRAME) return null;
  return { kind: 'flat', sample: newSample('s1', place.x, place.y) };
}

/** The frame's pixel nearest to its middle color whose surroundings agree, as a place of the original. */
function placeOnFrame({ raster, reduction }: Scene, frame: Frame): { x: number; y: number } {
  const middle = labOf(...frame.color);
  const { width, height, data } = raster;
  let best = frame.pixels[0]!;
  let least = Infinity;
  for (const i of frame.pixels) {
    const x = i % width;
    const y = (i - x) / width;
    const inside = [
      i,
      x > 1 ? i - 2 : i,
      x < width - 2 ? i + 2 : i,
      y > 1 ? i - 2 * width : i,
      y < height - 2 ? i + 2 * width : i,
    ];
    const far = inside.reduce(
      (sum, j) => sum + colorDistance(labOf(data[j * 4]!, data[j * 4 + 1]!, data[j * 4 + 2]!), middle),
      0,
    );
    if (far < least - 1e-9) {
      least = far;
      best = i;
    }
  }
  const x = best % width;
  return { x: x << reduction, y: ((best - x) / width) << reduction };
}

interface Stretch {
  readonly x: number;
  readonly y: number;
  readonly to: { readonly x: number; readonly y: number };
}

/** The side of the frame along which neighboring places differ least. */
function stretchOnFrame({ original }: Scene): Stretch {
  const inset = 2;
  const right = Math.max(0, original.width - 1 - inset);
  const bottom = Math.max(0, original.height - 1 - inset);
  const left = Math.min(inset, right);
  const top = Math.min(inset, bottom);
  const sides: Stretch[] = [
    { x: left, y: top, to: { x: right, y: top } },
    { x: left, y: top, to: { x: left, y: bottom } },
    { x: right, y: top, to: { x: right, y: bottom } },
    { x: left, y: bottom, to: { x: right, y: bottom } },
  ];
  const costs = sides.map((side) => roughness(original, side));
  return sides[costs.indexOf(Math.min(...costs))]!;
}

function roughness(original: Raster, side: Stretch): number {
  const places = placesAlong(side);
  const labs = places.map(({ x, y }) => {
    const p = (y * original.width + x) * 4;
    return labOf(original.data[p]!, original.data[p + 1]!, original.data[p + 2]!);
  });
  return Math.max(...labs.slice(1).map((lab, k) => colorDistance(lab, labs[k]!)), 0);
}

function placesAlong({ x, y, to }: Stretch): { x: number; y: number }[] {
  const count = 48;
  return Array.from({ length: count + 1 }, (_, k) => ({
    x: Math.round(x + ((to.x - x) * k) / count),
    y: Math.round(y + ((to.y - y) * k) / count),
  }));
}

/**
 * The sample with its tolerance, with a shade allowance where that clears a shadow. The allowance grows in steps: a soft
 * shadow gives less with each, a subject that is broken into suddenly gives more, and then the step before is taken.
 */
function* chooseShade(scene: Scene, sample: Sample): Steps<{ sample: Sample; shadow: boolean }> {
  const plain = yield* withTolerance(scene, sample);
  let best = plain;
  let lastGain = Infinity;
  for (const darker of SHADES) {
    const shade = { darker, lighter: LIGHTER };
    const next = yield* measured(scene, { ...plain.sample, shade });
    const gain = next.cleared - best.cleared;
    if (gain > Math.max(LEAK, lastGain * 2.5) || next.cleared > 0.985) break;
    if (best === plain && gain < 0.0005) break;
    best = next;
    lastGain = gain;
  }
  const shadow = best.cleared - plain.cleared >= SHADE_GAIN;
  return { sample: (shadow ? best : plain).sample, shadow };
}

interface Measured {
  readonly sample: Sample;
  /** Share of the picture that the sample clears. */
  readonly cleared: number;
}

function* withTolerance(scene: Scene, sample: Sample): Steps<Measured> {
  const joined = yield* reachOfSample(scene, sample, untouchedCut(), new Map());
  const { tolerance, safeRange } = startingTolerance(toleranceCurve(joined));
  const early = safeRange !== null && safeRange.from <= LATEST_SAFE;
  return asMeasured({ ...sample, tolerance: early ? tolerance : CAUTIOUS }, joined);
}

function* measured(scene: Scene, sample: Sample): Steps<Measured> {
  return asMeasured(sample, yield* reachOfSample(scene, sample, untouchedCut(), new Map()));
}

function asMeasured(sample: Sample, joined: ReachMap): Measured {
  const limit = toleranceLevel(sample.tolerance);
  let count = 0;
  for (const level of joined.levels) if (level <= limit) count++;
  return { sample, cleared: count / joined.levels.length };
}

function explain(
  kind: 'flat' | 'gradient' | 'pattern',
  scene: Scene,
  sample: Sample,
  shadow: boolean,
  { cleared, kept, open }: DecidedPockets,
): string {
  const color = nameColor(colorOfSample(scene, sample));
  const parts = [
    kind === 'pattern'
      ? 'A painted-in checkerboard all around'
      : kind === 'gradient'
        ? 'A smooth gradient all around the frame'
        : `${color} all around the frame${sample.backdrop === 'smooth' ? ', lit a little unevenly' : ''}`,
  ];
  if (shadow) parts.push('a soft shadow cleared with it');
  if (cleared.length > 0)
    parts.push(
      `${count(cleared.length, 'enclosed area')} of the same ${kind === 'flat' ? 'color' : 'backdrop'} cleared`,
    );
  for (const why of REASONS) {
    const number = kept.filter((pocket) => pocket.why === why).length;
    if (number > 0) parts.push(`${number} kept because ${why[number === 1 ? 0 : 1]}`);
  }
  if (open.length > 0) parts.push(`${open.length} left for you to decide`);
  return `${parts.join('; ')}.`;
}

function count(number: number, word: string): string {
  return number === 1 ? `1 ${word}` : `${number} ${word}s`;
}
