import type { Plane } from '../../raster/plane';
import { Fact, Remembered } from '../../scene/memo';
import { labOf } from '../../color/oklab';
import type { Task } from '../../helpers';
import { newSample } from '../../cut/new-sample';
import type { Cut } from '../../cut/schema';
import type { Reach, Sample } from './settings';
import type { Scratch } from '../../numeric/scratch';
import { bytesBy, nextOne } from '../../numeric/plane';
import type { Raster, Rect } from '../../raster/raster';
import { reduceRect } from '../../raster/reduce';
import { levelsBy, measureBy, SOLID_LEVEL, type Carried } from '../../decision/carry';
import { decisionSteps } from '../../decision/decide';
import type { Decision, Facts } from '../../decision/decision';
import { disputed } from '../../decision/disputes';
import type { Progress, Steps } from '../../numeric/steps';
import { backdropColors, modelOf } from './backdrop';
import {
  colorMemo,
  distanceLevels,
  distanceToModel,
  MAX_LEVEL,
  STEPS_PER_UNIT,
  toleranceLevel,
} from './distance';
import { joinedMapSteps, reachMapSteps, type Measure, type ReachMap } from './reach-map';
import { sceneAt, type Scene } from '../../scene/scene';
import { sampleAreas, sampleColor, type Rgb } from './sample-color';

/** Without edge estimation alpha rises from 0 to 255 over this many units of distance above the tolerance. */
export const RAMP_TOLERANCE = 8;

/** Reach maps by what they depend on; owned by the caller, one for each size of a picture. */
export type ReachCache = Map<string, ReachMap>;

/** What a sample's reach map depends on; tolerance and switch are not part of it. */
export function reachKey(sample: Sample, cut: Cut): string {
  const { x, y, to, areaPx, reach, backdrop, shade } = sample;
  if (sample.rule === 'whole') {
    const { tolerance } = sample;
    return JSON.stringify(['whole', factsOf(cut), x, y, to, areaPx, tolerance, backdrop, shade]);
  }
  const pockets = reach === 'joined' ? clearedPockets(cut) : [];
  return JSON.stringify([x, y, to, areaPx, reach, backdrop, shade, pockets]);
}

/** What a cut tells of its picture as a whole: samples that leave it to that, decided pockets, and marks. */
export function factsOf({ clear: { samples, pockets, marks } }: Cut): Facts {
  const place = ({ x, y }: { x: number; y: number }) => ({ x, y });
  return {
    goes: [
      ...samples.filter(({ on, rule }) => on && rule === 'whole').flatMap(placesOf),
      ...pockets.filter(({ keep }) => !keep).map(place),
    ],
    stays: pockets.filter(({ keep }) => keep).map(place),
    marks,
  };
}

function placesOf({ x, y, to }: Sample): { x: number; y: number }[] {
  return to ? [{ x, y }, to] : [{ x, y }];
}

/** The decision that a cut's samples rest on; null where none does, or where the frame shows no backdrop. */
export function* decisionOf(scene: Scene, cut: Cut): Steps<Decision | null> {
  if (!actingSamples(cut).some(({ rule }) => rule === 'whole')) return null;
  return yield* decisionSteps(scene, factsOf(cut));
}

/** What samples read, by where they read it. */
const COLORS = new Fact(() => new Remembered<Rgb>(256), 'sample colors');

/** The background color a sample reads from the original, read once. */
export function colorOfSample({ original, memo }: Scene, sample: Sample): Rgb {
  const { x, y, to, areaPx } = sample;
  const key = JSON.stringify([x, y, to, areaPx]);
  return memo.of(COLORS).at(key, () => sampleColor(original, sampleAreas(sample, original)));
}

/** The modelled backdrop of a sample at a place of the scene's raster; null where its one color counts. */
export function backdropOfSample(scene: Scene, sample: Sample): ((x: number, y: number) => Rgb) | null {
  return backdropColors(scene, sample, sampleAreas(sample, scene.original));
}

/**
 * The reach map of one sample, from the cache or computed into it. What is joined is found from the map that reaches
 * everywhere where the cache has that one, without measuring again.
 */
