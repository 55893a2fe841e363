import { placedOn } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import type { KeptDecisions } from '../../core/decision/kept-decisions';
import { checkCut, type Checked } from '../../core/findings/check-cut';
import { questionOf } from '../../core/findings/question';
import { createRaster, type Bytes, type Rect } from '../../core/raster/raster';
import { packCutout } from '../../core/packed-cutout';
import { renderPrepared } from '../../core/render';
import { actingSamples, reachKey, reachOfSample, type ReachCache } from '../../core/stages/clear/clear';
import { hasManyColors } from '../../core/stages/ink/many-colors';
import type { Point } from '../../core/numeric/matrix3';
import { piecesLeft, type PieceLeft } from '../../core/stages/touch-up/islands-left';
import type { LineEnds } from '../../core/stages/touch-up/line-ends';
import { contentOf } from '../../core/stages/prepare/content';
import { composeInto } from '../../core/view/compose';
import { contrastingBacking } from '../../core/view/contrasting';
import type { InkFacts, ShowRequest } from '../protocol';
import { answerSteps, type Answers } from './answers';
import { sizedBoardSteps, type SizedBoard } from './board';
import { Curves } from './curves';
import type { EngineHost } from './engine-host';
import { inkFactsOf } from './ink-facts';
import { BLACK, inWhite, reductionFor, sizeOfFinished, type Finished } from './layers';
import { OpenPiece, type Known, type Shown } from './open-piece';
import { Painter } from './painter';
import { questions } from './questions';
import { jobOf, Scheduler, type Job } from './scheduler';
import { stageLayers } from './stage-layers';
import { Tried } from './tried';

/** How long nothing must have been asked for before the full-size cutout is made. */
const REST_MS = 140;

/** How long the engine works before it looks for new requests. */
const SLICE_MS = 10;

/** Reach maps that are kept for the checks: fewer for originals of more bytes than these. */
const SPARE_MAPS = 12;
const FEW_MAPS = 2;
const LARGE = 24_000_000;

/** What is to be done next for what is shown. */
interface Plan {
  readonly shown: Shown;
  readonly job: Job;
}

export type BenchEngine = ReturnType<typeof createBenchEngine>;

/**
 * Runs the core for one open piece. It keeps the original, the prepared picture at all its sizes, and what was drawn of it up
 * to each stage; answers every request at once at the size of the view, and makes the full size when the requests rest.
 */
