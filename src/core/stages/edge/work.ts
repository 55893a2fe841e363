import { SOLID_LEVEL } from '../../decision/carry';
import { copyPixels, overlapRect, tilesOf, type Rect } from '../../raster/raster';
import { backdropOfSample, clearedMask, colorOfSample, hasColor, subjectBox } from '../clear/clear';
import { MaskBlocks } from '../clear/mask-blocks';
import type { Rgb } from '../clear/sample-color';
import type { Scene } from '../../scene/scene';
import type { Sample } from '../clear/settings';
import { clearedInto, clearingOf, type Clearing } from '../clear/work';
import { partOf, widened, type Drawing, type Work } from '../work';
import { BackdropPlane } from './backdrop-plane';
import { drawnColorsOf } from './drawn-colors';
import { halvedChromaOf } from './halved-chroma';
import type { EdgeInput } from './mixture';
import { isColored, reflectionMargin, reflectionScale } from './reflection';
import { shapeInto, shapeMargin, shapingOf, type Shaping } from './shape';
import { CERTAIN_BACKGROUND, edgeMargin, markBand, unmixInto } from './unmix';

/** What Edge knows of a drawing before any part of it. */
interface Solving {
  readonly clearing: Clearing;
  /** The backdrop's modelled color, where one sample alone says what it is. */
  readonly backdrop: ((x: number, y: number) => Rgb) | null;
  readonly color: Rgb | null;
  readonly halvedChroma: boolean;
  readonly drawnColors: readonly Float64Array[];
  readonly blocks: MaskBlocks;
  /** The scale at which the subject may reflect its backdrop; 0 where nothing colored stands behind it. */
  readonly reflection: number;
}

/** Side of the squares in which mixtures are solved: what is known of a square and its surroundings stays near in memory. */
const TILE_PX = 512;

/** Alpha and color along the border, estimated from the mixture. */
const SOLVE: Work<Solving> = {
  keeps: true,
  tilePx: TILE_PX,
  pixels: ({ edge: { on, widthPx, spill, fineDetail } }) => [on, widthPx, spill, fineDetail],
  ready: (drawing) => drawing.once('solving', () => solvingOf(drawing)),
  around: (_, rect) => rect,
  into(solving, _before, _wide, rect, out, drawing) {
    const spill = drawing.cut.edge.spill / 100;
    clearedInto(solving.clearing, spill, rect, out, drawing, (to) => {
      for (const tile of tilesOf(rect, TILE_PX)) {
        const { near, stays } = solving.blocks.divide(tile, marginOf(solving, drawing.scene));
        for (const part of stays)
          copyPixels(drawing.scene.raster, part, part, to, { x: part.x - rect.x, y: part.y - rect.y });
        const edge = near && edgeWithin(solving, near, drawing);
        // What lies farther from the subject than an edge reaches is clear, as `out` is from the start.
        if (edge) unmixInto(edge.input, edge.part, to, rect);
      }
    });
  },
};

/** The edge moved, softened, evened out and made steeper. */
const SHAPE: Work<Shaping> = {
  keeps: true,
  pixels: ({ edge: { offsetPx, softnessPx, evenness, firmness } }) => [
    offsetPx,
    softnessPx,
    evenness,
    firmness,
  ],
  ready: ({ scene, cut }) => (cut.edge.on ? shapingOf(cut, scene.reduction) : null),
  around: (shaping, rect, { scene }) => widened(rect, scene.raster, shapeMargin(shaping)),
  into(shaping, before, wide, rect, out) {
    shapeInto(partOf(before, wide), wide, rect, out, shaping);
  },
};

/** Two steps, so that what was solved is there when the edge is shaped another way. */
export const EDGE_WORKS = [SOLVE, SHAPE] as const;