export function* reachOfSample(scene: Scene, sample: Sample, cut: Cut, cache: ReachCache): Steps<ReachMap> {
  const key = reachKey(sample, cut);
  const known = cache.get(key);
  if (known) return known;
  const decision = sample.rule === 'whole' ? yield* decisionSteps(scene, factsOf(cut)) : null;
  if (!decision && sample === BY_MARKS) {
    const { width, height } = scene.raster;
    const nothing: ReachMap = {
      kind: 'reach',
      width,
      height,
      levels: new Uint16Array(width * height).fill(SOLID_LEVEL - 1),
    };
    cache.set(key, nothing);
    return nothing;
  }
  if (decision) {
    const rule = yield* wholeRuleOf(scene, sample, decision);
    const map = yield* measuredMap(scene, sample, rule, [], 'everywhere');
    cache.set(key, map);
    return map;
  }
  const areas = sampleAreas(sample, scene.original);
  const seeds = areas.map((area) => reduceRect(area, scene.reduction));
  if (sample.reach === 'joined') {
    for (const { x, y } of clearedPockets(cut)) {
      if (x < scene.original.width && y < scene.original.height) {
        seeds.push({ x: x >> scene.reduction, y: y >> scene.reduction, width: 1, height: 1 });
      }
    }
  }
  const measured = cache.get(reachKey({ ...sample, reach: 'everywhere' }, cut));
  const map = measured
    ? yield* joinedMapSteps(measured, seeds)
    : yield* measuredMap(scene, sample, null, seeds, sample.reach);
  cache.set(key, map);
  return map;
}

/** Rows that are measured by one thread at a time. */
const ROWS_AT_A_TIME = 64;

/** The distances of all pixels to a sample, some rows at a time; a part of the task gives their levels. */
export interface MeasureTask extends Task {
  readonly kind: 'measure';
  readonly sample: Sample;
  readonly rule: WholeRule | null;
  readonly rows: number;
}

/** The map of a sample that is measured, with the help of other threads where there are some. */
function* measuredMap(
  scene: Scene,
  sample: Sample,
  rule: WholeRule | null,
  seeds: readonly Rect[],
  reach: Reach,
): Steps<ReachMap> {
  const { raster, reduction, helpers, memo } = scene;
  const measure = measureWith(scene, sample, rule);
  // What a pattern is known by are no plain data.
  const isPlain = sample.backdrop !== 'checkerboard' && !rule?.carried.checker;
  if (!helpers || reduction > 0 || !isPlain) return yield* reachMapSteps(raster, measure, seeds, reach);
  const parts = Math.ceil(raster.height / ROWS_AT_A_TIME);
  const task: MeasureTask = {
    kind: 'measure',
    picture: raster,
    facts: memo.plain(),
    maps: [],
    sample,
    rule,
    rows: ROWS_AT_A_TIME,
  };
  const help = helpers.begin(task, parts, 2 * ROWS_AT_A_TIME * raster.width);
  if (!help) return yield* reachMapSteps(raster, measure, seeds, reach);
  try {
    return yield* reachMapSteps(raster, measure, seeds, reach, { rows: ROWS_AT_A_TIME, help });
  } finally {
    help.end();
  }
}

/** How a sample is measured where the picture as a whole decides, as plain data. */
export interface WholeRule {
  readonly carried: Carried;
  /** Whether the sample's own distances count too. */
  readonly hasPlain: boolean;
  /** Where the decision is followed nonetheless (1, at its size); null: nowhere. */
  readonly disputed: Uint8Array | null;
}

/** A sample's distances; with a rule where the decision agrees with its tolerance, the decision's where it does not. */
export function measureWith(scene: Scene, sample: Sample, rule: WholeRule | null): Measure {
  const own = () => measureOf(scene, sample, sampleAreas(sample, scene.original));
  if (!rule) return own();
  const plain = rule.hasPlain ? { measure: own(), disputed: rule.disputed } : null;
  return measureBy(rule.carried, scene, sample.tolerance, plain);
}

function* wholeRuleOf(scene: Scene, sample: Sample, decision: Decision): Steps<WholeRule> {
  const { carried } = decision;
  yield AGREEING;
  if (sample === BY_MARKS || decision.byMarks) return { carried, hasPlain: false, disputed: null };
  const areas = sampleAreas(sample, scene.original);
  const small = sceneAt(scene, decision.reduction);
  const levels = new Uint16Array(decision.width * decision.height);
  const measure = measureOf(small, sample, areas);
  yield AGREEING;
  measure(0, decision.height, 0, levels);
  yield AGREEING;
  const limit = toleranceLevel(sample.tolerance);
  const cleared = bytesBy(levels.length, (i) => (levels[i]! <= limit ? 1 : 0));
  const decided = levelsBy(carried, small);
  yield AGREEING;
  return { carried, hasPlain: true, disputed: disputed(decision, cleared, decided) };
}

