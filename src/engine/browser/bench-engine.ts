import type { Cut, Sample } from '../../core/cut/schema';
import { halve, halvingsTo } from '../../core/raster/reduce';
import { clipRect, createRaster, type Bytes, type Raster, type Rect } from '../../core/raster/raster';
import { edgePart, reachMaps, renderPart, renderSteps, type Cutout } from '../../core/render';
import {
  actingSamples,
  idleSamples,
  plainDistances,
  colorOfSample,
  reachKey,
  reachOfSample,
  type ReachCache,
} from '../../core/stages/clear/clear';
import { findPockets, enclosedRows } from '../../core/stages/clear/pockets';
import type { ReachMap } from '../../core/stages/clear/reach-map';
import { halvedScene, sceneOf, type Scene } from '../../core/stages/clear/scene';
import { safeRangeOf, startingTolerance, toleranceCurve } from '../../core/stages/clear/tolerance-curve';
import { STEPS_PER_UNIT } from '../../core/stages/clear/distance';
import { runToEnd, type Steps } from '../../core/numeric/steps';
import { composeInto, visiblePart, type Ground, type Layer, type View } from '../../core/view/compose';
import { hatchInto } from '../../core/view/hatch';
import type {
  CurveReport,
  EngineEvent,
  Magnified,
  PocketReport,
  Probe,
  SampleStart,
  ShowRequest,
} from '../protocol';

/** Pixels that are worked on while a setting moves. */
const VIEW_PIXELS = 1_500_000;

/** How long nothing must have been asked for before the full-size cutout is made. */
const REST_MS = 140;

/** How long the engine works before it looks for new requests. */
const SLICE_MS = 10;

/** How much coarser than the screen a draft may be, as a power of two. */
const DRAFT = 0.3;

/** A draft that is expected to take longer is made coarser by one halving; at full size more is allowed. */
const SLOW_MS = 45;
const SLOW_EXACT_MS = 90;

/** Parts of the original larger than this are not made at full size while a setting moves. */
const MOST_EXACT = 600_000;

/** How fast the memory of a slow draft fades, from one draft to the next. */
const FADE = 0.9;

/** Pockets that are told of at most. */
const MOST_POCKETS = 200;

/** What the engine needs of the place it runs in. */
export interface EngineHost {
  now(): number;
  /** Lets waiting messages in. */
  pause(): Promise<void>;
  /** Shows opaque pixels on the sheet. */
  paint(pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): void;
  tell(event: EngineEvent): void;
  /** Makes the stage strip's small picture of the result with `compose`. */
  thumbnail(compose: (view: View, ground: Ground, out: Uint8ClampedArray) => void): void;
}

export interface BenchEngine {
  show(request: ShowRequest): void;
  /** Stops the full-size work until the next change of the cut. */
  rest(): void;
  probe(x: number, y: number): Probe | null;
  /** A square of `side` screen pixels around a pixel, at `scale` screen pixels a pixel. Null outside of the picture. */
  magnify(x: number, y: number, scale: number, side: number): Magnified | null;
  startOf(sample: Sample, cut: Cut): SampleStart;
  /** Pixels of the full-size cutout, made now if need be. */
  finishedPixels(): Promise<Bytes>;
  close(): void;
}

type CurveFacts = Omit<CurveReport, 'sampleId'>;

interface Size {
  readonly scene: Scene;
  readonly cache: ReachCache;
}

interface Finished {
  readonly key: string;
  readonly cutout: Cutout;
  /** The cutout at 0, 1, 2, ... halvings, made when needed. */
  readonly sizes: Raster[];
}

/**
 * Runs the core for one open piece. It keeps the master, its halvings, the reach maps and the last full-size cutout;
 * answers every request at once at the size of the view, and makes the full size when the requests rest.
 */
