import { Fact, Remembered } from '../scene/memo';
import { halvingsTo } from '../raster/reduce';
import type { Progress, Steps } from '../numeric/steps';
import { checkerOf } from '../stages/clear/backdrop';
import type { Checker } from '../stages/clear/checker';
import { sceneAt, type Scene } from '../scene/scene';
import { bytesBy } from '../numeric/plane';
import type { Mark } from '../stages/clear/settings';
import type { Raster } from '../raster/raster';
import { dropUnmarked, fieldOf, likelyGoes, marksOf, unsureAreas, type Field } from './by-marks';
import { carried } from './carry';
import type { Area, AreaReason } from './area';
import type { Decision, Facts, Place } from './decision';
import { castShadows } from './cast';
import { isDrawn } from './drawn';
import { decideEnclosed } from './enclosed';
import { alikeAreas, isInShade, shadeAreas } from './look-alikes';
import { keptDecision, takeDecision } from './kept-decisions';
import { planesBy } from './pattern';
import type { Planes } from './planes';
import { inEvenRows } from './sweep';
import { regionsOf } from './regions';
import { roll, takeBorders, takeGrain, takeOpenPieces } from './roll';
import { dropShadowRims, explain, NEVER, refit, seeing, takeShadows, type Sight } from './sight';

/** What was seen of a picture, whatever may be told of it. */
export interface Survey {
  readonly sight: Sight;
  readonly reduction: number;
  readonly checker: Checker | null;
  /** What goes before anything enclosed does. */
  readonly outside: Uint8Array;
  /** What marks are compared by, once there are some. */
  field?: Field;
}

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** The decision is taken at no more than so many pixels. */
const MOST_PIXELS = 400_000;

/** How much the model of the backdrop may be off, in turns: at first it knows no more than the frame. */
const SLACK = [2.5, 1, 1] as const;

/** What was decided, by what was told, for undo and redo too; and what was seen of the picture, as soon as somebody asked. */
const DECISIONS = new Fact(() => new Remembered<Decision | null>(4));
const SURVEY = new Fact((): { taken?: Survey | null } => ({}));

/**
 * Decides for every pixel at once whether it is subject or background, from where borders are, how the backdrop or a shade on
 * it explains a pixel, and what is enclosed. Null where the frame shows no backdrop. The same picture and facts give the
 * same decision everywhere, but for what was decided of it before (`keepingDecisions`). Kept with the picture, as is what was seen of it.
 */
export function* decisionSteps(scene: Scene, facts: Facts): Steps<Decision | null> {
  const decisions = scene.memo.of(DECISIONS);
  const survey = scene.memo.of(SURVEY);
  const key = JSON.stringify(facts);
  const before = decisions.get(key);
  if (before !== undefined) return before;
  const kept = keptDecision(scene, key);
  if (kept !== undefined) return decisions.keep(key, kept);
  if (survey.taken === undefined) survey.taken = yield* surveySteps(scene);
  const decision = survey.taken && (yield* decideBy(survey.taken, facts, scene.original));
  takeDecision(scene, key, decision);
  return decisions.keep(key, decision);
}

/** What is told while it decides: the last part of looking at a picture. */
const DECIDING: Progress = { doing: 'looking', done: 3, total: 4 };

/** Looks at a picture: where its backdrop is, where borders are, and what is reached from outside. */
function* surveySteps(whole: Scene): Steps<Survey | null> {
  const { width, height } = whole.original;
  const scene = sceneAt(whole, halvingsTo(MOST_PIXELS, width, height));
  const { reduction } = scene;
  const checker = checkerOf(scene);
  const planes = planesBy(scene, checker);
  yield { doing: 'looking', done: 1, total: 4 };
  const sight = yield* bestSight(planes);
  if (!sight) return null;
  yield { doing: 'looking', done: 2, total: 4 };
  let outside: Uint8Array = new Uint8Array(0);
  for (let turn = 0; turn < SLACK.length; turn++) {
    explain(sight, SLACK[turn]!);
    if (sight.colored && turn === 1) dropShadowRims(sight);
    yield { doing: 'looking', done: 2, total: 4 };
    outside = roll(sight, []);
    yield { doing: 'looking', done: 2, total: 4 };
    if (turn < SLACK.length - 1) refit(sight, outside);
    yield { doing: 'looking', done: 2, total: 4 };
  }
  takeOpenPieces(sight, outside);
  yield { doing: 'looking', done: 2, total: 4 };
  const shadows = checker ? null : yield* castShadows(sight, outside);
  if (shadows) {
    takeShadows(sight, shadows);
    outside = roll(sight, []);
    takeOpenPieces(sight, outside);
    yield { doing: 'looking', done: 3, total: 4 };
  }
  return { sight, reduction, checker, outside };
}