/** What is told while a decision and a tolerance are compared: the end of looking at a picture. */
const AGREEING: Progress = { doing: 'looking', done: 3, total: 4 };

/** The distances to a sample without its shade allowance in the rows `from` up to `to`; 0 in all others. */
export function plainDistances(scene: Scene, sample: Sample, from: number, to: number): ReachMap {
  const { width, height } = scene.raster;
  const unshaded: Sample = { ...sample, shade: { darker: 0, lighter: 0 } };
  const levels = new Uint16Array(width * height);
  measureOf(scene, unshaded, sampleAreas(sample, scene.original))(from, to, 0, levels);
  return { kind: 'reach', width, height, levels };
}

/**
 * The samples that act: none when the stage is switched off. Of those that leave it to the picture as a whole the first acts
 * for all: they are facts of one decision.
 */
export function actingSamples({ clear }: Cut): Sample[] {
  if (!clear.on) return [];
  const first = clear.samples.find(({ on, rule }) => on && rule === 'whole');
  const acting = clear.samples.filter(
    (sample) => sample.on && (sample.rule === 'tolerance' || sample === first),
  );
  return first || clear.marks.length === 0 ? acting : [BY_MARKS, ...acting];
}

/** What acts for marks where no sample leaves it to the picture as a whole. It has no color of its own. */
const BY_MARKS: Sample = newSample('marks', 0, 0, { rule: 'whole', tolerance: 4, reach: 'everywhere' });

/** Whether what acts has one color of background to go by. */
export function hasColor(sample: Sample): boolean {
  return sample !== BY_MARKS;
}

// What the figures of this file rest on: docs/decisions/003-backdrops-and-shade.md

/** Marks of a mask: stays; taken away; stays, but lies only a little beyond a tolerance. */
const STAYS = 0;
const CLEARED = 1;
const CLOSE = 2;

/**
 * Marks with 1 what Clear takes away in the part `rect`, with 0 what stays: pixels that some sample reaches within its
 * tolerance, except those of pockets that are kept. `maps` are those of `samples`, in the same order. The mask lies in
 * `scratch` and is overwritten by the next call.
 */
export function clearedMask(
  width: number,
  samples: readonly Sample[],
  maps: readonly ReachMap[],
  kept: Uint8Array | null,
  rect: Rect,
  scratch: Scratch,
): Uint8Array {
  const mask = scratch.zeroed('cleared', rect.width * rect.height);
  maps.forEach(({ levels }, k) => markReached(mask, levels, width, rect, samples[k]!.tolerance));
  const close: number[] = [];
  for (let i = nextOne(mask, 0, CLOSE); i >= 0; i = nextOne(mask, i + 1, CLOSE)) close.push(i);
  clearSpecks(mask, close, rect);
  if (kept) {
    for (let row = 0; row < rect.height; row++) {
      const start = (rect.y + row) * width + rect.x;
      for (let x = 0, i = row * rect.width; x < rect.width; x++, i++)
        if (kept[start + x] === 1) mask[i] = STAYS;
    }
  }
  return mask;
}

function markReached(
  mask: Uint8Array,
  levels: Uint16Array,
  width: number,
  rect: Rect,
  tolerance: number,
): void {
  const limit = toleranceLevel(tolerance);
  const close = toleranceLevel(Math.min(100, 2.5 * tolerance + 4));
  for (let row = 0, i = 0; row < rect.height; row++) {
    const start = (rect.y + row) * width + rect.x;
    for (let j = start; j < start + rect.width; j++, i++) {
      const level = levels[j]!;
      if (level <= limit) mask[i] = CLEARED;
      else if (level <= close && mask[i] === STAYS) mask[i] = CLOSE;
    }
  }
}

/** The smallest part of `rect` outside of which Clear takes everything away; null where it takes all of it. */
export function subjectBox(
  width: number,
  samples: readonly Sample[],
  maps: readonly ReachMap[],
  kept: Uint8Array | null,
  rect: Rect,
): Rect | null {
  const limits = samples.map(({ tolerance }) => toleranceLevel(tolerance));
  const stays = (i: number) => kept?.[i] === 1 || maps.every(({ levels }, k) => levels[i]! > limits[k]!);
  const first = maps[0]!.levels;
  const limit = limits[0]!;
  let left = rect.x + rect.width;
  let right = rect.x - 1;
  let top = -1;
  let bottom = -1;
  for (let y = rect.y; y < rect.y + rect.height; y++) {
    const start = y * width + rect.x;
    const end = start + rect.width;
    let i = start;
    // What the first sample clears needs no closer look, unless pockets are kept.
    while (i < end && ((!kept && first[i]! <= limit) || !stays(i))) i++;
    if (i === end) continue;
    let last = end - 1;
    while ((!kept && first[last]! <= limit) || !stays(last)) last--;
    if (top < 0) top = y;
    bottom = y;
    left = Math.min(left, rect.x + i - start);
    right = Math.max(right, rect.x + last - start);
  }
  return top < 0 ? null : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}

