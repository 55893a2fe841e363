import { createStore } from 'zustand/vanilla';
import { describeChange } from '../core/cut/describe';
import type { Cut } from '../core/cut/schema';
import type { StageKey } from '../core/stages/stages';
import { backingColors, pieceOfBacking } from '../core/view/backing';
import type { Look } from '../core/proof/seen';
import { cellOf } from '../core/view/compose';
import type { BenchClient } from '../engine/browser/bench-client';
import type { ShowRequest } from '../engine/protocol';
import { api, type CutStateFacts, type PieceFacts } from './api';
import type { BenchState, StoreParts } from './bench-state';
import { brushActions, brushes } from './brush-actions';
import { deliveryActions } from './delivery-actions';
import { engineEvents } from './engine-events';
import { findingsActions, openOf } from './findings-actions';
import { findingsReport } from './findings-report';
import { framing, shownCut, viewAfter } from './framing';
import { handActions } from './hand-actions';
import { handTools } from './hand-tools';
import { inkActions } from './ink-actions';
import { lookActions } from './look-actions';
import { pointerTools } from './pointer-tools';
import { prepareActions, prepareRule } from './prepare-actions';
import { proposalActions } from './proposal-actions';
import { CUTS_CHANNEL, type CutSaved } from './proofs-api';
import { sampleActions } from './sample-actions';
import { openingState } from './opening-state';
import { createSaveQueue, cutPort } from './save-queue';
import { stageActions } from './stage-actions';

/** Everything a person can do on the bench. */
export type BenchStore = ReturnType<typeof createBenchStore>;

