import type { Corner } from '../core/stages/touch-up/path';
import type { StrokeOf } from '../core/stages/touch-up/settings';
import type { Point } from '../core/numeric/matrix3';

/** What the pointer does on the sheet while Touch up is open. */
export type HandTool = 'clear' | 'restore' | 'edge' | 'area' | 'piece' | 'gap';
/** How an area is drawn. */
export type AreaBy = 'freehand' | 'corners' | 'border' | 'rectangle' | 'ellipse';

/** A brush in hand. Its size is the bench's `brushPx`. */
export interface HandState {
  readonly tool: HandTool;
  readonly softness: number;
  readonly strength: number;
  readonly pressure: StrokeOf<'brush'>['pressure'];
  /** Whether the brush takes only what is alike. */
  readonly alike: boolean;
  readonly tolerance: number;
  readonly reads: 'start' | 'along';
  readonly edgeDoes: StrokeOf<'edge'>['does'];
  readonly areaDoes: StrokeOf<'area'>['does'];
  readonly areaBy: AreaBy;
  readonly pieceDoes: StrokeOf<'island'>['does'];
  /** How many pieces are left; null where nobody looked. */
  readonly piecesLeft: number | null;
  /** Where a straight line, a rectangle or a gap was begun and not ended, in pixels of the original. */
  readonly begun: Point | null;
  /** The corners that were set of the outline that is being drawn. */
  readonly outline: readonly Corner[] | null;
  /** The stroke of the list that is chosen, whose corners can be moved, and the one that is pointed at there. */
  readonly chosen: number | null;
  readonly hovered: number | null;
  /** Whether the list shows only strokes that change something. */
  readonly onlyActing: boolean;
  /** What is to be said of the last thing that was tried. */
  readonly note: string | null;
}

export const FIRST_HAND: HandState = {
  tool: 'clear',
  softness: 0,
  strength: 100,
  pressure: 'size',
  alike: false,
  tolerance: 10,
  reads: 'start',
  edgeDoes: 'softer',
  areaDoes: 'clear',
  areaBy: 'corners',
  pieceDoes: 'keep',
  piecesLeft: null,
  begun: null,
  outline: null,
  chosen: null,
  hovered: null,
  onlyActing: false,
  note: null,
};