/** Ids of the samples that clear no pixel which another does not clear too, when each is left out alone. */
export function idleSamples(samples: readonly Sample[], maps: readonly ReachMap[]): string[] {
  const limits = samples.map(({ tolerance }) => toleranceLevel(tolerance));
  const alone = new Uint32Array(samples.length);
  const pixels = maps[0]?.levels.length ?? 0;
  for (let i = 0; i < pixels; i++) {
    let only = -1;
    for (let k = 0; k < maps.length && only > -2; k++) {
      if (maps[k]!.levels[i]! <= limits[k]!) only = only === -1 ? k : -2;
    }
    if (only >= 0) alone[only]!++;
  }
  return samples.filter((_, k) => alone[k] === 0).map(({ id }) => id);
}

/** How far around a pixel is looked to tell a speck. Pixels nearer to the border of a part are not told for certain. */
const SPECK_PX = 3;

/** A speck has at most this many uncleared pixels in the square around each of its own. */
const SPECK_PIXELS = 9;

/**
 * Clears specks: pixels that lie only a little beyond a tolerance and stand nearly alone, with nothing that leads away
 * from them as a thin line does. They are grain or the ringing of a compressed picture. Other close pixels stay.
 */
function clearSpecks(mask: Uint8Array, close: readonly number[], { width, height }: Rect): void {
  const plane: Plane = { data: mask, width, height };
  const specks = close.filter(
    (i) => isAlone(plane, i) && !leadsAway(plane, i % width, Math.floor(i / width)),
  );
  for (const i of close) mask[i] = STAYS;
  for (const i of specks) mask[i] = CLEARED;
}

/** Whether next to nothing is left uncleared around a pixel. */
function isAlone({ data: mask, width, height }: Plane, i: number): boolean {
  const x = i % width;
  const y = (i - x) / width;
  const left = Math.max(0, x - SPECK_PX);
  const right = Math.min(width - 1, x + SPECK_PX);
  let count = 0;
  for (let ny = Math.max(0, y - SPECK_PX); ny <= Math.min(height - 1, y + SPECK_PX); ny++) {
    for (let j = ny * width + left; j <= ny * width + right; j++) if (mask[j] !== CLEARED) count++;
    if (count > SPECK_PIXELS) return false;
  }
  return true;
}

/** Whether uncleared pixels hang together from a place to SPECK_PX from it. */
function leadsAway({ data: mask, width, height }: Plane, x: number, y: number): boolean {
  const seen = new Set([y * width + x]);
  for (const i of seen) {
    const cx = i % width;
    const cy = (i - cx) / width;
    if (Math.max(Math.abs(cx - x), Math.abs(cy - y)) === SPECK_PX) return true;
    for (let ny = Math.max(0, cy - 1); ny <= Math.min(height - 1, cy + 1); ny++)
      for (let nx = Math.max(0, cx - 1); nx <= Math.min(width - 1, cx + 1); nx++)
        if (mask[ny * width + nx] !== CLEARED) seen.add(ny * width + nx);
  }
  return false;
}

/**
 * The pixels of pockets that are kept: what hangs together with a kept place among all that is cleared, unless a
 * sample lies in it too. Null where nothing needs keeping.
 */
export function keptPockets(
  scene: Scene,
  cut: Cut,
  samples: readonly Sample[],
  maps: readonly ReachMap[],
): Uint8Array | null {
  const keeps = cut.clear.pockets.filter((pocket) => pocket.keep);
  if (keeps.length === 0 || samples.length === 0) return null;
  const { width, height } = scene.raster;
  const limits = samples.map(({ tolerance }) => toleranceLevel(tolerance));
  const cleared = (i: number) => maps.some(({ levels }, k) => levels[i]! <= limits[k]!);
  const seeds = new Set(samples.map(({ x, y }) => (y >> scene.reduction) * width + (x >> scene.reduction)));
  let kept: Uint8Array | null = null;
  for (const { x, y } of keeps) {
    if (x >= scene.original.width || y >= scene.original.height) continue;
    const start = (y >> scene.reduction) * width + (x >> scene.reduction);
    if (!cleared(start) || kept?.[start] === 1) continue;
    kept ??= new Uint8Array(width * height);
    const found = fill(start, width, height, cleared, kept);
    if (found.some((i) => seeds.has(i))) for (const i of found) kept[i] = 0;
  }
  return kept;
}

