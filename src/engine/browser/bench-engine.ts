import { checkKey, pixelKey } from '../../core/cut/keys';
import type { Cut } from '../../core/cut/schema';
import type { Sample } from '../../core/stages/clear/settings';
import { checkCut, type Checked } from '../../core/findings/check-cut';
import { smallCopy } from '../../core/raster/reduce';
import { clipRect, createRaster, type Bytes, type Raster, type Rect } from '../../core/raster/raster';
import { edgePart, reachMaps, renderPart, renderPrepared, type Cutout } from '../../core/render';
import {
  actingSamples,
  colorOfSample,
  reachKey,
  reachOfSample,
  type ReachCache,
} from '../../core/stages/clear/clear';
import { clippedPart } from '../../core/stages/clear/by-ink/by-ink';
import type { ReachMap } from '../../core/stages/clear/reach-map';
import type { Scene } from '../../core/stages/clear/scene';
import { safeRangeOf, startingTolerance, toleranceCurve } from '../../core/stages/clear/tolerance-curve';
import { hasManyColors } from '../../core/stages/ink/many-colors';
import { contentOf } from '../../core/stages/prepare/content';
import { findSheet, type SheetCorners } from '../../core/stages/prepare/sheet';
import { findStraightening, type Straightening } from '../../core/stages/prepare/straighten';
import { prepareKey, uncropped, type Source } from '../../core/stages/prepare/prepare';
import { placedOn } from '../../core/board';
import { Drafts, sizedBoardSteps, type Size, type SizedBoard } from './board';
import { inkFactsOf } from './ink-facts';
import {
  BLACK,
  cornerOf,
  draftReductionFor,
  inWhite,
  layerAt,
  pixelsIn,
  reductionFor,
  sizeOfFinished,
  STRETCHED,
  viewOn,
  viewReductionOf,
  type Finished,
} from './layers';
import { stageLayers } from './stage-layers';
import { answerSteps, type Answers } from './answers';
import { questionOf } from '../../core/findings/question';
import { STEPS_PER_UNIT } from '../../core/stages/clear/distance';
import { runToEnd, type Steps } from '../../core/numeric/steps';
import { composeInto, visiblePart, type Ground, type Layer, type View } from '../../core/view/compose';
import { contrastingBacking } from '../../core/view/contrasting';
import { differenceOf } from '../../core/view/difference';
import { hatchInto } from '../../core/view/hatch';
import type {
  Answer,
  CurveReport,
  EngineEvent,
  InkFacts,
  Magnified,
  Probe,
  SampleStart,
  ShowRequest,
  StagePicture,
} from '../protocol';

/** How long nothing must have been asked for before the full-size cutout is made. */
const REST_MS = 140;

/** How long the engine works before it looks for new requests. */
const SLICE_MS = 10;

/** A draft that is expected to take longer is made coarser by one halving; at full size more is allowed. */
const SLOW_MS = 45;
const SLOW_EXACT_MS = 90;

/** Parts of the original larger than this are not made at full size while a setting moves. */
const MOST_EXACT = 600_000;

/** Smaller parts tell little of what a pixel costs. */
const LEAST_PIXELS = 40_000;

/** Reach maps that are kept for the checks: fewer for originals of more bytes than these. */
const SPARE_MAPS = 12;
const FEW_MAPS = 2;
const LARGE = 24_000_000;

/** How fast the memory of a slow draft fades, from one draft to the next. */
const FADE = 0.9;

/** What the engine needs of the place it runs in. */
export interface EngineHost {
  now(): number;
  /** Lets waiting messages in. */
  pause(): Promise<void>;
  /** Shows opaque pixels on the sheet. */
  paint(pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): void;
  tell(event: EngineEvent): void;
  /** Makes the stage strip's small pictures with `compose`, one after each stage of a picture of that size. */
  thumbnail(
    size: { readonly width: number; readonly height: number },
    compose: (what: StagePicture | 'alpha', view: View, ground: Ground, out: Uint8ClampedArray) => void,
  ): void;
  /** Makes a small picture of each answer to the question about a cut with that `checkKey`, with `compose`; on dark if asked to. */
  answers(
    key: string,
    isOnDark: boolean,
    size: { readonly width: number; readonly height: number },
    compose: (what: Answer, view: View, ground: Ground, out: Uint8ClampedArray) => void,
  ): void;
  /** Loads the first picture of these addresses that can be read, as the backing that others lie on; null where none can. */
  loadBacking(addresses: readonly string[]): Promise<Raster | null>;
}