export function createBenchEngine(
  master: { width: number; height: number; data: Bytes },
  host: EngineHost,
): BenchEngine {
  const original = createRaster(master.width, master.height, master.data);
  const sizes = sizesOf(original);
  const viewReduction = halvingsTo(VIEW_PIXELS, original.width, original.height);
  let wanted: ShowRequest | null = null;
  let unpainted = false;
  /** What drafts cost lately, in milliseconds a pixel. */
  let cost = 0;
  let lastAsked = 0;
  let finished: Finished | null = null;
  let resting = false;
  let closed = false;
  let mapJob: { key: string; steps: Steps<ReachMap> } | null = null;
  let noteJob: { key: string; steps: Steps<Notes> } | null = null;
  let noted = '';
  const noteCache: ReachCache = new Map();
  let cutJob: { key: string; turn: number; steps: Steps<Cutout> } | null = null;
  let wake: () => void = () => undefined;
  let pixels = new Uint8ClampedArray(0);
  let toldCurves = '';
  const curveFacts = new WeakMap<ReachMap, CurveFacts>();
  const waiting: ((value: Finished) => void)[] = [];

  const full = sizes[0]!;

  function keyOf(cut: Cut): string {
    return JSON.stringify([cut.clear, cut.edge]);
  }

  function layerOf(request: ShowRequest): { layer: Layer; exact: boolean } {
    const { cut, view, look } = request;
    const whole = { wholeWidth: original.width, wholeHeight: original.height };
    const reduction = reductionFor(view.scale, sizes.length);
    if (look === 'original') {
      return {
        layer: { raster: sizes[reduction]!.scene.raster, x: 0, y: 0, reduction, ...whole },
        exact: true,
      };
    }
    if (finished?.key === keyOf(cut)) {
      return {
        layer: { raster: sizeOfFinished(finished, reduction), x: 0, y: 0, reduction, ...whole },
        exact: true,
      };
    }
    const seen = visiblePart(view, 0);
    const seenPixels = pixelsIn(full.scene, seen);
    if (reduction === 0 && seenPixels <= MOST_EXACT && seenPixels * cost <= SLOW_EXACT_MS) {
      const raster = drafted(full, cut, seen);
      if (raster) return { layer: { raster, ...cornerOf(seen), reduction: 0, ...whole }, exact: true };
    }
    const fitting = Math.max(draftReductionFor(view.scale, sizes.length), viewReduction);
    const slow = pixelsIn(sizes[fitting]!.scene, visiblePart(view, fitting)) * cost > SLOW_MS;
    const used = Math.min(sizes.length - 1, fitting + (slow ? 1 : 0));
    const size = sizes[used]!;
    runToEnd(reachMaps(size.scene, cut, size.cache));
    const part = visiblePart(view, used);
    const raster = drafted(size, cut, part)!;
    return { layer: { raster, ...cornerOf(part), reduction: used, ...whole }, exact: used === 0 };
  }

  /** A part of the result, made at once; null while a reach map is missing. Notes what it cost. */
  function drafted({ scene, cache }: Size, cut: Cut, part: Rect): Raster | null {
    const start = host.now();
    const raster = renderPart(scene, cut, cache, part);
    if (raster)
      cost = Math.max(FADE * cost, (host.now() - start) / Math.max(LEAST_PIXELS, pixelsIn(scene, part)));
    return raster;
  }

  function paint(request: ShowRequest): void {
    const { view, ground, turn } = request;
    const { layer, exact } = layerOf(request);
    const length = view.width * view.height * 4;
    if (pixels.length !== length) pixels = new Uint8ClampedArray(length);
    if (request.look === 'alpha') composeInto(inWhite(layer, view), view, { ...ground, ...BLACK }, pixels);
    else composeInto(layer, view, ground, pixels);
    if (request.look === 'edge') hatch(request, layer.reduction);
    host.paint(pixels, view.width, view.height);
    host.tell({ kind: 'painted', turn, exact });
  }

  /** Hatches over what is certain at a size whose result is shown already. */
  function hatch({ cut, view, ground }: ShowRequest, reduction: number): void {
    const { scene, cache } = sizes[reduction]!;
    runToEnd(reachMaps(scene, cut, cache));
    const { width, height } = scene.raster;
    const part = clipRect(visiblePart(view, reduction), width, height);
    const marks = edgePart(scene, cut, cache, part);
    if (marks) hatchInto({ marks, part, reduction }, view, ground, pixels);
  }

  /** The layer of the result around a pixel at full size, or as near to it as can be made at once. */
  function layerAround(cut: Cut, view: View): Layer {
    const whole = { wholeWidth: original.width, wholeHeight: original.height };
    if (finished?.key === keyOf(cut))
      return { raster: finished.cutout.raster, x: 0, y: 0, reduction: 0, ...whole };
    for (const reduction of [0, viewReduction]) {
      const { scene, cache } = sizes[reduction]!;
      const part = visiblePart(view, reduction);
      const raster = renderPart(scene, cut, cache, part);
      if (raster) return { raster, ...cornerOf(part), reduction, ...whole };
    }
    return { raster: original, x: 0, y: 0, reduction: 0, ...whole };
  }

  function workAhead(cut: Cut): boolean {
    const key = keyOf(cut);
    if (finished?.key === key) {
      if (noted === key) return false;
      if (noteJob?.key !== key) noteJob = { key, steps: notesOf(sizes[viewReduction]!, cut, noteCache) };
      return true;
    }
    noteJob = null;
    const missing = actingSamples(cut).find((sample) => !full.cache.has(reachKey(sample, cut)));
    if (missing) {
      const missingKey = reachKey(missing, cut);
      if (mapJob?.key !== missingKey) {
        mapJob = { key: missingKey, steps: reachOfSample(full.scene, missing, cut, full.cache) };
      }
      cutJob = null;
      return true;
    }
    if (cutJob?.key !== key)
      cutJob = { key, turn: wanted!.turn, steps: renderSteps(full.scene, cut, full.cache) };
    return true;
  }

  function workOn(cut: Cut): void {
    const end = host.now() + SLICE_MS;
    do {
      const job = mapJob ?? cutJob ?? noteJob;
      if (!job) return;
      const next = job.steps.next();
      if (!next.done) {
        if (job !== noteJob) host.tell({ kind: 'progress', progress: next.value });
        continue;
      }
      if (job === noteJob) {
        noted = noteJob.key;
        noteJob = null;
        host.tell({ kind: 'noted', ...(next.value as Notes) });
      } else if (mapJob) {
        mapJob = null;
        tellCurves(cut);
      } else if (cutJob) {
        const { key, turn } = cutJob;
        cutJob = null;
        settle({ key, cutout: next.value as Cutout, sizes: [(next.value as Cutout).raster] }, turn);
      }
      return;
    } while (host.now() < end);
  }

  function settle(result: Finished, turn: number): void {
    finished = result;
    host.tell({ kind: 'settled', turn, alpha: result.cutout.alpha, alike: result.cutout.alike });
    if (wanted) {
      paint(wanted);
      tellCurves(wanted.cut);
      host.thumbnail((view, ground, out) => {
        const reduction = reductionFor(view.scale, sizes.length);
        const raster = sizeOfFinished(result, reduction);
        const whole = { wholeWidth: original.width, wholeHeight: original.height };
        composeInto({ raster, x: 0, y: 0, reduction, ...whole }, view, ground, out);
      });
    }
    for (const done of waiting.splice(0)) done(result);
  }

  function tellCurves(cut: Cut): void {
    const curves: CurveReport[] = [];
    for (const sample of cut.clear.samples) {
      const key = reachKey(sample, cut);
      const map = sizes.find(({ cache }) => cache.has(key))?.cache.get(key);
      if (!map) continue;
      let facts = curveFacts.get(map);
      if (!facts) curveFacts.set(map, (facts = readCurve(full.scene, sample, map)));
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
      } else if (wanted && !resting && (!isQuiet() || workAhead(wanted.cut))) {
        if (isQuiet()) workOn(wanted.cut);
      } else {
        await new Promise<void>((resolve) => (wake = resolve));
        continue;
      }
      await host.pause();
    }
  }

  void run().catch((error: unknown) => host.tell({ kind: 'failed', message: String(error) }));

  return {
    show(request) {
      if (wanted && request.turn < wanted.turn) return;
      if (!wanted || keyOf(request.cut) !== keyOf(wanted.cut)) resting = false;
      wanted = request;
      unpainted = true;
      lastAsked = host.now();
      wake();
    },
    rest() {
      resting = true;
      mapJob = cutJob = noteJob = null;
    },
    probe(x, y) {
      if (!wanted || x < 0 || y < 0 || x >= original.width || y >= original.height) return null;
      const at = { x, y, width: 1, height: 1 };
      const result =
        finished?.key === keyOf(wanted.cut)
          ? pixelAt(finished.cutout.raster, x, y)
          : (firstPixel(renderPart(full.scene, wanted.cut, full.cache, at)) ?? viewPixel(wanted.cut, x, y));
      return { original: pixelAt(original, x, y), result };
    },
    magnify(x, y, scale, side) {
      if (!wanted || x < 0 || y < 0 || x >= original.width || y >= original.height) return null;
      const start = (at: number) => Math.round(side / 2 - (at + 0.5) * scale);
      const view: View = { scale, left: start(x), top: start(y), width: side, height: side };
      const whole = { wholeWidth: original.width, wholeHeight: original.height };
      const shown = (layer: Layer) => {
        const out = new Uint8ClampedArray(side * side * 4);
        composeInto(layer, view, wanted!.ground, out);
        return out;
      };
      return {
        side,
        original: shown({ raster: original, x: 0, y: 0, reduction: 0, ...whole }),
        result: shown(layerAround(wanted.cut, view)),
      };
    },
    startOf(sample, cut) {
      const { scene, cache } = sizes[viewReduction]!;
      const { tolerance, safeRange } = startingTolerance(
        toleranceCurve(runToEnd(reachOfSample(scene, sample, cut, cache))),
      );
      return { tolerance, safeRange };
    },
    async finishedPixels() {
      if (wanted && finished?.key === keyOf(wanted.cut)) return finished.cutout.raster.data;
      resting = false;
      wake();
      return new Promise<Finished>((resolve) => waiting.push(resolve)).then(
        ({ cutout }) => cutout.raster.data,
      );
    },
    close() {
      closed = true;
      wake();
    },
  };

  function viewPixel(cut: Cut, x: number, y: number): Probe['result'] {
    const { scene, cache } = sizes[viewReduction]!;
    const at = { x: x >> viewReduction, y: y >> viewReduction, width: 1, height: 1 };
    return firstPixel(renderPart(scene, cut, cache, at)) ?? pixelAt(original, x, y);
  }
}

