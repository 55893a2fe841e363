import type { Cut, Sample } from './cut/schema';
import { SOLID_LEVEL } from './decision/carry';
import { runToEnd, type Cancel, type Progress, type Steps } from './numeric/steps';
import {
  clipRect,
  createRaster,
  growRect,
  overlapRect,
  rowsOf,
  wholeOf,
  type Raster,
  type Rect,
} from './raster/raster';
import {
  actingSamples,
  backdropOfSample,
  clearedMask,
  hasColor,
  colorOfSample,
  keptPockets,
  rampInto,
  reachKey,
  reachOfSample,
  subjectBox,
  type ReachCache,
} from './stages/clear/clear';
import type { ReachMap } from './stages/clear/reach-map';
import type { Rgb } from './stages/clear/sample-color';
import { byInkInto, prepareInk, type InkWork } from './stages/clear/by-ink/by-ink';
import { sceneOf, type Scene } from './stages/clear/scene';
import { removeHiddenColor, type AlphaCounts } from './stages/deliver/finish';
import { Alike, type AlikePlace } from './stages/edge/alike';
import { drawnColorsOf } from './stages/edge/drawn-colors';
import { halvedChromaOf } from './stages/edge/halved-chroma';
import type { EdgeInput } from './stages/edge/mixture';
import { isColored, reflectionMargin, reflectionScale } from './stages/edge/reflection';
import { shapeInto, shapeMargin, shapingOf } from './stages/edge/shape';
import { inkingOf, inkInto, inkMargin, type Inking } from './stages/ink/ink';
import { mendInto, spotsOf, surroundingsOf, type Spot } from './stages/touch-up/touch-up';
import { prepareSteps, type Prepared, type Source } from './stages/prepare/prepare';
import { CERTAIN_BACKGROUND, edgeMargin, markBand, unmixInto } from './stages/edge/unmix';

/** A finished picture and how its alpha divides. */
export interface Cutout {
  readonly raster: Raster;
  readonly alpha: AlphaCounts;
  /** Where along the edge subject and background are too alike to tell how they mix. */
  readonly alike: readonly AlikePlace[];
}

/** Pixels and rows handled between two pauses at most: threads take long, and nobody should wait for a step of them. */
const PIXELS_PER_STEP = 1 << 20;
const ROWS_PER_STEP = 256;

/** original + cut -> cutout, all stages in order, at once. The same input gives the same bytes wherever it runs. */
export function renderCut(
  original: Raster,
  cut: Cut,
  options: { cancel?: Cancel; onProgress?: (progress: Progress) => void } = {},
): Cutout {
  return runToEnd(renderSteps({ original }, cut), options.cancel, options.onProgress);
}

/** The same in steps. */
export function* renderSteps(source: Source, cut: Cut): Steps<Cutout> {
  const prepared = yield* prepareSteps(source, cut);
  return yield* renderPrepared(sceneOf(prepared.raster), prepared, new Map());
}

/** A cut whose places are those of the scene, on all of it: what stands before Prepare is the scene itself. */
export function renderScene(scene: Scene, cut: Cut, cache: ReachCache): Steps<Cutout> {
  return renderPrepared(scene, { cut, window: wholeOf(scene.raster) }, cache);
}

/** All stages behind Prepare, on a scene of a prepared picture. Reach maps are taken from and left in `cache`. */
export function* renderPrepared(
  scene: Scene,
  { cut, window }: Pick<Prepared, 'cut' | 'window'>,
  cache: ReachCache,
): Steps<Cutout> {
  const maps = yield* reachMaps(scene, cut, cache);
  const { width, height } = window;
  const raster = createRaster(width, height);
  const alike = new Alike(scene.raster.width, scene.raster.height);
  const work = { ...prepare(scene, cut, maps), alike };
  const counts = { transparent: 0, partly: 0, opaque: 0 };
  const rows = Math.max(1, Math.min(ROWS_PER_STEP, Math.floor(PIXELS_PER_STEP / width)));
  for (let y = 0; y < height; y += rows) {
    const strip = clipRect({ x: 0, y, width, height: rows }, width, height);
    const part = rowsOf(raster, strip);
    const rect = { ...strip, x: window.x, y: window.y + y };
    alike.countRows(rect.y, rect.y + rect.height);
    renderInto(work, rect, part);
    const added = removeHiddenColor(part, 0, strip.width * strip.height);
    counts.transparent += added.transparent;
    counts.partly += added.partly;
    counts.opaque += added.opaque;
    yield { stage: 'clear', done: y + strip.height, total: height };
  }
  return {
    raster,
    alpha: counts,
    alike: alike.places().map((place) => ({ ...place, x: place.x - window.x, y: place.y - window.y })),
  };
}

