import type { Point } from '../core/numeric/matrix3';

/** How far a drag is. */
export interface DragPhase {
  readonly first: boolean;
  readonly last: boolean;
  /** Whether Shift and Alt are held. */
  readonly shift: boolean;
  readonly alt: boolean;
  /** How hard a pen is pressed, 0 to 1; null where there is none. */
  readonly pressure: number | null;
}

/** What the pointer does on the sheet; one for each way of acting on it. All places are screen pixels. */
export interface PointerTool {
  readonly cursor: 'grab' | 'cross' | 'brush';
  /** What Enter does at the crosshair, in words behind "Enter". */
  readonly enter: string | null;
  /** A click, or Enter at the crosshair. */
  click(at: Point, shift: boolean): void;
  /** Lets go of what a drag has begun, since it became something else: two fingers that zoom. */
  cancel?(): void;
  /** Enter at the crosshair, where that is not as a click. */
  enterKey?(at: Point): void;
  /** A drag from a place to another; null where dragging moves the sheet. */
  readonly drag: ((from: Point, to: Point, phase: DragPhase) => void) | null;
}
