import type { Cut } from './cut/schema';
import { keepingDecisions, type KeptDecisions } from './decision/kept-decisions';
import type { Steps } from './numeric/steps';
import type { Raster, Rect } from './raster/raster';
import { renderPrepared, type Cutout } from './render';
import { sceneOf, type Scene } from './scene/scene';
import { Kept } from './stages/kept';
import type { Frame } from './stages/prepare/frame';
import { framedCut } from './stages/prepare/framed-cut';
import { prepareKey, prepareSteps, type Source } from './stages/prepare/prepare';

/** A picture after Prepare, at full size, and what was computed of it. Cuts that prepare it the same share it. */
export interface Board {
  readonly original: Raster;
  /** Equal for cuts that prepare the original the same. */
  readonly key: string;
  readonly frame: Frame;
  /** The part of the frame that is worked on. */
  readonly work: Rect;
  /** The crop within the work area: what is delivered. */
  readonly window: Rect;
  /** The work area. */
  readonly scene: Scene;
  readonly kept: Kept;
  /** What was decided of the original; null where that is not kept. */
  readonly decisions: KeptDecisions | null;
}

/** The original as it is, where nothing is prepared, with what was decided of it; made once. */
export function sceneOfSource(source: Source): Scene {
  if (source.scene) return source.scene;
  source.scene = sceneOf(source.original, source.helpers ?? null);
  keepingDecisions(source.scene, source.decisions ?? null, '');
  return source.scene;
}

/** Makes the board of a cut. Throws `bad-argument` where corners or crop make no picture. */
export function* boardSteps(source: Source, cut: Cut): Steps<Board> {
  const { original } = source;
  const { frame, work, window, raster } = yield* prepareSteps(source, cut);
  const key = prepareKey(cut, original);
  const decisions = source.decisions ?? null;
  const scene = raster === original ? sceneOfSource(source) : sceneOf(raster, source.helpers ?? null);
  if (raster !== original) keepingDecisions(scene, decisions, key);
  return { original, key, frame, work, window, scene, kept: Kept.of(raster), decisions };
}

/** A cut with its places in pixels of a board's work area. */
export function placedOn({ frame, work }: Pick<Board, 'frame' | 'work'>, cut: Cut): Cut {
  return framedCut(cut, frame, work);
}

/** The cutout of a cut that prepares the original as the board was. */
export function renderBoard(board: Board, cut: Cut): Steps<Cutout> {
  return renderPrepared(board.scene, { cut: placedOn(board, cut), window: board.window }, board.kept);
}