/** The reach maps of the samples that act, in their order; maps that the cut no longer needs leave the cache. */
export function* reachMaps(scene: Scene, cut: Cut, cache: ReachCache): Steps<ReachMap[]> {
  const maps: ReachMap[] = [];
  for (const sample of actingSamples(cut)) maps.push(yield* reachOfSample(scene, sample, cut, cache));
  forgetUnused(cut, cache);
  return maps;
}

/**
 * The part `rect` of the cutout, at once, for showing it while a setting moves. Null where a reach map is not in the
 * cache yet. Equal to the same part of `renderSteps`' result.
 */
export function renderPart(scene: Scene, cut: Cut, cache: ReachCache, rect: Rect): Raster | null {
  const maps = actingSamples(cut).map((sample) => cache.get(reachKey(sample, cut)));
  if (maps.includes(undefined)) return null;
  const part = clipRect(rect, scene.raster.width, scene.raster.height);
  if (part.width === 0 || part.height === 0) return null;
  const out = createRaster(part.width, part.height);
  renderInto(prepare(scene, cut, maps as ReachMap[]), part, out);
  removeHiddenColor(out, 0, part.width * part.height);
  return out;
}

/**
 * What is certain in the part `rect` and what is solved as a mixture: CERTAIN_SUBJECT, CERTAIN_BACKGROUND or IN_EDGE for
 * each of its pixels that lie in the picture. Null where a reach map is not in the cache yet.
 */
export function edgePart(scene: Scene, cut: Cut, cache: ReachCache, rect: Rect): Uint8Array | null {
  const samples = actingSamples(cut);
  const maps = samples.map((sample) => cache.get(reachKey(sample, cut)));
  if (maps.includes(undefined)) return null;
  const part = clipRect(rect, scene.raster.width, scene.raster.height);
  const marks = new Uint8Array(part.width * part.height);
  if (marks.length === 0 || samples.length === 0) return marks;
  const work = prepare(scene, cut, maps as ReachMap[]);
  if (!cut.edge.on) {
    marks.set(clearedMask(scene.raster.width, samples, work.maps, work.kept, part, scene.known.scratch));
    return marks;
  }
  marks.fill(CERTAIN_BACKGROUND);
  const edge = edgeOf(work, part);
  if (!edge) return marks;
  const start = (edge.part.y - part.y) * part.width + edge.part.x - part.x;
  markBand(edge.input, edge.part, marks, start, part.width);
  return marks;
}

/** What all parts of one rendering share. */
interface Work {
  readonly scene: Scene;
  readonly cut: Cut;
  readonly samples: readonly Sample[];
  readonly maps: readonly ReachMap[];
  readonly kept: Uint8Array | null;
  /** The backdrop's modelled color, where one sample alone says what it is. */
  readonly backdrop: ((x: number, y: number) => Rgb) | null;
  readonly color: Rgb | null;
  readonly alike: Alike | null;
  readonly ink: InkWork | null;
  readonly spots: readonly Spot[];
  readonly inking: Inking | null;
}

function prepare(scene: Scene, cut: Cut, maps: readonly ReachMap[]): Work {
  const samples = actingSamples(cut);
  const isOne = samples.length === 1 && hasColor(samples[0]!);
  return {
    scene,
    cut,
    samples,
    maps,
    kept: keptPockets(scene, cut, samples, maps),
    backdrop: isOne ? backdropOfSample(scene, samples[0]!) : null,
    color: isOne ? colorOfSample(scene, samples[0]!) : null,
    alike: null,
    ink: prepareInk(scene, cut),
    spots: spotsOf(cut, scene.reduction),
    inking: inkingOf(cut, scene.reduction),
  };
}

/** Clear, Edge, Touch up, Ink for one part, into a raster of its size that is all clear. */
function renderInto(work: Work, rect: Rect, out: Raster): void {
  const { inking, scene } = work;
  if (!inking) {
    mendedInto(work, rect, out);
    return;
  }
  const around = widened(rect, scene.raster, inkMargin(inking));
  const wide = createRaster(around.width, around.height);
  mendedInto(work, around, wide);
  inkInto(wide, around, rect, out, inking);
}

/** Clear, Edge, then Touch up. */
function mendedInto(work: Work, rect: Rect, out: Raster): void {
  const { scene, spots } = work;
  const around = surroundingsOf(spots, rect, scene.raster);
  if (!around) {
    shapedInto(work, rect, out);
    return;
  }
  const wide = createRaster(around.width, around.height);
  shapedInto(work, around, wide);
  mendInto(wide, around, rect, out, spots, scene.raster, scene.reduction);
}