export function createBenchEngine(
  master: { readonly width: number; readonly height: number; readonly data: Bytes },
  host: EngineHost,
  known: Known | null = null,
  decisions: KeptDecisions | null = null,
) {
  const original = createRaster(master.width, master.height, master.data);
  const piece = new OpenPiece(original, host.helpers, known, decisions);
  const curves = new Curves();
  const painter = new Painter(piece, host, () => {
    unpainted = true;
    wake();
  });
  const tried = new Tried(piece, (pictures) => host.tried(pictures));
  const scheduler = new Scheduler(
    () => host.now(),
    (progress) => {
      progressing = true;
      host.tell({ kind: 'progress', progress });
    },
  );
  let wanted: Shown | null = null;
  let unpainted = false;
  let lastAsked = 0;
  let resting = false;
  /** Whether progress was told of work that has not ended yet. */
  let progressing = false;
  /** What the layers that a stroke stands on were drawn of last, at the size of the view. */
  let warmKey = '';
  let closed = false;
  let planned: Plan | null = null;
  /** The cutout whose facts were told last, and the one whose small pictures were. */
  let settledKey = '';
  let picturedKey = '';
  let checkedKey = '';
  /** What the last checks found, until its question is shown. */
  let asking: { readonly key: string; readonly checked: Checked } | null = null;
  /** Reach maps that only the checks need. */
  const spare: ReachCache = new Map();
  let wake: () => void = () => undefined;
  const waiting: ((value: Finished) => void)[] = [];
  const waitingBoard: ((value: SizedBoard) => void)[] = [];

  /** The first thing that is to be done for what is shown; null where all is done. */
  function nextJob(shown: Shown): Job | null {
    const on = piece.boardOf(shown);
    if (!on) return boardJob(shown);
    if (shown.request.look === 'prepared' && waiting.length === 0) {
      if (progressing) host.tell({ kind: 'prepared' });
      progressing = false;
      return null;
    }
    const placed = placedOn(on, shown.request.cut);
    const finished = piece.finishedOf(shown);
    if (!finished) return mapJob(shown, on, placed) ?? cutJob(shown, on, placed);
    // It came back, or work on another cut was overtaken by it.
    if (settledKey !== finished.key) settle(finished, shown.request.turn);
    else if (progressing) tellSettled(finished, shown.request.turn);
    for (const done of waiting.splice(0)) done(finished);
    if (picturedKey !== finished.key) return picturesJob(finished, on, placed);
    if (checkedKey !== shown.checks) return checkJob(shown, on, placed, finished);
    return answerJob(shown, on, placed, finished) ?? (warmKey === shown.pixels ? null : warmJob(shown, on));
  }

  /** The same, made out once for a request and each job that ends. */
  function planFor(shown: Shown): Plan | null {
    if (planned?.shown === shown) return planned;
    const job = nextJob(shown);
    return (planned = job && { shown, job });
  }

  const boardJob = (shown: Shown) =>
    jobOf({
      key: `board ${shown.prepared}`,
      begin: () => sizedBoardSteps(piece.source, shown.request.cut),
      done(board) {
        piece.board = board;
        for (const done of waitingBoard.splice(0)) done(board);
        spare.clear();
        if (wanted) {
          painter.paint(wanted);
          tried.follow(wanted);
        }
      },
    });

  /** A reach map of its own, so that its curve is told as soon as it is there. */
  function mapJob({ request: { cut } }: Shown, { scene, kept }: SizedBoard, placed: Cut): Job | null {
    const missing = actingSamples(placed).find((sample) => !kept.maps.has(reachKey(sample, placed)));
    if (!missing) return null;
    return jobOf({
      key: `map ${reachKey(missing, placed)}`,
      begin: () => reachOfSample(scene, missing, placed, kept.maps),
      done: () => tellCurves(cut),
    });
  }

  const cutJob = ({ pixels, request: { turn } }: Shown, { scene, window, kept }: SizedBoard, placed: Cut) =>
    jobOf({
      key: `cut ${pixels}`,
      begin: () => renderPrepared(scene, { cut: placed, window }, kept),
      done: (cutout) => settle(piece.finish(pixels, cutout), turn),
    });

  const checkJob = ({ checks }: Shown, on: SizedBoard, placed: Cut, { cutout }: Finished) =>
    jobOf({
      key: `check ${checks}`,
      isTold: false,
      begin() {
        if (spare.size > (piece.original.data.length > LARGE ? FEW_MAPS : SPARE_MAPS)) spare.clear();
        return checkCut({ board: on, cut: placed, cutout }, spare);
      },
      done(checked) {
        checkedKey = checks;
        asking = { key: checks, checked };
        host.tell({ kind: 'checked', key: checks, contrast: contrastingBacking(cutout.raster), ...checked });
        // Of what was known before the piece was opened the maps come only now.
        if (wanted) tellCurves(wanted.request.cut);
      },
    });

  /** The pictures of the one question about a cut, where there is one. */
  function answerJob(shown: Shown, on: SizedBoard, placed: Cut, { cutout }: Finished): Job | null {
    if (asking?.key !== shown.checks) return null;
    const { key, checked } = asking;
    const areas = questionOf(checked.pockets, cutout.alpha);
    if (areas.length === 0) {
      asking = null;
      return null;
    }
    return jobOf({
      key: `answers ${key}`,
      isTold: false,
      begin: () => answerSteps(on, placed, areas),
      done({ layers, isPale }: Answers) {
        asking = null;
        host.answers(key, isPale, cutout.raster, (what, view, ground, out) =>
          composeInto(layers[what], view, ground, out),
        );
      },
    });
  }

  const warmJob = (shown: Shown, on: SizedBoard) =>
    jobOf({
      key: `warm ${shown.pixels}`,
      isTold: false,
      begin: () => painter.warmUp(shown, on),
      done: () => (warmKey = shown.pixels),
    });

  function tellSettled({ cutout: { alpha } }: Finished, turn: number): void {
    progressing = false;
    host.tell({ kind: 'settled', turn, alpha });
  }

  function settle(result: Finished, turn: number): void {
    settledKey = result.key;
    tellSettled(result, turn);
    if (wanted) {
      painter.paint(wanted);
      tried.follow(wanted);
      tellCurves(wanted.request.cut);
    }
    for (const done of waiting.splice(0)) done(result);
  }

  /** Small pictures of the piece after each stage. */
  const picturesJob = (result: Finished, on: SizedBoard, placed: Cut) =>
    jobOf({
      key: `pictures ${result.key}`,
      isTold: false,
      begin: () => stageLayers(on, placed),
      done(layers) {
        picturedKey = result.key;
        const { raster } = result.cutout;
        host.thumbnail(raster, (what, view, ground, out) => {
          const reduction = reductionFor(view.scale, 20);
          const whole = { wholeWidth: raster.width, wholeHeight: raster.height };
          const small = sizeOfFinished(result, reduction);
          const layer = { raster: small, x: 0, y: 0, reduction, ...whole };
          if (what === 'alpha') composeInto(inWhite(layer, view), view, { ...ground, ...BLACK }, out);
          else composeInto(layers[what] ?? layer, view, ground, out);
        });
      },
    });

  function tellCurves(cut: Cut): void {
    const on = wanted && piece.boardOf(wanted);
    const told = on && curves.of(on, cut);
    if (told) host.tell({ kind: 'curves', curves: told });
  }

  /** Whether requests rest, so that there is time for work ahead; or somebody waits for it. */
  function isQuiet(): boolean {
    return waiting.length > 0 || host.now() - lastAsked >= REST_MS;
  }

  async function run(): Promise<void> {
    while (!closed) {
      if (unpainted && wanted) {
        unpainted = false;
        painter.paint(wanted);
        tried.follow(wanted);
        tellCurves(wanted.request.cut);
      } else {
        // Requests that do not rest yet are waited for awake: nobody tells when they do.
        const isAwake = wanted !== null && !resting && !isQuiet();
        const plan = wanted && !resting && !isAwake ? planFor(wanted) : null;
        if (plan) {
          if (scheduler.work(plan.job, host.now() + SLICE_MS)) planned = null;
        } else if (!isAwake) {
          await new Promise<void>((resolve) => (wake = resolve));
          continue;
        }
      }
      await host.pause();
    }
  }

  void run().catch((error: unknown) =>
    host.tell({ kind: 'failed', message: error instanceof Error ? error.message : String(error) }),
  );

  /** The full-size cutout of what is wanted now, as soon as it is made. */
  function currentlyFinished(): Promise<Finished> {
    const there = wanted && piece.finishedOf(wanted);
    if (there) return Promise.resolve(there);
    resting = false;
    return new Promise<Finished>((resolve) => {
      waiting.push(resolve);
      wake();
    });
  }

  /** The next prepared picture; its progress is told like that of all work ahead. */
  function whenPrepared(): Promise<SizedBoard> {
    resting = false;
    return new Promise<SizedBoard>((resolve) => {
      waitingBoard.push(resolve);
      wake();
    });
  }

  const answered = questions(piece, painter, () => wanted);
  return {
    ...answered,
    /** Where a line of the full-size cutout ends on either side of a gap; see `questions`. */
    async lineEnds(from: Point, to: Point): Promise<LineEnds | null> {
      await currentlyFinished();
      return answered.lineEnds(from, to);
    },
    show(request: ShowRequest): void {
      if (wanted && request.turn < wanted.request.turn) return;
      const shown = piece.shown(request, wanted);
      if (shown.pixels !== wanted?.pixels) resting = false;
      wanted = shown;
      unpainted = true;
      lastAsked = host.now();
      wake();
    },
    /** Stops the full-size work until the next change of the cut. */
    rest(): void {
      resting = true;
      scheduler.drop();
      planned = null;
    },
    /** What the prepared picture of a cut shows of ink in each channel, as soon as it is prepared. The cut must be shown. */
    async inkFacts(cut: Cut): Promise<InkFacts> {
      const there = wanted && piece.boardOf(piece.shown({ ...wanted.request, cut }, wanted));
      return inkFactsOf(there ?? (await whenPrepared()));
    },
    /** The smallest box of the full-size cutout that holds all that is seen, in pixels of the crop; null for nothing. */
    contentBox: async (): Promise<Rect | null> => contentOf((await currentlyFinished()).cutout.raster),
    /** The joined pieces of the full-size cutout, in pixels of the crop. */
    piecesLeft: async (): Promise<PieceLeft[]> => piecesLeft((await currentlyFinished()).cutout.raster),
    /** Whether the full-size cutout has more than one color. */
    hasManyColors: async (): Promise<boolean> => hasManyColors((await currentlyFinished()).cutout.raster),
    /** The full-size cutout of a cut, packed beside its picture; null where it is not shown any more, or not worth it. */
    packed(cut: Cut): Uint8Array | null {
      const shown = wanted && piece.shown({ ...wanted.request, cut }, wanted);
      const finished = shown && piece.finishedOf(shown);
      const on = shown && piece.boardOf(shown);
      return finished && on ? packCutout(finished.cutout, on.scene.raster, on.window) : null;
    },
    /** Pixels of the full-size cutout, made now if need be. */
    finishedPixels: async (): Promise<Bytes> => (await currentlyFinished()).cutout.raster.data,
    close(): void {
      closed = true;
      wake();
    },
  };
}