/** Where one smooth backdrop explains less of the frame than this, its light may change from row to row; then it explains more of it, by so much. */
const WELL_EXPLAINED_SHARE = 0.93;
const BETTER_SHARE = 0.03;

/** What is seen of planes, in even light where that explains their frame better. */
function* bestSight(planes: Planes): Steps<Sight | null> {
  const sight = yield* seeing(planes);
  if (!sight || planes.pattern || sight.frameShare >= WELL_EXPLAINED_SHARE) return sight;
  const even = inEvenRows(planes);
  const other = even && (yield* seeing(even));
  const explains = other ? other.frameShare : 0;
  return explains >= WELL_EXPLAINED_SHARE && explains > sight.frameShare + BETTER_SHARE ? other : sight;
}

/** A frame of which less than this is backdrop is too busy to tell. */
export const LEAST_FRAME_SHARE = 0.55;

/** By the backdrop where there is one; else by marks. Null where there are none on either side. */
function* decideBy(survey: Survey, facts: Facts, original: Raster): Steps<Decision | null> {
  if (survey.sight.frameShare >= LEAST_FRAME_SHARE) return yield* decide(survey, facts, original);
  const isOneSided = facts.marks.every(({ goes }) => goes) || facts.marks.every(({ goes }) => !goes);
  return isOneSided ? null : yield* decideByMarks(survey, facts, original);
}

/** Decides by marks alone, with the colors and textures under and around them. */
function* decideByMarks(
  survey: Survey,
  { goes: places, stays, marks }: Facts,
  original: Raster,
): Steps<Decision> {
  const { sight, reduction } = survey;
  const { planes, frameShare, clean, colored, toBorder } = sight;
  const { width, height } = planes;
  const dots = (list: readonly Place[], isGoing: boolean): Mark[] =>
    list.map(({ x, y }) => ({ goes: isGoing, radiusPx: 2 ** reduction, points: [[x + 0.5, y + 0.5]] }));
  const all = [...marks, ...dots(places, true), ...dots(stays, false)];
  const likely = likelyGoes((survey.field ??= fieldOf(planes)), all, reduction);
  const goes = bytesBy(likely.length, (i) => (likely[i]! > 0.5 ? 1 : 0));
  const told = toldOf({ goes: [], stays: [], marks: all }, original, width, reduction);
  dropUnmarked(goes, told, width, height);
  yield DECIDING;
  return {
    width,
    height,
    reduction,
    goes,
    firm: new Uint8Array(goes.length),
    doubtful: new Uint8Array(goes.length),
    clean,
    drawnOnWhite: false,
    colored,
    toBorder,
    areas: unsureAreas({ data: likely, width, height }).map((area) => enlarged(area, reduction, original)),
    frameShare,
    byMarks: true,
    shaded: false,
    evened: sight.planes.light !== null,
    backdrop: sight.smooth,
    carried: yield* carried(sight, goes, reduction, null, original, true, told),
  };
}

