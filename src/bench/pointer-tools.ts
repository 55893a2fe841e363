import type { PocketPlace } from '../core/findings/pockets';
import type { Point } from '../core/numeric/matrix3';
import type { Crop } from '../core/stages/prepare/settings';
import type { Frame } from '../core/stages/prepare/frame';
import type { StageKey } from '../core/stages/stages';
import type { BenchState, StoreParts } from './bench-state';
import { handToolOf } from './hand-tools';
import type { PointerTool } from './pointer-tool';
import type { StrokeTool } from './stroke-tool';
import { nearestPixel, pixelAt } from './under-pointer';

type HandToolName = ReturnType<typeof handToolOf>;

export type ToolName = 'move' | 'sample' | 'turn' | 'mark' | 'paint' | 'crop' | 'line' | HandToolName;

/** Which tool the pointer is while a stage is open; it moves the sheet while another is. */
const TOOL_OF: Readonly<Partial<Record<StageKey, (state: BenchState) => ToolName>>> = {
  prepare: ({ prepareMode }) => (prepareMode === 'crop' || prepareMode === 'line' ? prepareMode : 'move'),
  clear({ clearBy, clickMode }) {
    if (clearBy === 'marks') return 'mark';
    if (clearBy !== 'color' || clickMode === 'move') return 'move';
    return clickMode === 'turn' ? 'turn' : 'sample';
  },
  edge: ({ edgeMode }) => (edgeMode === 'paint' ? 'paint' : 'move'),
  touchUp: handToolOf,
};

export function toolOf(state: BenchState): ToolName {
  return TOOL_OF[state.stage]?.(state) ?? 'move';
}

/** What the tools act with. */
interface Hands {
  readonly byHand: Readonly<Record<HandToolName, PointerTool>>;
  readonly marks: StrokeTool;
  readonly fineDetail: StrokeTool;
  readonly sampleAt: (from: Point, to: Point | null, adding: boolean) => Promise<void>;
  readonly areaAt: (at: Point) => PocketPlace | null;
  readonly turnArea: (area: PocketPlace) => void;
  readonly draftCrop: (crop: Crop) => void;
  readonly changeCrop: (crop: Crop) => void;
  readonly straightenAlong: (dx: number, dy: number) => void;
}

export function pointerTools(
  { get, set, piece }: StoreParts,
  hands: Hands,
): Readonly<Record<ToolName, PointerTool>> {
  const brush = (tool: StrokeTool, enter: string): PointerTool => ({
    cursor: 'cross',
    enter,
    click(at, shift) {
      if (!pixelAt(get(), at)) return;
      tool.from(at, shift);
      tool.end();
    },
    drag(from, to, { first, last }) {
      if (first) tool.from(from);
      tool.to(to);
      if (last) tool.end();
    },
  });
  /** A place of the frame under a screen pixel. */
  const inFrame = ({ x, y }: Point): Point => {
    const { view } = get();
    return { x: (x - view.left) / view.scale, y: (y - view.top) / view.scale };
  };
  const nothing = () => undefined;
  return {
    ...hands.byHand,
    move: { cursor: 'grab', enter: null, click: nothing, drag: null },
    sample: {
      cursor: 'cross',
      enter: 'places a sample',
      click(at, shift) {
        const pixel = pixelAt(get(), at);
        if (pixel) void hands.sampleAt(pixel, null, shift);
      },
      // A sample over a stretch.
      drag(from, to, { last, shift }) {
        const start = pixelAt(get(), from);
        const end = nearestPixel(get(), piece, to);
        set({ stretch: start && !last ? { from: start, to: end } : null });
        if (start && last) void hands.sampleAt(start, end, shift);
      },
    },
    turn: {
      cursor: 'cross',
      enter: 'keeps or clears the area',
      click(at) {
        const pixel = pixelAt(get(), at);
        const area = pixel && hands.areaAt(pixel);
        if (area) hands.turnArea(area);
      },
      drag: nothing,
    },
    mark: brush(hands.marks, 'marks what stays or goes'),
    paint: brush(hands.fineDetail, 'paints fine detail'),
    crop: {
      cursor: 'cross',
      enter: null,
      click: nothing,
      drag(from, to, { last }) {
        const crop = rectBetween(inFrame(from), inFrame(to), get().frame);
        if (crop && last) hands.changeCrop(crop);
        else if (crop) hands.draftCrop(crop);
      },
    },
    // A line along what is to lie level.
    line: {
      cursor: 'cross',
      enter: null,
      click: nothing,
      drag(from, to, { last }) {
        const [start, end] = [inFrame(from), inFrame(to)];
        set({ stretch: last ? null : { from: start, to: end } });
        if (last) hands.straightenAlong(end.x - start.x, end.y - start.y);
      },
    },
  };
}

/** The whole pixels between two places of a frame; null where they hold none. */
function rectBetween(from: Point, to: Point, { width, height }: Frame): Crop | null {
  const x = Math.max(0, Math.round(Math.min(from.x, to.x)));
  const y = Math.max(0, Math.round(Math.min(from.y, to.y)));
  const right = Math.min(width, Math.round(Math.max(from.x, to.x)));
  const bottom = Math.min(height, Math.round(Math.max(from.y, to.y)));
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : null;
}