/** Clear, then Edge. */
function shapedInto(work: Work, rect: Rect, out: Raster): void {
  const { cut, scene } = work;
  const shaping = cut.edge.on ? shapingOf(cut, scene.reduction) : null;
  if (!shaping) {
    clearedInto(work, rect, out);
    return;
  }
  const around = widened(rect, scene.raster, shapeMargin(shaping));
  const wide = createRaster(around.width, around.height);
  clearedInto(work, around, wide);
  shapeInto(wide, around, rect, out, shaping);
}

/** Alpha and color by ink, by samples, or what is left by both, before the edge is shaped. */
function clearedInto(work: Work, rect: Rect, out: Raster): void {
  const { ink, samples, scene } = work;
  if (!ink) {
    estimateInto(work, rect, out);
    return;
  }
  byInkInto(scene, ink, rect, out);
  if (samples.length === 0) return;
  const other = createRaster(rect.width, rect.height);
  estimateInto(work, rect, other);
  for (let p = 3; p < out.data.length; p += 4)
    if (other.data[p]! < out.data[p]!) out.data[p] = other.data[p]!;
}

/** Alpha and color by samples. */
function estimateInto(work: Work, rect: Rect, out: Raster): void {
  const { scene, cut, samples, maps, kept } = work;
  if (!cut.edge.on || samples.length === 0) {
    rampInto(scene.raster, samples, maps, kept, rect, out);
    return;
  }
  const edge = edgeOf(work, rect);
  // What lies farther from the subject than an edge reaches is clear, as `out` is from the start.
  if (edge) unmixInto(edge.input, edge.part, out, rect);
}

/** What the edge within `rect` is estimated from, and the part of it that holds any; null where none does. */
function edgeOf(work: Work, rect: Rect): { readonly part: Rect; readonly input: EdgeInput } | null {
  const { scene, cut, samples, maps, kept, backdrop, color, alike } = work;
  const { raster, reduction } = scene;
  const { scratch } = scene.known;
  const margin = edgeMargin(reduction);
  const box = subjectBox(raster.width, samples, maps, kept, widened(rect, raster, margin));
  const part = box && overlapRect(rect, widened(box, raster, margin));
  if (!part) return null;
  const reflection = reflectionOf(scene, samples, color);
  const around = widened(part, raster, Math.max(margin, reflectionMargin(reflection)));
  const { widthPx, spill, fineDetail } = cut.edge;
  const input = {
    raster,
    around,
    cleared: clearedMask(raster.width, samples, maps, kept, around, scratch),
    solid: solidOf(work, around),
    halvedChroma: halvedChromaOf(scene),
    drawnColors: color ? drawnColorsOf(scene, samples) : [],
    backdrop,
    color,
    evenBackdrop: !samples.some(({ backdrop }) => backdrop === 'checkerboard'),
    widthPx: widthPx === null ? null : Math.max(1, Math.round(widthPx / (1 << reduction))),
    strokes: fineDetail,
    reduction,
    spill: spill / 100,
    reflectionScale: reflection,
    alike,
    scratch,
  };
  return { part, input };
}

/** Marks with 1 what is solid subject by a decision on the whole picture; null where none was taken. */
function solidOf({ scene, samples, maps }: Work, around: Rect): Uint8Array | null {
  const k = samples.findIndex(({ rule }) => rule === 'whole');
  if (k < 0) return null;
  const { levels, width } = maps[k]!;
  const solid = scene.known.scratch.bytes('solid', around.width * around.height);
  for (let y = 0, i = 0; y < around.height; y++) {
    const start = (around.y + y) * width + around.x;
    for (let x = 0; x < around.width; x++, i++) solid[i] = levels[start + x] === SOLID_LEVEL ? 1 : 0;
  }
  return solid;
}

/** The scale at which the subject may reflect its backdrop; 0 where nothing colored stands behind it. */
function reflectionOf({ original, reduction }: Scene, samples: readonly Sample[], color: Rgb | null): number {
  const behind = samples[0]!.backdrop;
  if (!color || behind === 'checkerboard' || (behind === 'flat' && !isColored(color))) return 0;
  return reflectionScale(original.width, original.height, reduction);
}

/** A part with its surroundings, that far and no farther than the picture goes. */
function widened(rect: Rect, raster: Raster, margin: number): Rect {
  return clipRect(growRect(rect, margin), raster.width, raster.height);
}

/** Maps kept for undo and redo beyond those of the cut at hand. */
const SPARE_MAPS = 4;

function forgetUnused(cut: Cut, cache: ReachCache): void {
  const used = new Set(cut.clear.samples.map((sample) => reachKey(sample, cut)));
  const spare = [...cache.keys()].filter((key) => !used.has(key));
  for (const key of spare.slice(0, Math.max(0, spare.length - SPARE_MAPS))) cache.delete(key);
}
