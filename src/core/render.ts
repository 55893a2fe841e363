import { pixelsOf } from './cut/keys';
import type { Cut } from './cut/schema';
import type { Helpers, Task } from './helpers';
import { doParts, type Help } from './numeric/parts';
import { runToEnd, type Cancel, type Progress, type Steps } from './numeric/steps';
import {
  clipRect,
  copyPixels,
  createRaster,
  overlapRect,
  rowsOf,
  tilesOf,
  wholeOf,
  type Raster,
  type Rect,
} from './raster/raster';
import { actingSamples, reachKey, reachOfSample, type ReachCache } from './stages/clear/clear';
import type { ReachMap } from './stages/clear/reach-map';
import { sceneOf, type Scene } from './scene/scene';
import { removeHiddenColor, type AlphaCounts } from './stages/deliver/finish';
import { Alike, type AlikePlace } from './stages/edge/alike';
import { edgeMarks } from './stages/edge/work';
import { Kept, type KeptLayer } from './stages/kept';
import { prepareSteps, type Prepared, type Source } from './stages/prepare/prepare';
import { layingStrokes, placed } from './stages/touch-up/strokes';
import { copyPart, partOf, type Drawing, type Layer, type Work } from './stages/work';
import { TABLE, worksOf, type StageTable } from './stages/works';

/** A finished picture and how its alpha divides. */
export interface Cutout {
  /** Not to be written to: it may be kept for the next cut. */
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
  options: { cancel?: Cancel; onProgress?: (progress: Progress) => void; table?: StageTable } = {},
): Cutout {
  const steps = renderSteps({ original }, cut, options.table);
  return runToEnd(steps, options.cancel, options.onProgress);
}

/** The same in steps, nothing kept. */
export function* renderSteps(source: Source, cut: Cut, table: StageTable = TABLE): Steps<Cutout> {
  const prepared = yield* prepareSteps(source, cut, table.stages);
  return yield* renderPrepared(sceneOf(prepared.raster), prepared, new Kept(0), table);
}

/** A cut whose places are those of the scene, on all of it: what stands before Prepare is the scene itself. */
export function renderScene(scene: Scene, cut: Cut, kept: Kept): Steps<Cutout> {
  return renderPrepared(scene, { cut, window: wholeOf(scene.raster) }, kept);
}

/**
 * All stages behind Prepare, on a scene of a prepared picture. What is kept of stages whose settings are the same, and of
 * those before them, is not made again; what is made is left in `kept`.
 */
export function* renderPrepared(
  scene: Scene,
  { cut, window }: Pick<Prepared, 'cut' | 'window'>,
  kept: Kept,
  table: StageTable = TABLE,
): Steps<Cutout> {
  const maps = yield* reachMaps(scene, cut, kept.maps);
  const alike = new Alike(scene.raster.width, scene.raster.height);
  const drawing = drawingOf(scene, cut, maps, alike);
  const chain = chainOf(drawing, kept, table);
  // They know the usual stages.
  const helpers = table === TABLE && scene.reduction === 0 ? scene.helpers : null;
  const needs = needsOf(chain, window);
  for (const { key } of chain) kept.forgetDraft(key);
  const last = chain.length - 1;
  const start = chain.findLastIndex(({ key }, k) => kept.layer(key, needs[k]!) !== null);
  let known = start < 0 ? null : kept.layer(chain[start]!.key, needs[start]!)!.alike;
  for (let k = start + 1; k < last; k++) {
    const { key, keeps } = chain[k]!;
    const rect = needs[k]!;
    if (keeps !== true || !kept.hasRoomFor(rect)) continue;
    const raster = createRaster(rect.width, rect.height);
    yield* draw(chain[k]!, drawing, rect, raster, window, helpers);
    known ??= alike.places();
    kept.keep(key, { raster, rect, alike: known, alpha: null });
  }
  const { key } = chain[last]!;
  const ready = kept.layer(key, window);
  if (ready?.alpha && sameRect(ready.rect, window)) return cutoutOf(ready, window);
  const raster = createRaster(window.width, window.height);
  const alpha = { transparent: 0, partly: 0, opaque: 0 };
  yield* draw(chain[last]!, drawing, window, raster, window, helpers);
  for (const strip of stripsOf(window)) {
    const part = rowsOf(raster, strip);
    const added = removeHiddenColor(part, 0, part.width * part.height);
    alpha.transparent += added.transparent;
    alpha.partly += added.partly;
    alpha.opaque += added.opaque;
    yield { doing: chain[last]!.doing, done: strip.y + strip.height, total: window.height };
  }
  const finished = { raster, rect: window, alike: known ?? alike.places(), alpha };
  kept.keep(key, finished);
  return cutoutOf(finished, window);
}