function solvingOf(drawing: Drawing): Solving | null {
  const { scene, cut } = drawing;
  if (!cut.edge.on) return null;
  const clearing = clearingOf(drawing);
  const { samples, ink, kept } = clearing;
  if (samples.length === 0 && !ink) return null;
  const isOne = samples.length === 1 && hasColor(samples[0]!);
  const color = isOne ? colorOfSample(scene, samples[0]!) : null;
  const { fineDetail } = cut.edge;
  return {
    clearing,
    backdrop: isOne ? backdropOfSample(scene, samples[0]!) : null,
    color,
    halvedChroma: halvedChromaOf(scene),
    drawnColors: color ? drawnColorsOf(scene, samples) : [],
    blocks: new MaskBlocks(scene.raster, samples, drawing.maps, kept, fineDetail, scene.reduction),
    reflection: reflectionOf(scene, samples, color),
  };
}

/** How far around a part its surroundings decide about it, in pixels. */
function marginOf({ reflection }: Solving, { reduction }: Scene): number {
  return Math.max(edgeMargin(reduction), reflectionMargin(reflection));
}

/**
 * What is certain in the part `rect` and what is solved as a mixture: CERTAIN_SUBJECT, CERTAIN_BACKGROUND or IN_EDGE for
 * each of its pixels. Without Edge, what is cleared and what stays.
 */
export function edgeMarks(drawing: Drawing, rect: Rect): Uint8Array {
  const { scene, maps } = drawing;
  const { samples, kept } = clearingOf(drawing);
  const marks = new Uint8Array(rect.width * rect.height);
  if (marks.length === 0 || samples.length === 0) return marks;
  const solving = SOLVE.ready(drawing);
  if (!solving) {
    marks.set(clearedMask(scene.raster.width, samples, maps, kept, rect, scene.scratch));
    return marks;
  }
  marks.fill(CERTAIN_BACKGROUND);
  const edge = edgeWithin(solving, rect, drawing);
  if (!edge) return marks;
  const start = (edge.part.y - rect.y) * rect.width + edge.part.x - rect.x;
  markBand(edge.input, edge.part, marks, start, rect.width);
  return marks;
}

/** What the edge within `rect` is estimated from, and the part of it that holds any; null where none does. */
function edgeWithin(
  solving: Solving,
  rect: Rect,
  { scene, cut, maps, alike }: Drawing,
): { readonly part: Rect; readonly input: EdgeInput } | null {
  const {
    clearing: { samples, kept },
    backdrop,
    color,
    halvedChroma,
    drawnColors,
    reflection,
  } = solving;
  const { raster, reduction, scratch } = scene;
  const margin = edgeMargin(reduction);
  const box = subjectBox(raster.width, samples, maps, kept, widened(rect, raster, margin));
  const part = box && overlapRect(rect, widened(box, raster, margin));
  if (!part) return null;
  const around = widened(part, raster, marginOf(solving, scene));
  const { widthPx, spill, fineDetail } = cut.edge;
  const input = {
    raster,
    around,
    cleared: clearedMask(raster.width, samples, maps, kept, around, scratch),
    solid: solidWithin(scene, samples, maps, around),
    halvedChroma,
    drawnColors,
    backdrop: backdrop && new BackdropPlane(backdrop, around, scratch),
    color,
    evenBackdrop: !samples.some((sample) => sample.backdrop === 'checkerboard'),
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
function solidWithin(
  { scratch }: Scene,
  samples: readonly Sample[],
  maps: Drawing['maps'],
  around: Rect,
): Uint8Array | null {
  const k = samples.findIndex(({ rule }) => rule === 'whole');
  if (k < 0) return null;
  const { levels, width } = maps[k]!;
  const solid = scratch.bytes('solid', around.width * around.height);
  for (let y = 0, i = 0; y < around.height; y++) {
    const start = (around.y + y) * width + around.x;
    for (let x = 0; x < around.width; x++, i++) solid[i] = levels[start + x] === SOLID_LEVEL ? 1 : 0;
  }
  return solid;
}

/** The scale at which the subject may reflect its backdrop; 0 where nothing colored stands behind it. */
function reflectionOf({ original, reduction }: Scene, samples: readonly Sample[], color: Rgb | null): number {
  const behind = samples[0]?.backdrop;
  if (!color || behind === 'checkerboard' || (behind === 'flat' && !isColored(color))) return 0;
  return reflectionScale(original.width, original.height, reduction);
}
