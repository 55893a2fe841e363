import type { Cut } from '../core/cut/schema';
import type { Point } from '../core/numeric/matrix3';
import {
  charactersOf,
  MOST_HAND_STROKES,
  MOST_PATH_CHARACTERS,
  type HandStroke,
  type StrokeOf,
} from '../core/stages/touch-up/settings';
import { textOfCorners, textOfPath, type Corner } from '../core/stages/touch-up/path';
import { bearingsOf } from '../core/findings/bearings';
import { clipRect, growRect } from '../core/raster/raster';
import type { Frame } from '../core/stages/prepare/frame';
import { AS_IT_CAME } from '../core/stages/prepare/settings';
import type { PieceLeft } from '../core/stages/touch-up/islands-left';
import { api, type PieceFacts } from './api';
import type { StoreParts } from './bench-state';
import type { HandState } from './hand-state';

/** What a cut is told when it can hold no more strokes. */
export const FULL = `A cut holds at most ${MOST_HAND_STROKES} strokes, and 2 MB of their places. Delete some of the list; nothing was lost.`;

/** Everything a person can do with strokes beside leading them. */
export function handActions({ get, set, commit, draft, piece, client }: StoreParts) {
  const strokesOf = ({ touchUp }: Cut) => touchUp.strokes;

  /** The cut with other strokes; painting on a stage that is switched off switches it on. */
  function withStrokes(strokes: readonly HandStroke[]): Cut {
    const { cut } = get();
    return { ...cut, touchUp: { ...cut.touchUp, on: true, strokes: [...strokes] } };
  }

  const setHand = (change: Partial<HandState>) => set({ hand: { ...get().hand, ...change } });

  const actions = {
    setHand,
    /** Another tool: what was begun with the last one is let go. */
    setTool: (tool: HandState['tool']) => setHand({ tool, begun: null, outline: null, note: null }),
    /** Whether one more stroke has room; says so where not. */
    hasRoom(stroke: HandStroke | null = null): boolean {
      const strokes = withoutLed();
      const fits =
        strokes.length < MOST_HAND_STROKES &&
        charactersOf(stroke ? [...strokes, stroke] : strokes) <= MOST_PATH_CHARACTERS;
      if (!fits) setHand({ note: FULL });
      return fits;
    },
    draftStroke: (stroke: HandStroke): void => draft(withStrokes([...withoutLed(), stroke])),
    /** Adds a stroke: one step. */
    addStroke(stroke: HandStroke): void {
      const before = withoutLed();
      const fits = actions.hasRoom(stroke);
      set({ ledHand: null });
      if (!fits) {
        draft(withStrokes(before));
        return;
      }
      setHand({ note: null, chosen: stroke.kind === 'area' ? before.length : null });
      commit(withStrokes([...before, stroke]));
    },
    /** Lets go of the stroke that is being led. */
    cancelStroke(): void {
      if (!get().ledHand) return;
      const before = withoutLed();
      set({ ledHand: null });
      draft(withStrokes(before));
    },
    replaceStroke(index: number, stroke: HandStroke): void {
      commit(withStrokes(strokesOf(get().cut).map((one, k) => (k === index ? stroke : one))));
    },
    draftReplaced(index: number, stroke: HandStroke): void {
      draft(withStrokes(strokesOf(get().cut).map((one, k) => (k === index ? stroke : one))));
    },
    deleteHandStroke(index: number): void {
      setHand({ chosen: null, hovered: null });
      commit(withStrokes(strokesOf(get().cut).filter((_, k) => k !== index)));
    },
    deleteHandStrokes(): void {
      setHand({ chosen: null, hovered: null });
      commit(withStrokes([]));
    },
    /** Moves a stroke one place up or down in the order in which they act. */
    moveHandStroke(index: number, by: 1 | -1): void {
      const strokes = [...strokesOf(get().cut)];
      const to = index + by;
      if (to < 0 || to >= strokes.length) return;
      const [one] = strokes.splice(index, 1);
      strokes.splice(to, 0, one!);
      setHand({ chosen: to, hovered: to });
      commit(withStrokes(strokes));
    },
    chooseStroke: (chosen: number | null) => setHand({ chosen, outline: null, begun: null }),
    hoverStroke: (hovered: number | null) => setHand({ hovered }),
    /** Other corners of an area; `last` where that is a step. */
    setCorners(index: number, corners: readonly Corner[], last: boolean): void {
      const stroke = strokesOf(get().cut)[index];
      if (stroke?.kind !== 'area' || corners.length < (stroke.shape === 'outline' ? 3 : 2)) return;
      const changed = { ...stroke, corners: textOfCorners(corners) };
      if (last) actions.replaceStroke(index, changed);
      else actions.draftReplaced(index, changed);
    },
    changeArea(index: number, change: Partial<StrokeOf<'area'>>, last: boolean): void {
      const stroke = strokesOf(get().cut)[index];
      if (stroke?.kind !== 'area') return;
      const changed = { ...stroke, ...change };
      if (last) actions.replaceStroke(index, changed);
      else actions.draftReplaced(index, changed);
    },
    /** Looks how many pieces are left, to be told on the button that splits them. */
    async countPieces(): Promise<void> {
      const left = await client.piecesLeft();
      setHand({ piecesLeft: left.length });
    },
    /** Puts each joined piece of what is left on the Shelf as a piece of its own, cropped to it; this one stays as it is. */
    async splitPieces(): Promise<void> {
      const { cut, frame } = get();
      const left = await client.piecesLeft();
      if (get().cut !== cut) {
        setHand({ note: 'The cut was changed meanwhile; nothing was put on the Shelf. Press it again.' });
        return;
      }
      if (left.length < 2) {
        setHand({ note: 'There is only one piece.' });
        return;
      }
      try {
        const { pieces } = await api.addParts(
          piece.id,
          left.map((one) => partOf(cut, frame, piece, one)),
        );
        setHand({
          note: `${pieces.length} pieces are on the Shelf: ${pieces.map(({ name }) => name).join(', ')}.`,
        });
      } catch (error) {
        setHand({ note: error instanceof Error ? error.message : String(error) });
      }
    },
    /** Lets go of what was begun: a straight line, an outline. */
    leaveBegun: () => setHand({ begun: null, outline: null, note: null }),
    /** Ends the outline that is being drawn as an area. */
    closeOutline(): void {
      const { outline } = get().hand;
      setHand({ outline: null });
      if (outline) actions.addOutline(outline);
    },
    addOutline(corners: readonly Corner[]): void {
      if (corners.length < 3) {
        setHand({ note: 'An outline needs three corners at least; nothing was changed.' });
        return;
      }
      actions.addStroke(areaOf(get().hand.areaDoes, 'outline', textOfCorners(corners)));
    },
    addBox(shape: 'rectangle' | 'ellipse', from: Point, to: Point): void {
      if (Math.abs(from.x - to.x) < 1 || Math.abs(from.y - to.y) < 1) return;
      const corners = textOfPath([
        [from.x, from.y],
        [to.x, to.y],
      ]);
      actions.addStroke(areaOf(get().hand.areaDoes, shape, corners));
    },
  };

  /** The strokes of the cut without the one that is being led. */
  function withoutLed(): readonly HandStroke[] {
    const { ledHand, cut } = get();
    return ledHand ? ledHand.before : strokesOf(cut);
  }

  return actions;
}