function cutoutOf({ raster, alpha, alike }: KeptLayer, window: Rect): Cutout {
  const places = alike!.map((place) => ({ ...place, x: place.x - window.x, y: place.y - window.y }));
  return { raster, alpha: alpha!, alike: places };
}

const CORNER = { x: 0, y: 0 };
const NOTHING: Rect = { x: 0, y: 0, width: 0, height: 0 };

/** The rows of a part that are handled between two pauses, from its own upper left pixel. */
function stripsOf({ width, height }: Rect): Rect[] {
  const rows = Math.max(1, Math.min(ROWS_PER_STEP, Math.floor(PIXELS_PER_STEP / width)));
  return Array.from({ length: Math.ceil(height / rows) }, (_, k) => ({
    x: 0,
    y: k * rows,
    width,
    height: Math.min(rows, height - k * rows),
  }));
}

/**
 * Draws the part `rect` of a layer into a raster of its size: some rows at a time, or in tiles where the layer is drawn best
 * so; then other threads may help. Where the edge cannot be told counts within `counted`.
 */
function* draw(
  { layer, doing, key, tilePx }: Link,
  { scene, cut, maps, alike }: Drawing,
  rect: Rect,
  out: Raster,
  counted: Rect,
  helpers: Helpers | null,
): Steps<void> {
  const parts = tilePx ? tilesOf(wholeOf(out), tilePx) : stripsOf(rect);
  const placeOf = (part: Rect) => ({ ...part, x: rect.x + part.x, y: rect.y + part.y });
  const drawPart = (part: Rect) => {
    const place = placeOf(part);
    alike!.countWithin(overlapRect(place, counted) ?? NOTHING);
    if (part.width === out.width) layer.into(place, rowsOf(out, part));
    else copyPixels(partOf(layer, place), CORNER, part, out, part);
  };
  let help: Help | null = null;
  if (tilePx && helpers) {
    const facts = scene.memo.plain();
    const task: DrawTask = {
      kind: 'draw',
      picture: scene.raster,
      facts,
      cut,
      maps,
      key,
      rect,
      tilePx,
      counted,
    };
    help = helpers.begin(task, parts.length, 4 * tilePx * tilePx);
  }
  try {
    yield* doParts(parts.length, doing, help, {
      own: (k) => drawPart(parts[k]!),
      put: (k, data) => copyPixels({ data, width: parts[k]!.width }, CORNER, parts[k]!, out, parts[k]!),
    });
  } finally {
    if (help) for (const counts of help.end()) alike!.addCounts(counts);
  }
}

/** A part of a layer, drawn in tiles by several threads; a part of the task gives a tile's pixels. */
export interface DrawTask extends Task {
  readonly kind: 'draw';
  /** Its places are those of the picture. */
  readonly cut: Cut;
  /** The reach maps of the samples that act. */
  readonly maps: readonly ReachMap[];
  /** Which layer of the cut. */
  readonly key: string;
  readonly rect: Rect;
  readonly tilePx: number;
  /** Where it counts that the edge cannot be told. */
  readonly counted: Rect;
}

/** The layer that a task draws parts of, where it gathers that the edge cannot be told, and what of it counts in a part. */
export function layerOfTask(scene: Scene, { cut, maps, key, counted }: DrawTask) {
  const alike = new Alike(scene.raster.width, scene.raster.height);
  const chain = chainOf(drawingOf(scene, cut, maps, alike), new Kept(0), TABLE);
  const { layer } = chain.find((link) => link.key === key)!;
  return { layer, alike, count: (part: Rect) => alike.countWithin(overlapRect(part, counted) ?? NOTHING) };
}

/** The reach maps of the samples that act, in their order; maps that the cut no longer needs leave the cache. */
export function* reachMaps(scene: Scene, cut: Cut, cache: ReachCache): Steps<ReachMap[]> {
  const maps: ReachMap[] = [];
  for (const sample of actingSamples(cut)) maps.push(yield* reachOfSample(scene, sample, cut, cache));
  forgetUnused(cut, cache);
  return maps;
}

/**
 * The part `rect` of the cutout, at once, for showing it while a setting moves. Null where a reach map is not kept
 * yet. Equal to the same part of `renderSteps`' result.
 */
export function renderPart(
  scene: Scene,
  cut: Cut,
  kept: Kept,
  rect: Rect,
  table: StageTable = TABLE,
): Raster | null {
  const part = clipRect(rect, scene.raster.width, scene.raster.height);
  const chain = keptChain(scene, cut, kept, part, table);
  return chain && finishedPart(chain.at(-1)!.layer, part);
}