export interface BenchEngine {
  show(request: ShowRequest): void;
  /** Stops the full-size work until the next change of the cut. */
  rest(): void;
  probe(x: number, y: number): Probe | null;
  /** A square of `side` screen pixels around a pixel, at `scale` screen pixels a pixel. Null outside of the picture. */
  magnify(x: number, y: number, scale: number, side: number): Magnified | null;
  startOf(sample: Sample, cut: Cut): SampleStart;
  /** What the prepared picture of a cut shows of ink in each channel, as soon as it is prepared. The cut must be shown. */
  inkFacts(cut: Cut): Promise<InkFacts>;
  /** How far the picture of a cut, squared up and turned, must be straightened. */
  straightening(cut: Cut): Straightening;
  /** The corners of a photographed sheet in pixels of the original; null where no outline is seen. */
  corners(): SheetCorners | null;
  /** The smallest box of the full-size cutout that holds all that is seen, in pixels of the crop; null for nothing. */
  contentBox(): Promise<Rect | null>;
  /** Whether the full-size cutout has more than one color. */
  hasManyColors(): Promise<boolean>;
  /** The backing from which a part of the cutout differs most along its edge; null while the full size is not made. */
  contrastAt(part: Rect): string | null;
  /** Pixels of the full-size cutout, made now if need be. */
  finishedPixels(): Promise<Bytes>;
  close(): void;
}

type CurveFacts = Omit<CurveReport, 'sampleId'>;

/**
 * Runs the core for one open piece. It keeps the master, the prepared picture with its halvings and reach maps, and the last
 * full-size cutout; answers every request at once at the size of the view, and makes the full size when the requests rest.
 */