/** Decides what is enclosed, and obeys what was told. */
function* decide(
  { sight, reduction, checker, outside }: Survey,
  facts: Facts,
  original: Raster,
): Steps<Decision> {
  const { width, height } = sight.planes;
  const told = toldOf(facts, original, width, reduction);
  const pattern = checker && { checker, scale: 2 ** reduction };
  const enclosed = decideEnclosed(sight, outside, pattern, told);
  const { areas: found, of, doubts } = enclosed;
  yield DECIDING;
  const seeds: number[] = [];
  for (let i = 0; i < of.length; i++) if (of[i]! >= 0 && found[of[i]!]!.goes) seeds.push(i);
  const seeded = new Uint8Array(of.length);
  for (const [i, answer] of told) {
    if (answer === -1 || of[i]! >= 0 || outside[i] === 1 || seeded[i] === 1) continue;
    for (const j of around(sight, outside, i)) {
      if (seeded[j] === 1) continue;
      seeded[j] = 1;
      seeds.push(j);
    }
  }
  const goes = seeds.length > 0 ? roll(sight, seeds) : outside.slice();
  yield DECIDING;
  if (seeds.length > 0) takeOpenPieces(sight, goes);
  yield DECIDING;
  takeBorders(sight, goes);
  takeGrain(sight, goes);
  let holds = 0;
  for (const [i, answer] of told)
    if (answer === -1 && goes[i] === 1 && holds++ < MOST_HOLDS) hold(sight, goes, seeds, told, i);
  for (const [i, answer] of told) goes[i] = answer === 1 ? 1 : 0;
  const firm = new Uint8Array(goes.length);
  for (const i of told.keys()) firm[i] = 1;
  // No color can tell a pattern in a shadow, or a shadow's rim, from the subject; a drawing's colored backdrop tells its shade for sure.
  const isDark = isInShade(sight);
  for (let i = 0; i < goes.length; i++)
    if (goes[i] === 1 && (sight.inShadow[i] === 1 || (sight.clean && sight.colored && isDark(i))))
      firm[i] = 1;
  yield DECIDING;
  const shades = shadeAreas(sight, goes, enclosed, told);
  const doubtful = new Uint8Array(goes.length);
  for (let i = 0; i < of.length; i++) {
    const area = of[i]! >= 0 ? found[of[i]!]! : null;
    if (!area) continue;
    if (FIRM.has(area.why)) firm[i] = 1;
    else if (doubts[of[i]!]) doubtful[i] = 1;
  }
  const alike = checker ? [] : alikeAreas(sight, goes, enclosed, shades, told);
  yield DECIDING;
  const drawnOnWhite = isDrawn(sight);
  yield DECIDING;
  return {
    width,
    height,
    reduction,
    goes,
    firm,
    doubtful,
    clean: sight.clean,
    drawnOnWhite,
    colored: sight.colored,
    toBorder: sight.toBorder,
    areas: [...found, ...shades, ...alike].map((area) => enlarged(area, reduction, original)),
    frameShare: sight.frameShare,
    byMarks: false,
    shaded: shadeOf(sight, goes) > LEAST_SHADE_SHARE,
    evened: sight.planes.light !== null,
    backdrop: sight.smooth,
    carried: yield* carried(sight, goes, reduction, checker, original, false, told),
  };
}

/** So many places that stay are looked at with what is around them; all others stay by themselves. */
const MOST_HOLDS = 40;

/** Reasons that no color can outweigh. */
const FIRM: ReadonlySet<AreaReason> = new Set<AreaReason>([
  'told',
  'holds-parts',
  'shaded',
  'within',
  'twin',
  'solid',
]);

/** An area in pixels of the original. */
function enlarged(area: Area, reduction: number, { width, height }: Raster): Area {
  const scale = 2 ** reduction;
  const [left, top, right, bottom] = area.box;
  const middle = (at: number, size: number) => Math.min(size - 1, at * scale + (scale >> 1));
  return {
    ...area,
    x: middle(area.x, width),
    y: middle(area.y, height),
    pixels: area.pixels * scale * scale,
    dots: area.dots.map(([x, y]) => [middle(x, width), middle(y, height)]),
    box: [
      left * scale,
      top * scale,
      Math.min(width, (right + 1) * scale) - 1,
      Math.min(height, (bottom + 1) * scale) - 1,
    ],
  };
}

/** Less shade than this share of the picture is not worth a word. */
const LEAST_SHADE_SHARE = 0.002;

/** The share of the picture that the largest shade of the backdrop takes which goes. */
function shadeOf({ planes, clearance, reach }: Sight, goes: Uint8Array): number {
  const { width, height } = planes;
  const isShade = (i: number) => goes[i] === 1 && clearance[i]! >= 0.99 * reach && clearance[i]! < NEVER;
  const pieces = regionsOf(width, height, isShade).list.map(({ pixels }) => pixels);
  return Math.max(0, ...pieces) / goes.length;
}