/** The part `rect` of the picture after each stage that does something, by the stage's key; null as with `renderPart`. */
export function renderStages(
  scene: Scene,
  cut: Cut,
  kept: Kept,
  rect: Rect,
  table: StageTable = TABLE,
): ReadonlyMap<string, Raster> | null {
  const part = clipRect(rect, scene.raster.width, scene.raster.height);
  const chain = keptChain(scene, cut, kept, part, table);
  return chain && new Map(chain.map(({ stage, layer }) => [stage, finishedPart(layer, part)]));
}

/**
 * The places in the list of the strokes of a cut that change a pixel at full size, in steps. A stroke that draws in parts
 * is looked at part by part until it is known to.
 */
export function* strokesThatAct(
  scene: Scene,
  cut: Cut,
  kept: Kept,
  table: StageTable = TABLE,
): Steps<Set<number>> {
  const maps = yield* reachMaps(scene, cut, kept.maps);
  const acts = new Set<number>();
  const chain = chainOf(drawingOf(scene, cut, maps, null, acts), kept, table);
  const laying = layingStrokes(cut);
  const tiles = tilesOf(wholeOf(scene.raster), TILE_OF_STROKES);
  const last = chain.findLast(({ draws }) => draws === 'strokes');
  // Edges, limits and picks are drawn once more without each of them.
  const { strokes, on, through } = cut.touchUp;
  const laid = new Set(laying.map(([, place]) => place));
  const own = chainOf(drawingOf(scene, cut, maps, null), kept, table).at(-1)!.layer;
  for (const [place, stroke] of on ? strokes.entries() : []) {
    if (laid.has(place)) continue;
    const others = { ...cut, touchUp: { ...cut.touchUp, strokes: strokes.filter((_, n) => n !== place) } };
    const without = chainOf(drawingOf(scene, others, maps, null), kept, table).at(-1)!.layer;
    const { box } = placed(stroke, through, scene.reduction).footprint;
    // What is picked, or where nothing else acts, changes the picture elsewhere.
    const isFar = stroke.kind === 'island' || stroke.does === 'only';
    for (const tile of tiles.filter((one) => isFar || overlapRect(box, one))) {
      const differs = !sameBytes(partOf(own, tile).data, partOf(without, tile).data);
      yield { doing: 'checking', done: place, total: strokes.length };
      if (!differs) continue;
      acts.add(place);
      break;
    }
  }
  if (!last) return acts;
  const boxes = laying.map(([stroke]) => placed(stroke, cut.touchUp.through, scene.reduction).footprint.box);
  for (const [k, tile] of tiles.entries()) {
    const here = laying.filter(([, place], n) => !acts.has(place) && overlapRect(boxes[n]!, tile));
    if (here.length > 0) partOf(last.layer, tile);
    yield { doing: 'checking', done: k + 1, total: tiles.length };
  }
  return acts;
}

function sameBytes(one: Uint8Array, other: Uint8Array): boolean {
  for (let i = 0; i < one.length; i++) if (one[i] !== other[i]) return false;
  return true;
}

/** Side of the squares in which strokes are looked at. */
const TILE_OF_STROKES = 512;

/**
 * What is certain in the part `rect` and what is solved as a mixture: CERTAIN_SUBJECT, CERTAIN_BACKGROUND or IN_EDGE for
 * each of its pixels that lie in the picture. Null where a reach map is not kept yet.
 */
export function edgePart(scene: Scene, cut: Cut, kept: Kept, rect: Rect): Uint8Array | null {
  const maps = keptMaps(cut, kept);
  const part = clipRect(rect, scene.raster.width, scene.raster.height);
  return maps && edgeMarks(drawingOf(scene, cut, maps, null), part);
}

/** A step of a stage that does something, or the picture before all (of no stage). */
interface Link {
  readonly stage: string;
  readonly doing: string;
  /** Equal where what was done up to this stage is. */
  readonly key: string;
  readonly layer: Layer;
  readonly keeps: boolean | 'while moving';
  readonly tilePx: number | undefined;
  /** Steps that share what they draw. */
  readonly draws: string | undefined;
  readonly around: (rect: Rect) => Rect | null;
}