/** How much of nothing a piece keeps around it when it is split off, in pixels. */
const PART_MARGIN_PX = 12;

/** The cut of one piece of what is left: nothing else, cropped to it. */
function partOf(cut: Cut, frame: Frame, piece: PieceFacts, { at, ...box }: PieceLeft): Cut {
  const { x, y } = bearingsOf(frame, piece).toOriginal(at.x, at.y);
  const { crop } = frame;
  const around = growRect({ ...box, x: box.x + crop.x, y: box.y + crop.y }, PART_MARGIN_PX);
  const { touchUp, prepare } = cut;
  return {
    ...cut,
    prepare: { ...(prepare.on ? prepare : AS_IT_CAME), crop: clipRect(around, frame.width, frame.height) },
    // Name and print width are those of the whole.
    deliver: { ...cut.deliver, fileName: null, print: null },
    touchUp: {
      ...touchUp,
      on: true,
      mends: touchUp.on ? touchUp.mends : [],
      strokes: [
        ...(touchUp.on ? touchUp.strokes.filter(({ kind }) => kind !== 'island') : []),
        { kind: 'island', does: 'keep', x, y },
      ],
    },
  };
}

export type HandActions = ReturnType<typeof handActions>;

function areaOf(
  does: StrokeOf<'area'>['does'],
  shape: StrokeOf<'area'>['shape'],
  corners: string,
): HandStroke {
  return { kind: 'area', does, shape, corners, offsetPx: 0, softnessPx: 0 };
}