const BLACK = { light: 0, dark: 0 };

/** What is seen of a layer with the same alpha in white, which shows as gray over black. */
function inWhite(layer: Layer, view: View): Layer {
  const { width, height, data } = layer.raster;
  const seen = visiblePart(view, layer.reduction);
  const part = clipRect({ ...seen, x: seen.x - layer.x, y: seen.y - layer.y }, width, height);
  if (part.width === 0 || part.height === 0) return layer;
  const raster = createRaster(part.width, part.height);
  raster.data.fill(255);
  for (let y = 0, q = 3; y < part.height; y++) {
    let p = ((part.y + y) * width + part.x) * 4 + 3;
    for (let x = 0; x < part.width; x++, p += 4, q += 4) raster.data[q] = data[p]!;
  }
  return { ...layer, raster, x: layer.x + part.x, y: layer.y + part.y };
}

/** The picture at every number of halvings down to a small one. */
function sizesOf(original: Raster): Size[] {
  const sizes: Size[] = [{ scene: sceneOf(original), cache: new Map() }];
  for (;;) {
    const { scene } = sizes.at(-1)!;
    const { raster } = scene;
    if (raster.width * raster.height <= 40_000 || raster.width < 2 || raster.height < 2) return sizes;
    sizes.push({ scene: halvedScene(scene), cache: new Map() });
  }
}

