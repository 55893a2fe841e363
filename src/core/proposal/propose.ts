import { colorDistance, labOf } from '../color/oklab';
import { newSample } from '../cut/new-sample';
import { untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import type { Channel, Mark, Sample } from '../stages/clear/settings';
import { KenosisError } from '../errors';
import { decisionSteps, LEAST_FRAME_SHARE } from '../decision/decide';
import type { Decision } from '../decision/decision';
import { MATTERS_SHARE, type Area, type AreaReason } from '../decision/area';
import { WHY_STAYS } from '../decision/reasons';
import { runToEnd, type Steps } from '../numeric/steps';
import type { Raster } from '../raster/raster';
import { colorOfSample, factsOf } from '../stages/clear/clear';
import { checkerOf, surfaceAround } from '../stages/clear/backdrop';
import { sceneOf, smallScene, type Scene } from '../scene/scene';
import { sampleAreas } from '../stages/clear/sample-color';
import { rangeOf, readFrame, shareOnSurface, type FrameReading } from './frame-reading';
import { lookForInk, proposeByInk } from './ink';
import { BUSY_REASON } from './busy';
import { explainInk } from './explain-ink';
import { noInk } from './no-ink';
import { reframed } from './reframe';
import { nameColor } from './name-color';
import { withTolerance } from './tolerance';

/** What a picture was found to be. */
export type PictureKind = 'flat' | 'gradient' | 'pattern' | 'ink' | 'transparent' | 'busy' | 'blank';

/** A complete first cut, or none, with the reason in one sentence. */
export interface Proposal {
  readonly kind: PictureKind;
  /** Null where nothing is proposed. */
  readonly cut: Cut | null;
  readonly reason: string;
  /** What was decided about enclosed areas; empty where the picture as a whole did not decide. */
  readonly areas: readonly Area[];
}

// What the figures of this file rest on: docs/decisions/004-proposal-and-pockets.md

/** From this change over the picture a smooth backdrop is modelled, in units of tolerance, and from that one it is called a gradient. */
const UNEVEN_TOLERANCE = 2.5;
const GRADIENT_TOLERANCE = 12;

/** A smooth backdrop is modelled where it explains at least this share of the frame. */
const LEAST_SURFACE_SHARE = 0.55;

/** What a proposal is asked for. */
export interface Wishes {
  /** Places of the original that must stay. */
  readonly keep?: readonly { readonly x: number; readonly y: number }[];
  /** Places of the original that are background, and places in enclosed areas that are. */
  readonly goes?: readonly { readonly x: number; readonly y: number }[];
  readonly pockets?: readonly { readonly x: number; readonly y: number }[];
  /** Strokes over what stays and what goes. */
  readonly marks?: readonly Mark[];
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
    yield { doing: 'looking', done: 1, total: 4 };
    if (typeof look === 'object') {
      const proposed = proposeByInk(source, look, wishes.channel ?? null);
      const frame = reframed(source, look, proposed, wishes);
      return { kind: 'ink', cut: frame.cut, reason: explainInk(look, frame), areas: [] };
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
  yield { doing: 'looking', done: 1, total: 4 };
  const frame = readFrame(raster);
  if (frame.clearShare > 0.5) {
    const reason = 'Already transparent at the frame: its own alpha is the starting point.';
    return { kind: 'transparent', cut: null, reason, areas: [] };
  }
  const found = lookAt(scene, frame);
  yield { doing: 'looking', done: 2, total: 4 };
  const goes = wishes.goes ?? [];
  const marks = wishes.marks ?? [];
  const sample: Sample = { ...(yield* withTolerance(scene, found.sample)), rule: 'whole' };
  const { rule, tolerance, backdrop, shade } = sample;
  const others = goes.map(({ x, y }, k) =>
    newSample(`s${k + 2}`, x, y, { rule, tolerance, backdrop, shade }),
  );
  const pockets = [
    ...keep.map(({ x, y }) => ({ x, y, keep: true })),
    ...(wishes.pockets ?? []).map(({ x, y }) => ({ x, y, keep: false })),
  ];
  const draft: Cut = {
    ...untouchedCut(),
    clear: { on: true, samples: [sample, ...others], pockets, marks: [...marks], ink: null },
  };
  const decision = yield* decisionSteps(whole, factsOf(draft));
  yield { doing: 'looking', done: 3, total: 4 };
  if (decision?.byMarks) {
    const cut: Cut = { ...draft, clear: { ...draft.clear, samples: [] } };
    return { kind: 'busy', cut, reason: 'Decided by your marks.', areas: decision.areas };
  }
  if (!decision || decision.frameShare < LEAST_FRAME_SHARE) return BUSY;
  if (keep.length === 0 && shareOf(decision.goes) > 1 - LEAST_SUBJECT_SHARE) {
    const reason =
      'Nothing but one even surface is seen: no ink, no subject. Nothing is proposed; click the background if there is something faint on it.';
    return { kind: 'blank', cut: null, reason, areas: [] };
  }
  return {
    kind: found.kind,
    cut: draft,
    reason: explain(found.kind, scene, sample, decision),
    areas: decision.areas,
  };
}

const BUSY: Proposal = {
  kind: 'busy',
  cut: null,
  reason: BUSY_REASON,
  areas: [],
};

function shareOf(goes: Uint8Array): number {
  let count = 0;
  for (const one of goes) count += one;
  return count / goes.length;
}

/** The proposal at once. */
export function propose(original: Raster, wishes: Wishes = {}): Proposal {
  return runToEnd(proposeSteps(sceneOf(original), wishes));
}

/** A subject is at least this share of the picture. */
const LEAST_SUBJECT_SHARE = 0.00002;

/** The kind of backdrop and a sample on it. */
function lookAt(
  scene: Scene,
  frame: FrameReading,
): { kind: 'flat' | 'gradient' | 'pattern'; sample: Sample } {
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
    if (share >= LEAST_SURFACE_SHARE && range >= UNEVEN_TOLERANCE && share > frame.flatShare - 0.03) {
      return { kind: range >= GRADIENT_TOLERANCE ? 'gradient' : 'flat', sample };
    }
  }
  return { kind: 'flat', sample: newSample('s1', place.x, place.y) };
}

/** The frame's pixel nearest to its middle color whose surroundings agree, as a place of the original. */
function placeOnFrame({ raster, reduction }: Scene, frame: FrameReading): { x: number; y: number } {
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

function explain(
  kind: 'flat' | 'gradient' | 'pattern',
  scene: Scene,
  sample: Sample,
  { areas, shaded, goes, reduction }: Decision,
): string {
  const color = nameColor(colorOfSample(scene, sample));
  const parts = [
    kind === 'pattern'
      ? 'A painted-in checkerboard all around'
      : kind === 'gradient'
        ? 'A smooth gradient all around the frame'
        : `${color} all around the frame${sample.backdrop === 'smooth' ? ', lit a little unevenly' : ''}`,
  ];
  if (shaded) parts.push('a soft shadow cleared with it');
  const cleared = areas.filter(({ goes }) => goes);
  if (cleared.length > 0)
    parts.push(
      `${count(cleared.length, 'enclosed area')} of the same ${kind === 'flat' ? 'color' : 'backdrop'} cleared`,
    );
  for (const [why, [one, several]] of Object.entries(WHY_STAYS) as [
    AreaReason,
    readonly [string, string],
  ][]) {
    const number = areas.filter((area) => !area.goes && area.why === why).length;
    if (number > 0) parts.push(`${number} kept because ${number === 1 ? one : several}`);
  }
  const doubts = areas.filter(({ sure }) => !sure);
  const subject = goes.length * (1 - shareOf(goes)) * 4 ** reduction;
  const share = doubts.reduce((sum, { pixels }) => sum + pixels, 0) / Math.max(1, subject);
  const doubt = share > MATTERS_SHARE ? ` Not sure about ${count(doubts.length, 'area')}: please look.` : '';
  return `${parts.join('; ')}.${doubt}`;
}

function count(number: number, word: string): string {
  return number === 1 ? `1 ${word}` : `${number} ${word}s`;
}