export function createBenchEngine(
  master: { width: number; height: number; data: Bytes },
  host: EngineHost,
): BenchEngine {
  const original = createRaster(master.width, master.height, master.data);
  const source: Source = { original };
  const drafts = new Drafts(source);
  let board: SizedBoard | null = null;
  let wanted: ShowRequest | null = null;
  let unpainted = false;
  /** What drafts cost lately, in milliseconds a pixel. */
  let cost = 0;
  let lastAsked = 0;
  let finished: Finished | null = null;
  let resting = false;
  /** Whether progress was told of work that has not ended yet. */
  let progressing = false;
  let closed = false;
  let boardJob: { key: string; steps: Steps<SizedBoard> } | null = null;
  let mapJob: { key: string; steps: Steps<ReachMap> } | null = null;
  let checkJob: { key: string; steps: Steps<Checked> } | null = null;
  let answerJob: { key: string; steps: Steps<Answers> } | null = null;
  let checkedKey = '';
  /** Reach maps that only the checks need. */
  const spare: ReachCache = new Map();
  let backing: { readonly address: string; readonly picture: Raster | null } | null = null;
  let other = new Uint8ClampedArray(0);
  let cutJob: { key: string; turn: number; steps: Steps<Cutout> } | null = null;
  let wake: () => void = () => undefined;
  let pixels = new Uint8ClampedArray(0);
  let toldCurves = '';
  const curveFacts = new WeakMap<ReachMap, CurveFacts>();
  const waiting: ((value: Finished) => void)[] = [];
  const waitingBoard: ((value: SizedBoard) => void)[] = [];

  /** The board of a cut; null while its picture is not prepared yet. */
  function boardOf(cut: Cut): SizedBoard | null {
    const key = prepareKey(cut, original);
    if (board?.key !== key && key === '') board = runToEnd(sizedBoardSteps(source, cut));
    return board?.key === key ? board : null;
  }

  /** The same, prepared now if need be. */
  function boardNow(cut: Cut): SizedBoard {
    return boardOf(cut) ?? (board = runToEnd(sizedBoardSteps(source, cut)));
  }

  function layerOf(request: ShowRequest, on: SizedBoard): { layer: Layer; exact: boolean } {
    const { view, look } = request;
    const { sizes, window } = on;
    const whole = { wholeWidth: window.width, wholeHeight: window.height };
    const reduction = reductionFor(view.scale, sizes.length);
    if (look === 'original' || look === 'prepared' || look === 'levels')
      return { layer: layerAt(on, sizes[reduction]!.scene.raster, { x: 0, y: 0 }, reduction), exact: true };
    if (finished?.key === pixelKey(request.cut)) {
      const raster = sizeOfFinished(finished, reduction);
      return { layer: { raster, x: 0, y: 0, reduction, ...whole }, exact: true };
    }
    const cut = placedOn(on, request.cut);
    const seenAs = viewOn(on, view);
    const full = sizes[0]!;
    const seen = visiblePart(seenAs, 0);
    const seenPixels = pixelsIn(full.scene, seen);
    if (reduction === 0 && seenPixels <= MOST_EXACT && seenPixels * cost <= SLOW_EXACT_MS) {
      const raster = drafted(full, cut, seen);
      if (raster) return { layer: layerAt(on, raster, cornerOf(seen), 0), exact: true };
    }
    const fitting = Math.max(draftReductionFor(view.scale, sizes.length), viewReductionOf(on));
    const slow = pixelsIn(sizes[fitting]!.scene, visiblePart(seenAs, fitting)) * cost > SLOW_MS;
    const used = Math.min(sizes.length - 1, fitting + (slow ? 1 : 0));
    const size = sizes[used]!;
    runToEnd(reachMaps(size.scene, cut, size.kept.maps));
    const part = visiblePart(seenAs, used);
    const raster = drafted(size, cut, part)!;
    return { layer: layerAt(on, raster, cornerOf(part), used), exact: used === 0 };
  }

  /** A part of the result, made at once; null while a reach map is missing. Notes what it cost. */
  function drafted({ scene, kept }: Size, cut: Cut, part: Rect): Raster | null {
    const start = host.now();
    const raster = renderPart(scene, cut, kept, part);
    if (raster)
      cost = Math.max(FADE * cost, (host.now() - start) / Math.max(LEAST_PIXELS, pixelsIn(scene, part)));
    return raster;
  }

  function paint(request: ShowRequest): void {
    const { view, turn, compare } = request;
    const length = view.width * view.height * 4;
    if (pixels.length !== length) pixels = new Uint8ClampedArray(length);
    const ground = { ...request.ground, ...pictureOf(request.backing) };
    const own = { ...request, ground };
    let exact: boolean;
    if (!compare) exact = paintInto(own, pixels);
    else {
      if (other.length !== length) other = new Uint8ClampedArray(length);
      // Side by side both halves have the same view, of half the width.
      exact = paintInto(own, compare.beside ? other : pixels);
      if (compare.beside) putColumns(other, 0, pixels, compare.at, view.width - compare.at, view);
      paintInto({ ...own, look: 'original' }, other);
      putColumns(other, 0, pixels, 0, compare.at, view);
    }
    host.paint(pixels, view.width, view.height);
    host.tell({ kind: 'painted', turn, exact });
  }

  /** Paints what a request wants to see without comparing it; says whether it is exact. */
  function paintInto(request: ShowRequest, out: Uint8ClampedArray): boolean {
    const { view, ground, look } = request;
    const on = boardOf(request.cut);
    if (!on) {
      const { frame, ...draft } = drafts.of(request.cut, reductionFor(view.scale, 20));
      const { width, height } = frame.crop;
      composeInto({ ...draft, wholeWidth: width, wholeHeight: height }, view, ground, out);
      return false;
    }
    const { layer, exact } = layerOf(request, on);
    if (look === 'alpha' || look === 'faint') {
      const white = inWhite(layer, view, look === 'faint' ? STRETCHED : null);
      composeInto(white, view, { ...ground, ...BLACK }, out);
    } else if (look === 'difference') composeInto(takenFrom(on, layer), view, ground, out);
    else composeInto(layer, view, ground, out);
    if (look === 'edge') hatch(request, on, layer.reduction, out);
    if (look === 'levels') hatchClipped(request, on, layer.reduction, out);
    return exact;
  }

  /** What a layer of the result lacks of the prepared picture. */
  function takenFrom({ sizes, window }: SizedBoard, layer: Layer): Layer {
    const { raster } = sizes[Math.min(sizes.length - 1, layer.reduction)]!.scene;
    const unit = 1 << layer.reduction;
    const at = (start: number, shift: number) => Math.round(start + shift / unit);
    return {
      ...layer,
      raster: differenceOf(raster, layer.raster, at(layer.x, window.x), at(layer.y, window.y)),
    };
  }

  /** The picture of a backing, as soon as it is loaded; the sheet is painted again then. */
  function pictureOf(addresses: readonly string[] | null): { readonly picture?: Raster } {
    if (addresses === null) return {};
    const [address] = addresses;
    if (!address) return {};
    if (backing?.address !== address) {
      backing = { address, picture: null };
      void host.loadBacking(addresses).then((picture) => {
        if (backing?.address !== address) return;
        backing = { address, picture };
        unpainted = true;
        wake();
      });
    }
    return backing.picture ? { picture: backing.picture } : {};
  }

  /** Hatches over what is certain at a size whose result is shown already. */
  function hatch(
    { cut, view, ground }: ShowRequest,
    on: SizedBoard,
    reduction: number,
    out: Uint8ClampedArray,
  ): void {
    const { scene, kept } = on.sizes[reduction]!;
    const placed = placedOn(on, cut);
    runToEnd(reachMaps(scene, placed, kept.maps));
    const seenAs = viewOn(on, view);
    const part = clipRect(visiblePart(seenAs, reduction), scene.raster.width, scene.raster.height);
    const marks = edgePart(scene, placed, kept, part);
    if (marks) hatchInto({ marks, part, reduction }, seenAs, ground, out);
  }

  /** Hatches over what the levels clip to full ink and to bare paper. */
  function hatchClipped(
    { cut, view, ground }: ShowRequest,
    on: SizedBoard,
    reduction: number,
    out: Uint8ClampedArray,
  ): void {
    const { raster } = on.sizes[reduction]!.scene;
    const seenAs = viewOn(on, view);
    const part = clipRect(visiblePart(seenAs, reduction), raster.width, raster.height);
    const marks = clippedPart(raster, cut, part);
    if (marks) hatchInto({ marks, part, reduction }, seenAs, ground, out);
  }

  /** The layer of the result around a pixel at full size, or as near to it as can be made at once. */
  function layerAround(on: SizedBoard, cut: Cut, view: View): Layer {
    const { sizes, window } = on;
    const whole = { wholeWidth: window.width, wholeHeight: window.height };
    if (finished?.key === pixelKey(cut))
      return { raster: finished.cutout.raster, x: 0, y: 0, reduction: 0, ...whole };
    const placed = placedOn(on, cut);
    for (const reduction of [0, viewReductionOf(on)]) {
      const { scene, kept } = sizes[reduction]!;
      const part = visiblePart(viewOn(on, view), reduction);
      const raster = renderPart(scene, placed, kept, part);
      if (raster) return layerAt(on, raster, cornerOf(part), reduction);
    }
    return layerAt(on, sizes[0]!.scene.raster, { x: 0, y: 0 }, 0);
  }

  function workAhead({ cut, look, turn }: ShowRequest): boolean {
    const on = boardOf(cut);
    if (!on) {
      const key = prepareKey(cut, original);
      if (boardJob?.key !== key) boardJob = { key, steps: sizedBoardSteps(source, cut) };
      mapJob = cutJob = checkJob = answerJob = null;
      return true;
    }
    boardJob = null;
    if (look === 'prepared' && waiting.length === 0) {
      mapJob = cutJob = checkJob = answerJob = null;
      if (progressing) host.tell({ kind: 'prepared' });
      progressing = false;
      return false;
    }
    const key = pixelKey(cut);
    const placed = placedOn(on, cut);
    if (finished?.key === key) {
      // Work on another cut was overtaken by one that is finished already.
      mapJob = cutJob = null;
      if (progressing) tellSettled(finished, turn);
      if (answerJob && answerJob.key !== checkKey(cut)) answerJob = null;
      if (checkedKey === checkKey(cut)) return answerJob !== null;
      if (checkJob?.key !== checkKey(cut))
        checkJob = { key: checkKey(cut), steps: checkSteps(on, placed, finished) };
      return true;
    }
    checkJob = answerJob = null;
    const full = on.sizes[0]!;
    const missing = actingSamples(placed).find((sample) => !full.kept.maps.has(reachKey(sample, placed)));
    if (missing) {
      const missingKey = reachKey(missing, placed);
      if (mapJob?.key !== missingKey) {
        mapJob = { key: missingKey, steps: reachOfSample(full.scene, missing, placed, full.kept.maps) };
      }
      cutJob = null;
      return true;
    }
    if (cutJob?.key !== key) {
      const steps = renderPrepared(full.scene, { cut: placed, window: on.window }, full.kept);
      cutJob = { key, turn, steps };
    }
    return true;
  }

  /** All checks of a full-size cutout. */
  function checkSteps(on: SizedBoard, placed: Cut, { cutout }: Finished): Steps<Checked> {
    if (spare.size > (original.data.length > LARGE ? FEW_MAPS : SPARE_MAPS)) spare.clear();
    return checkCut({ board: on, cut: placed, cutout }, spare);
  }

  function workOn(request: ShowRequest): void {
    const end = host.now() + SLICE_MS;
    do {
      const job = boardJob ?? mapJob ?? cutJob ?? checkJob ?? answerJob;
      if (!job) return;
      const next = job.steps.next();
      if (!next.done) {
        if (job !== checkJob && job !== answerJob) {
          progressing = true;
          host.tell({ kind: 'progress', progress: next.value });
        }
        continue;
      }
      if (job === boardJob) {
        boardJob = null;
        board = next.value as SizedBoard;
        for (const done of waitingBoard.splice(0)) done(board);
        spare.clear();
        paint(request);
      } else if (job === checkJob) {
        checkedKey = checkJob.key;
        checkJob = null;
        const contrast = contrastingBacking(finished!.cutout.raster);
        const checked = next.value as Checked;
        host.tell({ kind: 'checked', key: checkedKey, contrast, ...checked });
        ask(request.cut, checked);
      } else if (job === answerJob) {
        const { key } = answerJob;
        answerJob = null;
        showAnswers(key, next.value as Answers);
      } else if (mapJob) {
        mapJob = null;
        tellCurves(request.cut);
      } else if (cutJob) {
        const { key, turn } = cutJob;
        cutJob = null;
        settle({ key, cutout: next.value as Cutout, sizes: [(next.value as Cutout).raster] }, turn);
      }
      return;
    } while (host.now() < end);
  }

  /** Begins with the pictures of the one question about a cut, where there is one. */
  function ask(cut: Cut, { pockets }: Checked): void {
    const on = boardOf(cut);
    const areas = questionOf(pockets, finished!.cutout.alpha);
    if (on && areas.length > 0)
      answerJob = { key: checkedKey, steps: answerSteps(on, placedOn(on, cut), areas) };
  }

  function showAnswers(key: string, { layers, isPale }: Answers): void {
    host.answers(key, isPale, finished!.cutout.raster, (what, view, ground, out) =>
      composeInto(layers[what], view, ground, out),
    );
  }

  function tellSettled({ cutout: { alpha } }: Finished, turn: number): void {
    progressing = false;
    host.tell({ kind: 'settled', turn, alpha });
  }

  function settle(result: Finished, turn: number): void {
    finished = result;
    const { raster } = result.cutout;
    tellSettled(result, turn);
    if (wanted) {
      paint(wanted);
      tellCurves(wanted.cut);
      const on = boardOf(wanted.cut);
      const layers =
        on && pixelKey(wanted.cut) === result.key ? stageLayers(on, placedOn(on, wanted.cut)) : null;
      host.thumbnail(raster, (what, view, ground, out) => {
        const reduction = reductionFor(view.scale, 20);
        const whole = { wholeWidth: raster.width, wholeHeight: raster.height };
        const small = sizeOfFinished(result, reduction);
        const layer = { raster: small, x: 0, y: 0, reduction, ...whole };
        if (what === 'alpha') composeInto(inWhite(layer, view), view, { ...ground, ...BLACK }, out);
        else composeInto(layers?.[what] ?? layer, view, ground, out);
      });
    }
    for (const done of waiting.splice(0)) done(result);
  }

  function tellCurves(cut: Cut): void {
    const on = boardOf(cut);
    if (!on) return;
    const placed = placedOn(on, cut);
    const curves: CurveReport[] = [];
    for (const sample of placed.clear.samples) {
      const key = reachKey(sample, placed);
      const map = on.sizes.find(({ kept }) => kept.maps.has(key))?.kept.maps.get(key);
      if (!map) continue;
      let facts = curveFacts.get(map);
      if (!facts) curveFacts.set(map, (facts = readCurve(on.sizes[0]!.scene, sample, map)));
      curves.push({ sampleId: sample.id, ...facts });
    }
    const told = curves
      .map(
        ({ sampleId, exact, color, percent }) =>
          `${sampleId}${exact}${color.red},${color.green},${color.blue},${percent[30]}`,
      )
      .join();
    if (told !== toldCurves) host.tell({ kind: 'curves', curves });
    toldCurves = told;
  }

  /** Whether requests rest, so that there is time for work ahead; or somebody waits for it. */
  function isQuiet(): boolean {
    return waiting.length > 0 || host.now() - lastAsked >= REST_MS;
  }

  async function run(): Promise<void> {
    while (!closed) {
      if (unpainted && wanted) {
        unpainted = false;
        paint(wanted);
        tellCurves(wanted.cut);
      } else if (wanted && !resting && (!isQuiet() || workAhead(wanted))) {
        if (isQuiet()) workOn(wanted);
      } else {
        await new Promise<void>((resolve) => (wake = resolve));
        continue;
      }
      await host.pause();
    }
  }

  void run().catch((error: unknown) =>
    host.tell({ kind: 'failed', message: error instanceof Error ? error.message : String(error) }),
  );

  /** Whether a pixel lies in what is shown. */
  function isInside(on: SizedBoard, x: number, y: number): boolean {
    return x >= 0 && y >= 0 && x < on.window.width && y < on.window.height;
  }

  return {
    show(request) {
      if (wanted && request.turn < wanted.turn) return;
      if (!wanted || pixelKey(request.cut) !== pixelKey(wanted.cut)) resting = false;
      wanted = request;
      unpainted = true;
      lastAsked = host.now();
      wake();
    },
    rest() {
      resting = true;
      boardJob = mapJob = cutJob = checkJob = answerJob = null;
    },
    probe(x, y) {
      const on = wanted && boardOf(wanted.cut);
      if (!wanted || !on || !isInside(on, x, y)) return null;
      const { scene, kept } = on.sizes[0]!;
      const at = { x: x + on.window.x, y: y + on.window.y, width: 1, height: 1 };
      const placed = placedOn(on, wanted.cut);
      const result =
        finished?.key === pixelKey(wanted.cut)
          ? pixelAt(finished.cutout.raster, x, y)
          : (firstPixel(renderPart(scene, placed, kept, at)) ?? viewPixel(on, placed, at.x, at.y));
      return { original: pixelAt(scene.raster, at.x, at.y), result };
    },
    magnify(x, y, scale, side) {
      const on = wanted && boardOf(wanted.cut);
      if (!wanted || !on || !isInside(on, x, y)) return null;
      const start = (at: number) => Math.round(side / 2 - (at + 0.5) * scale);
      const view: View = { scale, left: start(x), top: start(y), width: side, height: side };
      const shown = (layer: Layer) => {
        const out = new Uint8ClampedArray(side * side * 4);
        composeInto(layer, view, wanted!.ground, out);
        return out;
      };
      return {
        side,
        original: shown(layerAt(on, on.sizes[0]!.scene.raster, { x: 0, y: 0 }, 0)),
        result: shown(layerAround(on, wanted.cut, view)),
      };
    },
    startOf(sample, cut) {
      const on = boardNow({ ...cut, clear: { ...cut.clear, samples: [...cut.clear.samples, sample] } });
      const { scene, kept } = on.sizes[viewReductionOf(on)]!;
      const placed = placedOn(on, { ...cut, clear: { ...cut.clear, samples: [sample] } });
      const { tolerance, safeRange } = startingTolerance(
        toleranceCurve(runToEnd(reachOfSample(scene, placed.clear.samples[0]!, placed, kept.maps))),
      );
      return { tolerance, safeRange };
    },
    inkFacts: async (cut) => inkFactsOf(boardOf(cut) ?? (await whenPrepared())),
    straightening: (cut) =>
      findStraightening(uncropped(source, { ...cut.prepare, straightenDeg: 0, removeRules: false, calm: 0 })),
    corners: () => findSheet((source.small ??= smallCopy(original))),
    async contentBox() {
      return contentOf((await currentlyFinished()).cutout.raster);
    },
    async hasManyColors() {
      return hasManyColors((await currentlyFinished()).cutout.raster);
    },
    contrastAt(part) {
      const there = wanted && finished?.key === pixelKey(wanted.cut) ? finished : null;
      return there && contrastingBacking(there.cutout.raster, part);
    },
    async finishedPixels() {
      return (await currentlyFinished()).cutout.raster.data;
    },
    close() {
      closed = true;
      wake();
    },
  };

  /** The full-size cutout of what is wanted now, as soon as it is made. */
  function currentlyFinished(): Promise<Finished> {
    if (wanted && finished?.key === pixelKey(wanted.cut)) return Promise.resolve(finished);
    resting = false;
    wake();
    return new Promise<Finished>((resolve) => waiting.push(resolve));
  }

  /** The next prepared picture; its progress is told like that of all work ahead. */
  function whenPrepared(): Promise<SizedBoard> {
    resting = false;
    wake();
    return new Promise<SizedBoard>((resolve) => waitingBoard.push(resolve));
  }

  function viewPixel(on: SizedBoard, cut: Cut, x: number, y: number): Probe['result'] {
    const reduction = viewReductionOf(on);
    const { scene, kept } = on.sizes[reduction]!;
    const at = { x: x >> reduction, y: y >> reduction, width: 1, height: 1 };
    return firstPixel(renderPart(scene, cut, kept, at)) ?? pixelAt(on.sizes[0]!.scene.raster, x, y);
  }
}

function readCurve(scene: Scene, sample: Sample, map: ReachMap): CurveFacts {
  const curve = toleranceCurve(map);
  const percent = Array.from(
    { length: 101 },
    (_, t) => (100 * curve.cleared[t * STEPS_PER_UNIT]!) / curve.pixels,
  );
  const exact = map.levels.length === scene.raster.width * scene.raster.height;
  return { color: colorOfSample(scene, sample), percent, safeRange: safeRangeOf(curve), exact };
}

function pixelAt(raster: Raster, x: number, y: number): Probe['result'] {
  const p = (y * raster.width + x) * 4;
  return [raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!, raster.data[p + 3]!];
}

function firstPixel(part: Raster | null): Probe['result'] | null {
  return part ? pixelAt(part, 0, 0) : null;
}

/** Copies columns of one painted view into another: `count` of them from `from` to `to`. */
function putColumns(
  source: Uint8ClampedArray,
  from: number,
  target: Uint8ClampedArray,
  to: number,
  count: number,
  { width, height }: View,
): void {
  for (let y = 0; y < height; y++) {
    const start = (y * width + from) * 4;
    target.set(source.subarray(start, start + count * 4), (y * width + to) * 4);
  }
}