/** Smaller parts tell little of what a pixel costs. */
const LEAST_PIXELS = 40_000;

/** Pixels of a part that lie within the picture. */
function pixelsIn({ raster }: Scene, part: Rect): number {
  const { width, height } = clipRect(part, raster.width, raster.height);
  return width * height;
}

function cornerOf({ x, y }: Rect): { x: number; y: number } {
  return { x: Math.max(0, x), y: Math.max(0, y) };
}

/** The most halvings at which a screen pixel still has at least one pixel of its own. */
function reductionFor(scale: number, sizes: number): number {
  return Math.min(sizes - 1, Math.max(0, Math.floor(Math.log2(1 / scale))));
}

/** The same while a setting moves: a screen pixel may have a little less than one pixel of its own. */
function draftReductionFor(scale: number, sizes: number): number {
  return Math.min(sizes - 1, Math.max(0, Math.floor(Math.log2(1 / scale) + DRAFT)));
}

function sizeOfFinished(finished: Finished, reduction: number): Raster {
  while (finished.sizes.length <= reduction) finished.sizes.push(halve(finished.sizes.at(-1)!));
  return finished.sizes[reduction]!;
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

/** What is noted about a cut beside its pixels. */
interface Notes {
  readonly pockets: readonly PocketReport[];
  readonly idle: readonly string[];
}

/** Reach maps kept from one note to the next. */
const NOTED_MAPS = 12;

/** The pockets of all joined samples, largest first, and the idle samples, looked for at the size of the view. */
function* notesOf({ scene, cache }: Size, cut: Cut, noteCache: ReachCache): Steps<Notes> {
  if (noteCache.size > NOTED_MAPS) noteCache.clear();
  const samples = actingSamples(cut);
  const maps: ReachMap[] = [];
  const pockets: PocketReport[] = [];
  for (const sample of samples) {
    const joined = yield* reachOfSample(scene, sample, cut, cache);
    maps.push(joined);
    if (sample.reach === 'joined') pockets.push(...(yield* pocketsOf(scene, cut, sample, joined, noteCache)));
  }
  pockets.sort((one, other) => other.pixels - one.pixels);
  return { pockets: pockets.slice(0, MOST_POCKETS), idle: idleSamples(samples, maps) };
}

function* pocketsOf(
  scene: Scene,
  cut: Cut,
  sample: Sample,
  joined: ReachMap,
  cache: ReachCache,
): Steps<PocketReport[]> {
  const { raster, reduction } = scene;
  const everywhere = yield* reachOfSample(scene, { ...sample, reach: 'everywhere' }, cut, cache);
  const rows = enclosedRows(joined, everywhere, sample.tolerance);
  if (!rows) return [];
  const plain = plainDistances(scene, sample, rows.from, rows.to);
  const keeps = cut.clear.pockets.filter(({ keep }) => keep);
  return findPockets(raster, joined, everywhere, plain, sample.tolerance).map((pocket) => {
    const [left, top, right, bottom] = pocket.box;
    return {
      x: pocket.x << reduction,
      y: pocket.y << reduction,
      pixels: pocket.pixels * 4 ** reduction,
      box: [left << reduction, top << reduction, right << reduction, bottom << reduction],
      kept: keeps.some(({ x, y }) => pocket.contains(x >> reduction, y >> reduction)),
    };
  });
}
