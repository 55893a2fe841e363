import { overlapRect, type Rect } from '../../raster/raster';
import { shapeInto, shapeMargin, type Shaping } from '../edge/shape';
import { partOf, widened, type Drawing, type Work } from '../work';
import { aroundEdges, edgeBrushesInto } from './edge-brush';
import { limitInto } from './limits';
import { alphaOf, pickedAway } from './pick-island';
import type { HandStroke } from './settings';
import { layingStrokes, placed, strokeMargin, strokesInto, type Placed } from './strokes';
import { mendInto, spotsOf, surroundingsOf, type Spot } from './touch-up';

function strokesOf(
  { scene, cut }: Drawing,
  takes: (stroke: HandStroke) => boolean,
): readonly Placed[] | null {
  const { on, strokes, through } = cut.touchUp;
  const found = on ? strokes.filter(takes) : [];
  return found.length === 0 ? null : found.map((stroke) => placed(stroke, through, scene.reduction));
}

const only = (cut: Drawing['cut'], takes: (stroke: HandStroke) => boolean) =>
  cut.touchUp.on ? [cut.touchUp.strokes.filter(takes), cut.touchUp.through] : [];

const isEdgeBrush = ({ kind }: HandStroke) => kind === 'edge';
const isLimit = ({ kind, does }: HandStroke) => kind === 'area' && (does === 'only' || does === 'never');
const isPick = ({ kind }: HandStroke) => kind === 'island';

/** Where the stages before act. */
const LIMITS: Work<readonly Placed[]> = {
  keeps: 'while moving',
  pixels: (cut) => only(cut, isLimit),
  ready: (drawing) => strokesOf(drawing, isLimit),
  around: (_, rect) => rect,
  into(areas, before, _wide, rect, out, { scene }) {
    before.into(rect, out);
    limitInto(areas, rect, out, scene.raster);
  },
};

/** Edges painted firmer, softer, or freer of spill. */
const EDGE_BRUSHES: Work<readonly Placed[]> = {
  keeps: 'while moving',
  pixels: (cut) => only(cut, isEdgeBrush),
  ready: (drawing) => strokesOf(drawing, isEdgeBrush),
  around(strokes, rect, { scene: { raster, reduction } }) {
    return strokes.some(({ footprint }) => overlapRect(footprint.box, rect))
      ? aroundEdges(strokes, rect, raster, reduction)
      : null;
  },
  into(strokes, before, wide, rect, out, { scene }) {
    before.into(rect, out);
    edgeBrushesInto(strokes, partOf(before, wide), wide, rect, out, scene.raster, scene.reduction);
  },
};

/** So many strokes are drawn at once; those before them are kept while the newest is led. */
const BLOCK = 16;

/** Which of `count` strokes a step draws: all but the last block, that but its last one, the last one. */
const BLOCKS = [
  (count: number) => [0, firstOfLast(count)],
  (count: number) => [firstOfLast(count), count - 1],
  (count: number) => [count - 1, count],
] as const;

function firstOfLast(count: number): number {
  return BLOCK * Math.floor((count - 1) / BLOCK);
}

/** Strokes of a step, those before them, and their places in the list. */
interface Block {
  readonly own: readonly Placed[];
  readonly earlier: readonly Placed[];
  readonly places: readonly number[];
}

/** A step of the strokes that lay or take alpha. What is drawn does not depend on how they are divided. */
function strokesWork(blockOf: (typeof BLOCKS)[number]): Work<Block> {
  const divided = (cut: Drawing['cut']) => {
    const all = layingStrokes(cut);
    const [from, to] = all.length === 0 ? [0, 0] : blockOf(all.length);
    return { earlier: all.slice(0, from), own: all.slice(from, to) };
  };
  return {
    keeps: 'while moving',
    base: 'strokes',
    pixels: (cut) => [divided(cut).own.map(([stroke]) => stroke), cut.touchUp.through],
    ready({ scene: { reduction }, cut }) {
      const { earlier, own } = divided(cut);
      if (own.length === 0) return null;
      const on = ([stroke]: (typeof own)[number]) => placed(stroke, cut.touchUp.through, reduction);
      return { own: own.map(on), earlier: earlier.map(on), places: own.map(([, place]) => place) };
    },
    around({ own }, rect, { scene: { raster, reduction } }) {
      if (!own.some(({ footprint }) => overlapRect(footprint.box, rect))) return null;
      return widened(rect, raster, strokeMargin(own, rect, reduction));
    },
    into({ own, earlier, places }, before, _wide, rect, out, { scene, strokesThatAct }, base) {
      before.into(rect, out);
      const changed = strokesThatAct && ((k: number) => strokesThatAct.add(places[k]!));
      strokesInto(own, earlier, base, rect, out, scene, changed);
    },
  };
}

/** Pieces of what is left, kept or cleared. */
const PICKS: Work<readonly Placed[]> = {
  keeps: 'while moving',
  pixels: (cut) => only(cut, isPick),
  ready: (drawing) => strokesOf(drawing, isPick),
  around: (_, _rect, { scene: { raster } }) => ({ x: 0, y: 0, width: raster.width, height: raster.height }),
  into(picks, before, _wide, rect, out, { scene: { raster }, once }) {
    before.into(rect, out);
    const goes = once('picked away', () => pickedAway(alphaOf(before, raster), picks));
    for (let y = 0, p = 3; y < rect.height; y++) {
      let i = (rect.y + y) * raster.width + rect.x;
      for (let x = 0; x < rect.width; x++, i++, p += 4) if (goes[i] === 1) out.data[p] = 0;
    }
  },
};

/** Everything made heavier or lighter. */
const WEIGHT: Work<Shaping> = {
  keeps: 'while moving',
  pixels: ({ touchUp: { on, weightPx } }) => (on ? weightPx : 0),
  ready({ scene, cut: { touchUp } }) {
    if (!touchUp.on || touchUp.weightPx === 0) return null;
    const offsetPx = touchUp.weightPx / (1 << scene.reduction);
    return { offsetPx, softnessPx: 0, evenness: 0, firmness: 0, evenPx: 0 };
  },
  around: (shaping, rect, { scene }) => widened(rect, scene.raster, shapeMargin(shaping)),
  into(shaping, before, wide, rect, out) {
    shapeInto(partOf(before, wide), wide, rect, out, shaping);
  },
};

/** Mends at single places. */
const MENDS: Work<readonly Spot[]> = {
  keeps: 'while moving',
  pixels: ({ touchUp: { on, mends } }) => (on ? mends : []),
  ready({ scene, cut }) {
    const spots = spotsOf(cut, scene.reduction);
    return spots.length === 0 ? null : spots;
  },
  around: (spots, rect: Rect, { scene }) => surroundingsOf(spots, rect, scene.raster),
  into(spots, before, wide, rect, out, { scene }) {
    mendInto(partOf(before, wide), wide, rect, out, spots, scene.raster, scene.reduction);
  },
};

/** Mends come last: they put right what is found in what everything before has left. */
export const TOUCH_UP_WORKS = [
  LIMITS,
  EDGE_BRUSHES,
  ...BLOCKS.map(strokesWork),
  PICKS,
  WEIGHT,
  MENDS,
] as const;
