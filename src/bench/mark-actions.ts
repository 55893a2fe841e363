import { MOST_MARKS, type Mark } from '../core/stages/clear/settings';
import { MOST_POINTS, type Stroke } from '../core/stages/shapes';
import type { StoreParts } from './bench-store';

type Point = Stroke['points'][number];

/** Marking what stays and what goes with a brush. A stroke is shown while it is led; the decision is taken when it ends. */
export function markActions({ get, set, commit }: StoreParts, pointUnder: (x: number, y: number) => Point) {
  function marksWith(marks: readonly Mark[]): void {
    const { cut } = get();
    commit({ ...cut, clear: { ...cut.clear, on: true, marks: [...marks] } });
  }
  return {
    /** Which side the brush marks. */
    setMarkGoes: (markGoes: boolean) => set({ markGoes }),
    turnBrush: () => set({ markGoes: !get().markGoes }),
    /** Begins a stroke at a screen pixel; with `joined` as a line from where the last one of its side ended. */
    markFrom(x: number, y: number, joined = false): void {
      const { cut, markGoes, brushPx } = get();
      if (cut.clear.marks.length >= MOST_MARKS) return;
      const point = pointUnder(x, y);
      const last = cut.clear.marks.findLast(({ goes }) => goes === markGoes)?.points.at(-1);
      const points = joined && last ? [last, point] : [point];
      set({ marking: { goes: markGoes, radiusPx: brushPx / 2, points } });
    },
    markOn(x: number, y: number): void {
      const { marking } = get();
      if (!marking || marking.points.length >= MOST_POINTS) return;
      const point = pointUnder(x, y);
      const [lastX, lastY] = marking.points.at(-1)!;
      if (Math.hypot(point[0] - lastX, point[1] - lastY) < marking.radiusPx / 4) return;
      set({ marking: { ...marking, points: [...marking.points, point] } });
    },
    markEnd(): void {
      const { marking, cut } = get();
      if (!marking) return;
      set({ marking: null });
      marksWith([...cut.clear.marks, marking]);
    },
    deleteMark: (index: number) => marksWith(get().cut.clear.marks.filter((_, k) => k !== index)),
    deleteMarks: () => marksWith([]),
  };
}