/** What was told, by the pixel of the decision: 1 goes, -1 stays. Places outside of the picture say nothing. */
function toldOf(facts: Facts, original: Raster, width: number, reduction: number): Map<number, 1 | -1> {
  const told = new Map<number, 1 | -1>();
  const tell = (places: readonly Place[], answer: 1 | -1) => {
    for (const { x, y } of places)
      if (x < original.width && y < original.height)
        told.set((y >> reduction) * width + (x >> reduction), answer);
  };
  tell(facts.goes, 1);
  tell(facts.stays, -1);
  const height = Math.ceil(original.height / 2 ** reduction);
  marksOf(facts.marks, width, height, reduction).forEach((answer, i) => {
    if (answer !== 0) told.set(i, answer > 0 ? 1 : -1);
  });
  return told;
}

/** How far what hangs together with a told place may differ from it, in units of noise. */
const LIKE_TOLD_NOISE = 8;

/**
 * What goes with a place that was told to be background: all around it, up to borders, that could be the backdrop or its shade;
 * where the place itself could not, what looks like it.
 */
function around({ planes, calm, noise, borders, clearance }: Sight, goes: Uint8Array, at: number): number[] {
  const { width, height } = planes;
  const own = calm.map((plane) => plane[at]!);
  const like = (i: number) => {
    let off = 0;
    for (let c = 0; c < 3; c++) {
      const far = (calm[c]![i]! - own[c]!) / noise[c]!;
      off += far * far;
    }
    return off < LIKE_TOLD_NOISE * LIKE_TOLD_NOISE;
  };
  const belongs = clearance[at]! < NEVER ? (i: number) => clearance[i]! < NEVER : like;
  return placesAround(width, height, at, (i) => goes[i] === 0 && borders[i] === 0 && belongs(i));
}

/** The pixels that hang together with one among those that are `inside`; it alone where it is not. */
function placesAround(width: number, height: number, at: number, inside: (i: number) => boolean): number[] {
  const { of, list, places } = regionsOf(width, height, inside);
  const own = of[at]!;
  return own < 0 ? [at] : Array.from(places.subarray(list[own]!.from, list[own]!.to));
}

/** No more than this share of the picture hangs together with one place that stays; of more only what is near. */
const MOST_HELD_SHARE = 0.1;

/** Clearances tried, in turn, to hold what was told to stay: times the usual. */
const STRICTER = [2, 4, 8];

/**
 * Takes back from what goes the piece around a place that stays: all of a shade, or what is not reached where more room is
 * asked for between borders.
 */
function hold(
  sight: Sight,
  goes: Uint8Array,
  seeds: readonly number[],
  told: ReadonlyMap<number, 1 | -1>,
  at: number,
): void {
  const { planes, borders, clearance, reach } = sight;
  const { width, height } = planes;
  const isDark = isInShade(sight);
  const isListed = isDark(at) && borders[at] === 0;
  const isShade = (i: number) => clearance[i]! >= 0.5 * reach;
  const strict = isShade(at) ? null : stricter(sight, seeds, at);
  const isHeld = isListed
    ? (i: number) => isDark(i) && borders[i] === 0
    : strict
      ? (i: number) => strict[i] === 0
      : isShade;
  const whole = placesAround(width, height, at, (i) => goes[i] === 1 && isHeld(i));
  const most = isListed ? goes.length : MOST_HELD_SHARE * goes.length;
  const isTooMuch = whole.length > most || whole.some((i) => told.get(i) === 1);
  const [x0, y0] = [at % width, Math.floor(at / width)];
  for (const i of whole) {
    const [x, y] = [i % width, Math.floor(i / width)];
    if (!isTooMuch || Math.max(Math.abs(x - x0), Math.abs(y - y0)) <= reach) goes[i] = 0;
  }
}

/** What goes where so much more room is asked for between borders that a place stays. Null where nothing is enough. */
function stricter(sight: Sight, seeds: readonly number[], at: number): Uint8Array | null {
  const { clearance } = sight;
  const usual = clearance.slice();
  let found: Uint8Array | null = null;
  for (const times of STRICTER) {
    for (let i = 0; i < clearance.length; i++)
      clearance[i] = usual[i]! >= NEVER ? NEVER : Math.max(2, usual[i]!) * times;
    const tried = roll(sight, seeds);
    if (tried[at] === 1) continue;
    found = tried;
    break;
  }
  clearance.set(usual);
  return found;
}
