import type { Cut } from '../cut/schema';
import { runToEnd, type Steps } from '../numeric/steps';
import type { Raster, Rect } from '../raster/raster';
import { boardSteps, placedOn, renderBoard, type Board } from '../board';
import { reachMaps, strokesThatAct, type Cutout } from '../render';
import {
  actingSamples,
  backdropOfSample,
  colorOfSample,
  hasColor,
  type ReachCache,
} from '../stages/clear/clear';
import { Fact } from '../scene/memo';
import type { Scene } from '../scene/scene';
import type { Frame } from '../stages/prepare/frame';
import { clearsByHand } from '../stages/touch-up/strokes';
import { prepareKey, type Source } from '../stages/prepare/prepare';
import { finishedOf, without, type Finding, type Place } from './finding';
import { findFrameTouches } from './frame-touch';
import { findHalo, LIKELY_BACKGROUNDS, type BackgroundAt } from './halo';
import { findHiddenColor } from './hidden-color';
import { findIdleSamples } from './idle-sample';
import { findPinholes } from './pinholes';
import { findMissing } from './missing';
import { findOpenPockets, pocketPlaces, type PocketPlace } from './pockets';
import { findPrintSize } from './print-size';
import { findResidue } from './residue';
import { findRoughEdges } from './rough-edge';
import { findSpecks } from './specks';
import { findTolerances } from './tolerance';
import { findTooAlike } from './too-alike';

/** What the checks read: a cut that was rendered at full size on a board. */
export interface CheckInput {
  readonly board: Board;
  /** With its places on the board. */
  readonly cut: Cut;
  readonly cutout: Cutout;
}

/** Everything that all checks found. */
export interface Checked {
  /** Faults first, then doubts, then notes. */
  readonly findings: readonly Finding[];
  /** All pockets, kept ones too. */
  readonly pockets: readonly PocketPlace[];
  /** The places in the list of strokes by hand that change nothing any more. */
  readonly idleStrokes: readonly number[];
}

/**
 * Runs every check on a full-size cutout, in steps. Reach maps that only the checks need are taken from and left in `spare`.
 */
export function* checkCut(input: CheckInput, spare: ReachCache): Steps<Checked> {
  const { cut, cutout } = input;
  const { scene, window, original, kept } = input.board;
  const maps = yield* reachMaps(scene, cut, kept.maps);
  const samples = actingSamples(cut);
  const found: (Finding | null)[] = [findPrintSize(cutout.raster, cut), hiddenIn(scene, original)];
  const joined = samples.map((sample, k) => ({ sample, map: maps[k]! }));
  const pockets = yield* pocketPlaces(scene, cut, window, joined, spare);
  yield { doing: 'checking', done: 1, total: 4 };
  const own = joined.filter(({ sample }) => sample.rule === 'tolerance');
  const ownMaps = own.map(({ map }) => map);
  found.push(
    findOpenPockets(pockets),
    findTolerances(
      own.map(({ sample }) => sample),
      ownMaps,
      window,
    ),
  );
  if (samples.length > 1 && samples.every(hasColor)) found.push(findIdleSamples(samples, maps, window));
  found.push(findTooAlike(cutout.alike));
  if (cutout.alpha.transparent > 0) found.push(...(yield* pixelFindings(input)));
  return { findings: inOrder(found), pockets, idleStrokes: yield* idleStrokes(scene, cut, kept) };
}

/** Strokes that change no pixel. */
function* idleStrokes(scene: Scene, cut: Cut, kept: Board['kept']): Steps<readonly number[]> {
  const { on, strokes } = cut.touchUp;
  if (!on || strokes.length === 0) return [];
  const acts = yield* strokesThatAct(scene, cut, kept);
  return [...strokes.keys()].filter((place) => !acts.has(place));
}

/** Hidden color of an original, looked for once. */
const HIDDEN = new Fact((): { found?: Finding | null } => ({}));

function hiddenIn({ memo }: Scene, original: Raster): Finding | null {
  const hidden = memo.of(HIDDEN);
  if (hidden.found === undefined) hidden.found = findHiddenColor(original, 'original');
  return hidden.found;
}

function* pixelFindings({ board, cut, cutout }: CheckInput): Steps<(Finding | null)[]> {
  const { scene, frame, window } = board;
  const finished = finishedOf(cutout.raster);
  yield { doing: 'checking', done: 2, total: 4 };
  const meant = cut.clear.pockets
    .filter(({ keep }) => !keep)
    .map(({ x, y }) => ({ x: x - window.x, y: y - window.y }));
  const missing = yield* findMissing(scene, cut, window, finished);
  const byHand = (place: Place) => clearsByHand(cut, place.at.x + window.x, place.at.y + window.y);
  const found = [missing && without(missing, byHand), yield* findSpecks(finished)];
  yield { doing: 'checking', done: 3, total: 4 };
  found.push(yield* findPinholes(finished, meant));
  found.push(findFrameTouches(finished, croppedSides(frame)));
  found.push(yield* findResidue(finished));
  found.push(yield* findRoughEdges(finished));
  found.push(yield* findHalo(finished, backgroundsOf(scene, cut, window)));
  return found;
}

/** What stood behind the subject: the backdrops that samples read; whatever is likely where nothing was read. */
export function backgroundsOf(scene: Scene, cut: Cut, window: Rect): readonly BackgroundAt[] {
  const samples = actingSamples(cut).filter(hasColor);
  if (samples.length === 0) return LIKELY_BACKGROUNDS;
  return samples.map((sample): BackgroundAt => {
    const backdrop = backdropOfSample(scene, sample);
    if (backdrop) return (x, y) => backdrop(x + window.x, y + window.y);
    const color = colorOfSample(scene, sample);
    return () => color;
  });
}

function croppedSides({ crop, width, height }: Frame) {
  const sides: ('left' | 'right' | 'top' | 'bottom')[] = [];
  if (crop.x > 0) sides.push('left');
  if (crop.y > 0) sides.push('top');
  if (crop.x + crop.width < width) sides.push('right');
  if (crop.y + crop.height < height) sides.push('bottom');
  return sides;
}

const ORDER = { fault: 0, doubt: 1, note: 2 } as const;

/** Findings without the empty ones, the worst first. */
export function inOrder(found: readonly (Finding | null)[]): Finding[] {
  return found
    .filter((finding) => finding !== null)
    .sort((one, other) => ORDER[one.severity] - ORDER[other.severity]);
}

/** A cut that is rendered at full size on a board, and the checks of it, to be run when they are wanted. */
export interface Checkable {
  readonly board: Board;
  readonly cut: Cut;
  readonly cutout: Cutout;
  readonly check: () => Checked;
}

/** Renders a cut at full size, at once; on a board where there is one that the cut prepares the same. */
export function renderCheckable(source: Source, cut: Cut, before?: Board): Checkable {
  const board = before?.key === prepareKey(cut, source.original) ? before : runToEnd(boardSteps(source, cut));
  const cutout = runToEnd(renderBoard(board, cut));
  const input = { board, cut: placedOn(board, cut), cutout };
  return { board, cut, cutout, check: () => runToEnd(checkCut(input, new Map())) };
}

/** Renders a cut at full size and runs every check on it, at once. */
export function renderAndCheck(original: Raster, cut: Cut) {
  const { cutout, board, check } = renderCheckable({ original }, cut);
  return { cutout, frame: board.frame, checked: check() };
}