/**
 * Alpha without edge estimation for the part `rect`, into the alpha of `out`: the smallest any sample gives, 0 up to
 * its tolerance, then a straight ramp in distance over RAMP_TOLERANCE, times the alpha the picture came with.
 */
export function rampInto(
  raster: Raster,
  samples: readonly Sample[],
  maps: readonly ReachMap[],
  kept: Uint8Array | null,
  rect: Rect,
  out: Raster,
): void {
  const alpha = new Uint8Array(rect.width);
  const tables = samples.map((sample) => alphaTable(sample.tolerance));
  for (let row = 0; row < rect.height; row++) {
    const start = (rect.y + row) * raster.width + rect.x;
    alpha.fill(255);
    for (let k = 0; k < maps.length; k++) lowerAlpha(alpha, maps[k]!.levels, start, tables[k]!);
    if (kept) for (let x = 0; x < rect.width; x++) if (kept[start + x] === 1) alpha[x] = 255;
    copyRow(raster.data, start * 4, out.data, row * rect.width * 4, alpha);
  }
}

/** Alpha for every level of a reach map at one tolerance. */
export function alphaTable(tolerance: number): Uint8Array {
  const table = new Uint8Array(MAX_LEVEL + 1);
  const cleared = toleranceLevel(tolerance);
  const ramp = RAMP_TOLERANCE * STEPS_PER_UNIT;
  for (let level = 0; level <= MAX_LEVEL; level++) {
    table[level] = Math.round(Math.min(1, Math.max(0, (level - cleared) / ramp)) * 255);
  }
  return table;
}

function measureOf(scene: Scene, sample: Sample, areas: readonly Rect[]): Measure {
  const { raster } = scene;
  const { width } = raster;
  const color = colorOfSample(scene, sample);
  const plain = sample.backdrop === 'flat' && sample.shade.darker === 0 && sample.shade.lighter === 0;
  if (plain) {
    const lab = labOf(color.red, color.green, color.blue);
    const memo = colorMemo();
    return (from, to, mark, out, spansOf) => {
      if (!spansOf) distanceLevels(raster, lab, from * width, to * width, mark, out, memo);
      else
        for (let y = from; y < to; y++) {
          const spans = spansOf(y);
          for (let s = 0; s < spans.length; s += 2)
            distanceLevels(raster, lab, y * width + spans[s]!, y * width + spans[s + 1]!, mark, out, memo);
        }
    };
  }
  const model = modelOf(scene, sample, color, areas);
  return (from, to, mark, out, spansOf) =>
    distanceToModel(raster, model, sample.shade, from, to, mark, out, spansOf);
}

function clearedPockets(cut: Cut): { x: number; y: number }[] {
  return cut.clear.pockets.filter(({ keep }) => !keep).map(({ x, y }) => ({ x, y }));
}

/** Marks what hangs together with `start` and returns it. */
function fill(
  start: number,
  width: number,
  height: number,
  inside: (i: number) => boolean,
  marks: Uint8Array,
): number[] {
  const found = [start];
  marks[start] = 1;
  for (let k = 0; k < found.length; k++) {
    const i = found[k]!;
    const x = i % width;
    const near = [
      x > 0 ? i - 1 : -1,
      x < width - 1 ? i + 1 : -1,
      i - width,
      i + width < width * height ? i + width : -1,
    ];
    for (const j of near) {
      if (j < 0 || marks[j] === 1 || !inside(j)) continue;
      marks[j] = 1;
      found.push(j);
    }
  }
  return found;
}

function lowerAlpha(alpha: Uint8Array, levels: Uint16Array, start: number, table: Uint8Array): void {
  for (let x = 0; x < alpha.length; x++) {
    const value = table[levels[start + x]!]!;
    if (value < alpha[x]!) alpha[x] = value;
  }
}

function copyRow(source: Uint8Array, from: number, target: Uint8Array, to: number, alpha: Uint8Array): void {
  for (let x = 0, p = from, q = to; x < alpha.length; x++, p += 4, q += 4) {
    const own = source[p + 3]!;
    const cleared = alpha[x]!;
    target[q] = source[p]!;
    target[q + 1] = source[p + 1]!;
    target[q + 2] = source[p + 2]!;
    target[q + 3] = own === 255 ? cleared : Math.round((own * cleared) / 255);
  }
}
