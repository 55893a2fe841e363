import type { Cut } from '../core/cut/schema';
import type { Point } from '../core/numeric/matrix3';
import { MOST_POINTS, type Stroke } from '../core/stages/shapes';
import type { StoreParts } from './bench-state';
import { placeAt } from './under-pointer';

/** A list of strokes in a cut, which a brush adds to. */
export interface StrokePath<T extends Stroke> {
  /** So many strokes it holds at most. */
  readonly most: number;
  /** Whether the result is shown while a stroke is led, not only when it ends. */
  readonly isLive: boolean;
  read(cut: Cut): readonly T[];
  write(cut: Cut, strokes: readonly T[]): Cut;
  /** The stroke that is begun. */
  begin(stroke: Stroke): T;
  /** Whether a line goes on from where that stroke ended. */
  goesOn(last: T): boolean;
}

/** A brush that leads strokes over the sheet. All places are screen pixels. */
export function strokeTool<T extends Stroke>({ get, set, commit, draft }: StoreParts, path: StrokePath<T>) {
  const write = (strokes: readonly T[]) => path.write(get().cut, strokes);
  /** The strokes before the one that is led. */
  let before: readonly T[] = [];

  function lead(stroke: T): void {
    set({ led: stroke });
    if (path.isLive) draft(write([...before, stroke]));
  }

  const tool = {
    /** Begins a stroke; with `joined` as a line from where the last one ended. */
    from(at: Point, joined = false): void {
      const state = get();
      before = path.read(state.cut);
      if (before.length >= path.most) return;
      const point = placeAt(state, at);
      const last = before.findLast((one) => path.goesOn(one))?.points.at(-1);
      const points = joined && last ? [last, point] : [point];
      lead(path.begin({ radiusPx: state.brushPx / 2, points }));
    },
    to(at: Point): void {
      const led = get().led as T | null;
      if (!led || led.points.length >= MOST_POINTS) return;
      const point = placeAt(get(), at);
      const [lastX, lastY] = led.points.at(-1)!;
      if (Math.hypot(point[0] - lastX, point[1] - lastY) < led.radiusPx / 4) return;
      lead({ ...led, points: [...led.points, point] });
    },
    /** Ends the stroke: it is one step. */
    end(): void {
      const led = get().led as T | null;
      if (!led) return;
      set({ led: null });
      commit(write([...before, led]));
    },
    delete: (index: number): void => commit(write(path.read(get().cut).filter((_, k) => k !== index))),
    deleteAll: (): void => commit(write([])),
  };
  return tool;
}

export type StrokeTool = Pick<ReturnType<typeof strokeTool>, 'from' | 'to' | 'end'>;
