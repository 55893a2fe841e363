import type { Cut } from '../core/cut/schema';
import { BUSY_REASON } from '../core/proposal/busy';
import type { CutStateFacts, PieceFacts } from './api';
import type { BenchState, ClearBy } from './bench-state';
import { withinBrush } from './brush';
import { framing } from './framing';
import { FIRST_HAND } from './hand-state';

/** The bench as a piece opens on it. */
export function openingState(piece: PieceFacts, saved: CutStateFacts): BenchState {
  return {
    piece,
    cut: saved.cut,
    undo: saved.undo,
    redo: saved.redo,
    saving: { state: 'saved', error: null },
    stage: 'clear',
    ...framing(saved.cut, 'clear', 'move', piece),
    prepareMode: 'move',
    prepareNote: null,
    clearBy: startingWay(saved.cut, piece.reason),
    markGoes: false,
    led: null,
    hand: FIRST_HAND,
    ledHand: null,
    inkFacts: null,
    recentInks: [],
    clipping: false,
    clickMode: 'set',
    areaPx: 5,
    reach: 'joined',
    selected: saved.cut.clear.samples[0]?.id ?? null,
    startNote: null,
    view: { scale: 1, left: 0, top: 0, width: 0, height: 0 },
    fitted: true,
    backing: piece.backing,
    look: 'result',
    shown: 'result',
    comparing: 'none',
    wipe: 0.5,
    sheetWidth: 0,
    loupe: false,
    edgeMode: 'move',
    brushPx: startingBrush(piece),
    checked: null,
    mended: [],
    open: [],
    stale: true,
    at: null,
    around: 0xe4e4e4,
    opened: false,
    failure: null,
    exact: false,
    progress: null,
    resting: false,
    alpha: null,
    curves: [],
    pointer: null,
    over: null,
    stretch: null,
    pictures: null,
    silhouette: null,
    answers: null,
    trying: false,
    looks: [],
    tried: [],
    deliveries: [],
    delivering: { kind: 'idle' },
  };
}

/** A brush that suits a picture at first: a fortieth of its shorter side. */
function startingBrush({ width, height }: PieceFacts): number {
  return withinBrush(Math.max(16, Math.round(Math.min(width, height) / 40)));
}

/** The way of clearing that a piece opens with: the one its cut uses, or the one its proposal points to. */
function startingWay({ clear: { ink, marks, samples } }: Cut, reason: string): ClearBy {
  if (ink) return 'ink';
  return marks.length > 0 || (samples.length === 0 && reason === BUSY_REASON) ? 'marks' : 'color';
}