/** The stages of a drawing that do something, each drawing on the one before it, or on what is kept of that. */
function chainOf(drawing: Drawing, kept: Kept, table: StageTable): readonly Link[] {
  const { scene, cut } = drawing;
  const whole: Layer = { into: (rect, out) => copyPart(scene.raster, { x: 0, y: 0 }, rect, out) };
  const chain: Link[] = [
    {
      stage: '',
      doing: 'copying',
      key: '[]',
      layer: whole,
      keeps: false,
      tilePx: undefined,
      draws: undefined,
      around: (rect) => rect,
    },
  ];
  const done: unknown[] = [];
  const bases = new Map<string, Layer>();
  for (const stage of table.stages)
    for (const [step, work] of worksOf(table, stage).entries()) {
      const ready = work.ready(drawing);
      if (ready === null) continue;
      done.push(stage.key, step, work.pixels ? work.pixels(cut) : pixelsOf(cut, stage));
      const key = JSON.stringify(done);
      const around = (rect: Rect) => work.around(ready, rect, drawing);
      const before = chain.at(-1)!.layer;
      const base = (work.base !== undefined && bases.get(work.base)) || before;
      if (work.base !== undefined) bases.set(work.base, base);
      const layer = layerOf(work, ready, key, { before, base }, drawing, kept);
      chain.push({
        stage: stage.key,
        doing: stage.doing,
        key,
        keeps: work.keeps,
        tilePx: work.tilePx,
        draws: work.base,
        around,
        layer,
      });
    }
  return chain;
}

/** What a step makes of the layer before it, or what is kept of that. */
function layerOf(
  work: Work,
  ready: unknown,
  key: string,
  { before, base }: { readonly before: Layer; readonly base: Layer },
  drawing: Drawing,
  kept: Kept,
): Layer {
  return {
    into(rect, out) {
      // To learn what it changes it has to be drawn.
      const isAsked = drawing.strokesThatAct !== null && work.base !== undefined;
      const known = isAsked ? null : kept.layer(key, rect);
      const wide = known ? null : work.around(ready, rect, drawing);
      if (known) copyPart(known.raster, known.rect, rect, out);
      else if (wide) work.into(ready, before, wide, rect, out, drawing, base);
      else before.into(rect, out);
    },
  };
}

/** Which part each link must know so that the last one can draw `rect`. */
function needsOf(chain: readonly Link[], rect: Rect): Rect[] {
  const needs: Rect[] = [];
  let need = rect;
  for (let k = chain.length - 1; k >= 0; k--) {
    needs[k] = need;
    need = chain[k]!.around(need) ?? need;
  }
  return needs;
}

/** The chain of a cut whose reach maps are kept, everything kept that `part` needs of what is worth it; null without the maps. */
function keptChain(
  scene: Scene,
  cut: Cut,
  kept: Kept,
  part: Rect,
  table: StageTable,
): readonly Link[] | null {
  const maps = keptMaps(cut, kept);
  if (!maps || part.width === 0 || part.height === 0) return null;
  const chain = chainOf(drawingOf(scene, cut, maps, null), kept, table);
  const needs = needsOf(chain, part);
  for (const [k, { key, keeps, layer }] of chain.entries()) {
    const rect = needs[k]!;
    if (k === chain.length - 1 || !keeps || !kept.hasRoomFor(rect) || kept.layer(key, rect)) continue;
    const raster = createRaster(rect.width, rect.height);
    layer.into(rect, raster);
    kept.keepDraft(key, raster, rect);
  }
  return chain;
}

function keptMaps(cut: Cut, { maps: cache }: Kept): readonly ReachMap[] | null {
  const maps = actingSamples(cut).map((sample) => cache.get(reachKey(sample, cut)));
  return maps.includes(undefined) ? null : (maps as ReachMap[]);
}

function finishedPart(layer: Layer, rect: Rect): Raster {
  const out = createRaster(rect.width, rect.height);
  layer.into(rect, out);
  removeHiddenColor(out, 0, rect.width * rect.height);
  return out;
}

function drawingOf(
  scene: Scene,
  cut: Cut,
  maps: readonly ReachMap[],
  alike: Alike | null,
  strokesThatAct: Set<number> | null = null,
): Drawing {
  const made = new Map<string, unknown>();
  return {
    scene,
    cut,
    maps,
    alike,
    strokesThatAct,
    once<T>(what: string, make: () => T): T {
      if (!made.has(what)) made.set(what, make());
      return made.get(what) as T;
    },
  };
}

function sameRect(one: Rect, other: Rect): boolean {
  return one.x === other.x && one.y === other.y && one.width === other.width && one.height === other.height;
}

/** Maps kept for undo and redo beyond those of the cut at hand. */
const SPARE_MAPS = 4;

function forgetUnused(cut: Cut, cache: ReachCache): void {
  const used = new Set(cut.clear.samples.map((sample) => reachKey(sample, cut)));
  const spare = [...cache.keys()].filter((key) => !used.has(key));
  for (const key of spare.slice(0, Math.max(0, spare.length - SPARE_MAPS))) cache.delete(key);
}