export function createBenchStore(piece: PieceFacts, saved: CutStateFacts, client: BenchClient) {
  const store = createStore<BenchState>(() => openingState(piece, saved));
  const { getState: get, setState: set } = store;
  let density = 1;
  let turn = 0;
  /** The cut that the newest step in the queue leaves behind: what the next step is compared with. */
  let settledCut = saved.cut;

  /** Proofs in other windows follow. */
  const told = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel(CUTS_CHANNEL);

  const queue = createSaveQueue(
    saved.revision,
    cutPort(piece.id, api),
    (state, replace) => {
      set({ undo: state.undo, redo: state.redo });
      told?.postMessage({ piece: piece.id, revision: state.revision } satisfies CutSaved);
      if (replace) showCut(state.cut);
    },
    (saving) => set({ saving }),
  );

  function showCut(cut: Cut): void {
    settledCut = cut;
    const { selected } = get();
    const still = cut.clear.samples.some((sample) => sample.id === selected);
    set({ cut, led: null, selected: still ? selected : (cut.clear.samples.at(-1)?.id ?? null) });
    reframe();
    show();
  }

  function show(): void {
    const { view } = get();
    if (view.width < 1 || view.height < 1) return;
    client.show(requestOf(get(), ++turn, density));
  }

  /** Follows the frame of the cut: keeps what is seen in its place, or fits it again. */
  function reframe(): void {
    const { cut, stage, prepareMode, frame: before, view, fitted } = get();
    const after = framing(cut, stage, prepareMode, piece);
    set({ ...after, view: viewAfter(view, fitted, before, after.frame) });
  }

  function commit(cut: Cut, label = describeChange(settledCut, cut)): void {
    if (JSON.stringify(cut) === JSON.stringify(settledCut)) {
      set({ cut });
      return;
    }
    settledCut = cut;
    draft(cut);
    queue.push({ document: cut, label });
  }

  function draft(cut: Cut): void {
    set({ cut, resting: false });
    reframe();
    show();
  }

  const parts: StoreParts = { get, set, commit, draft, reframe, piece, client };
  const preparing = prepareRule(parts);
  const changing = stageActions(parts, { prepare: preparing });
  const looking = lookActions(parts, show);
  const finding = findingsActions(parts, {
    flyTo: looking.flyTo,
    showOn: looking.showOn,
    leavePrepare: () => {
      if (get().stage === 'prepare') setStage('clear');
    },
  });
  const brushing = brushes(parts);
  const { sampleAt, ...sampling } = sampleActions(parts, finding);
  const straightening = prepareActions(parts, preparing);
  const byHand = handActions(parts);
  const leading = handTools(parts, byHand);
  const delivering = deliveryActions(parts, queue, () => setStage('deliver'));
  const onEvent = engineEvents(parts, {
    turn: () => turn,
    settled: () => void delivering.makeReady(),
  });
  const report = findingsReport(parts, queue);

  store.subscribe((state, before) => {
    if (state.checked === before.checked && state.cut === before.cut) return;
    const now = openOf(state);
    set(now.stale ? now : { ...now, mended: [] });
    void report();
  });

  function setStage(stage: StageKey): void {
    if (stage === 'prepare' && get().comparing !== 'none') looking.toggleComparing(get().comparing);
    set({
      stage,
      hand: { ...get().hand, begun: null, outline: null, hovered: null, note: null },
      prepareNote: null,
      clipping: false,
      look: 'result',
      ...(stage === 'prepare' ? {} : { prepareMode: 'move' }),
    });
    reframe();
    show();
    void delivering.makeReady();
  }

  const actions = {
    /** Connects the sheet. Called once, when its canvas is on the page. */
    open(canvas: HTMLCanvasElement, devicePixels: number, around: number): void {
      density = devicePixels;
      set({ around });
      const { width, height } = get().output;
      const opening = {
        small: api.thumbnailAddress({ ...piece, revision: saved.revision }),
        width,
        height,
        master: api.masterAddress(piece.id),
        cutout: api.cutoutAddress(piece.id, saved.revision),
        decisions: api.decisionsAddress(piece.id),
        cut: saved.cut,
      };
      client
        .open(canvas, opening, devicePixels, (event) => {
          onEvent(event);
          if (event.kind === 'painted') canvas.dispatchEvent(new CustomEvent('painted', { detail: event }));
        })
        .catch((error: unknown) => set({ failure: error instanceof Error ? error.message : String(error) }));
      void api.deliveries(piece.id).then(
        ({ deliveries }) => set({ deliveries }),
        () => undefined,
      );
    },
    close(): void {
      delivering.cancelDelivery();
      told?.close();
      client.close();
    },
    setAround(around: number): void {
      set({ around });
      show();
    },
    setStage,
    undo: () => queue.push('undo'),
    redo: () => queue.push('redo'),
    retrySaving: () => queue.retry(),
    /** Ends when everything that was done is saved. */
    whenSaved: () => queue.whenSaved(),
    stopFullSize(): void {
      client.rest();
      set({ resting: true, progress: null });
    },
    /** Opens Edge with its brush in hand. */
    paintFineDetail(): void {
      set({ edgeMode: 'paint' });
      setStage('edge');
    },
    toggleTrying: () => set({ trying: !get().trying }),
    /** Shows the piece in these versions on proofs beside the sheet, and follows every change of the cut. */
    tryIn(looks: readonly Look[]): void {
      set({ looks });
      show();
    },
    ...changing,
    ...looking,
    ...sampling,
    ...brushActions(parts, brushing),
    ...finding,
    ...byHand,
    alikeUnder: leading.alikeUnder,
    ...straightening,
    ...inkActions(parts),
    ...delivering,
    ...proposalActions(parts, queue),
  };

  const tools = pointerTools(parts, {
    byHand: leading.tools,
    ...brushing,
    sampleAt,
    areaAt: finding.areaAt,
    turnArea: finding.turnArea,
    draftCrop: (crop) => changing.draft('prepare', { crop }),
    changeCrop: (crop) => changing.change('prepare', { crop }),
    straightenAlong: straightening.straightenAlong,
  });

  return { store, actions, tools };
}

/** What the sheet is to show. */
function requestOf(state: BenchState, turn: number, density: number): ShowRequest {
  const { cut, stage, prepareMode, clipping, view, backing, look, shown, around } = state;
  const { comparing, sheetWidth, wipe } = state;
  const beside = comparing === 'beside';
  const behind = pieceOfBacking(backing);
  return {
    turn,
    cut: shownCut(cut, stage, prepareMode),
    view: { ...view, width: sheetWidth },
    look: stage === 'prepare' ? 'prepared' : clipping ? 'levels' : look === 'result' ? shown : look,
    compare:
      comparing === 'none' || stage === 'prepare' || (look === 'original' && !beside)
        ? null
        : { beside, at: beside ? view.width : Math.round(wipe * sheetWidth) },
    // A browser cannot decode every original, TIFF for one; the small picture of it is there all the same.
    backing: behind === null ? null : [api.originalAddress(behind), api.untouchedAddress(behind)],
    ground: { ...backingColors(backing), around, cellPx: cellOf(density) },
    looks: state.looks,
  };
}
