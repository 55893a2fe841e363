import { MOST_MARKS, type Mark } from '../core/stages/clear/settings';
import { MOST_STROKES } from '../core/stages/edge/settings';
import type { Stroke } from '../core/stages/shapes';
import type { EdgeMode, StoreParts } from './bench-state';
import { withinBrush } from './brush';
import { strokeTool } from './stroke-tool';

/** The brushes: marks of what stays and goes, and fine detail. */
export function brushes(parts: StoreParts) {
  return {
    // What is marked is decided when the stroke ends.
    marks: strokeTool<Mark>(parts, {
      most: MOST_MARKS,
      isLive: false,
      read: ({ clear }) => clear.marks,
      write: (cut, marks) => ({ ...cut, clear: { ...cut.clear, on: true, marks: [...marks] } }),
      begin: (stroke) => ({ ...stroke, goes: parts.get().markGoes }),
      goesOn: ({ goes }) => goes === parts.get().markGoes,
    }),
    fineDetail: strokeTool<Stroke>(parts, {
      most: MOST_STROKES,
      isLive: true,
      read: ({ edge }) => edge.fineDetail,
      write: (cut, fineDetail) => ({ ...cut, edge: { ...cut.edge, fineDetail: [...fineDetail] } }),
      begin: (stroke) => stroke,
      goesOn: () => true,
    }),
  };
}

/** Everything a person can do with brushes beside leading them. */
export function brushActions({ get, set }: StoreParts, { marks, fineDetail }: ReturnType<typeof brushes>) {
  return {
    setEdgeMode: (edgeMode: EdgeMode) => set({ edgeMode }),
    setBrush: (brushPx: number) => set({ brushPx: withinBrush(brushPx) }),
    /** Which side the brush marks. */
    setMarkGoes: (markGoes: boolean) => set({ markGoes }),
    turnBrush(): void {
      const { stage, hand, markGoes } = get();
      if (stage !== 'touchUp') set({ markGoes: !markGoes });
      else
        set({
          hand: { ...hand, tool: hand.tool === 'clear' ? 'restore' : 'clear', begun: null, outline: null },
        });
    },
    deleteMark: marks.delete,
    deleteMarks: marks.deleteAll,
    deleteStroke: fineDetail.delete,
    deleteStrokes: fineDetail.deleteAll,
  };
}
