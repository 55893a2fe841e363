import { createStore } from 'zustand/vanilla';
import { describeChange } from '../core/cut/describe';
import { freeSampleId, newSample } from '../core/cut/new-sample';
import type { Cut } from '../core/cut/schema';
import { MOST_SAMPLES, type Mark, type Reach, type Sample } from '../core/stages/clear/settings';
import { MOST_STROKES } from '../core/stages/edge/settings';
import type { Crop } from '../core/stages/prepare/settings';
import { BRUSH_PX, MOST_POINTS, PLACE_PX, type Stroke } from '../core/stages/shapes';
import { BUSY_REASON } from '../core/proposal/busy';
import type { Checked } from '../core/findings/check-cut';
import type { Finding, Place } from '../core/findings/finding';
import type { Progress } from '../core/numeric/steps';
import type { AlphaCounts } from '../core/stages/deliver/finish';
import { backingColors, pieceOfBacking, type Backing } from '../core/view/backing';
import { cellOf, type View } from '../core/view/compose';
import type { BenchClient } from '../engine/browser/bench-client';
import type {
  Answer,
  CurveReport,
  EngineEvent,
  InkFacts,
  Look,
  Probe,
  StagePicture,
} from '../engine/protocol';
import { api, ApiError, type CutStateFacts, type DeliveryFacts, type PieceFacts } from './api';
import { fit, pixelUnder } from './placement';
import type { StageKey } from '../core/stages/stages';
import type { Frame } from '../core/stages/prepare/frame';
import { originalPixel, originalPlace } from '../core/stages/prepare/shown';
import type { Point } from '../core/numeric/matrix3';
import { framing, shownCut } from './framing';
import { findingsActions, openOf, type FindingAt } from './findings-actions';
import { inkActions } from './ink-actions';
import { markActions } from './mark-actions';
import { lookActions } from './look-actions';
import { prepareActions, prepareRule } from './prepare-actions';
import { stageActions } from './stage-actions';
import { createSaveQueue, type SaveReport } from './save-queue';

/** What a click on the sheet does while Clear is open. */
export type ClickMode = 'set' | 'add' | 'turn' | 'move';
export type EdgeMode = 'move' | 'paint';
export type Shown = Extract<Look, 'result' | 'alpha' | 'faint' | 'edge' | 'difference'>;
/** How the original is shown together with the result. */
export type Comparing = 'none' | 'wipe' | 'beside';
/** What a drag on the sheet does while Prepare is open. */
export type PrepareMode = 'move' | 'crop' | 'line' | 'corners';
/** Which way of clearing the settings of Clear show. */
export type ClearBy = 'color' | 'ink' | 'marks';

/** How a delivery in work stands. */
export type Delivering =
  | { readonly kind: 'idle' }
  | { readonly kind: 'busy'; readonly step: string }
  | { readonly kind: 'done'; readonly made: readonly DeliveryFacts[]; readonly sameAsShown: boolean | null }
  | { readonly kind: 'failed'; readonly message: string };

export interface BenchState {
  readonly piece: PieceFacts;
  /** The cut as it is shown; while a setting moves it runs ahead of what is saved. */
  readonly cut: Cut;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly saving: SaveReport;
  readonly stage: StageKey;
  /** How the picture lies that the sheet shows, and how large the result is. */
  readonly frame: Frame;
  readonly output: { readonly width: number; readonly height: number };
  readonly prepareMode: PrepareMode;
  /** What was said of the last thing Prepare did or refused. */
  readonly prepareNote: string | null;
  readonly clearBy: ClearBy;
  /** Which side the brush of By marks marks, and the stroke that is being led. */
  readonly markGoes: boolean;
  readonly marking: Mark | null;
  /** What the picture shows of ink; null until it was asked for. */
  readonly inkFacts: InkFacts | null;
  /** Colors that were chosen as ink lately, newest first. */
  readonly recentInks: readonly string[];
  /** Whether a point of the levels is being moved, so that what is clipped is hatched. */
  readonly clipping: boolean;
  readonly clickMode: ClickMode;
  readonly areaPx: number;
  readonly reach: Reach;
  readonly selected: string | null;
  /** What was said when the last sample was placed. */
  readonly startNote: string | null;
  readonly view: View;
  readonly fitted: boolean;
  readonly backing: Backing;
  readonly look: 'result' | 'original';
  /** How the result is shown: as it is, by its alpha alone, only its edge, or what was taken. */
  readonly shown: Shown;
  readonly comparing: Comparing;
  /** Where the line of the wipe stands, as a share of the sheet's width. */
  readonly wipe: number;
  /** Width of the whole sheet's area in device pixels; `view.width` is half of it side by side. */
  readonly sheetWidth: number;
  readonly loupe: boolean;
  /** What the pointer does on the sheet while Edge is open. */
  readonly edgeMode: EdgeMode;
  /** Width of the brush in pixels of the original. */
  readonly brushPx: number;
  /** What the checks found in the full-size result of `checked.key`; null before they first ran. */
  readonly checked: (Checked & { readonly key: string; readonly contrast: string }) | null;
  /** Places that were put right since the checks ran. */
  readonly mended: readonly Place[];
  /** The findings that were not dismissed. */
  readonly open: readonly Finding[];
  /** Whether the cut has changed since the checks ran. */
  readonly stale: boolean;
  /** The place that is looked at. */
  readonly at: FindingAt | null;
  readonly around: number;
  readonly opened: boolean;
  readonly failure: string | null;
  /** Whether the sheet shows the full-size cutout or one made at the size of the view. */
  readonly exact: boolean;
  readonly progress: Progress | null;
  readonly resting: boolean;
  readonly alpha: AlphaCounts | null;
  readonly curves: readonly CurveReport[];
  readonly pointer: { readonly x: number; readonly y: number; readonly probe: Probe | null } | null;
  /** The stretch that is being dragged: in pixels of the original in Clear, of the frame in Prepare. */
  readonly stretch: { readonly from: Point; readonly to: Point } | null;
  /** What the piece looks like after each stage, small. */
  readonly pictures: Readonly<Record<StagePicture, ImageBitmap>> | null;
  /** The result's alpha, small: black that is as opaque as the result. */
  readonly silhouette: ImageBitmap | null;
  /** What a piece would look like by each answer to the question about `key`; null where nothing is asked. */
  readonly answers: {
    readonly key: string;
    readonly pictures: Readonly<Record<Answer, ImageBitmap>>;
  } | null;
  readonly deliveries: readonly DeliveryFacts[];
  readonly delivering: Delivering;
}

/** What the parts of the store share. */
export interface StoreParts {
  readonly get: () => BenchState;
  readonly set: (change: Partial<BenchState>) => void;
  /** Shows a cut and saves it as a step. */
  readonly commit: (cut: Cut) => void;
  /** Shows a cut without saving it. */
  readonly draft: (cut: Cut) => void;
  readonly reframe: () => void;
  readonly piece: PieceFacts;
  readonly client: BenchClient;
}

/** Everything a person can do on the bench. */
export type BenchStore = ReturnType<typeof createBenchStore>;

export function createBenchStore(piece: PieceFacts, saved: CutStateFacts, client: BenchClient) {
  const store = createStore<BenchState>(() => ({
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
    marking: null,
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
    stretch: null,
    pictures: null,
    silhouette: null,
    answers: null,
    deliveries: [],
    delivering: { kind: 'idle' },
  }));
  const { getState: get, setState: set } = store;
  let density = 1;
  let turn = 0;
  /** The cut that the newest step in the queue leaves behind: what the next step is compared with. */
  let settledCut = saved.cut;
  /** The stroke that is being painted, and those before it. */
  let stroke: Stroke | null = null;
  let strokesBefore: readonly Stroke[] = [];
  let abortDelivery: AbortController | null = null;
  /** What the Shelf was told of findings last. */
  let reported = '';

  const queue = createSaveQueue(
    piece.id,
    saved.revision,
    api,
    (state, replace) => {
      set({ undo: state.undo, redo: state.redo });
      if (replace) showCut(state.cut);
    },
    (saving) => set({ saving }),
  );

  function showCut(cut: Cut): void {
    settledCut = cut;
    stroke = null;
    const { selected } = get();
    const still = cut.clear.samples.some((sample) => sample.id === selected);
    set({ cut, selected: still ? selected : (cut.clear.samples.at(-1)?.id ?? null) });
    reframe();
    show();
  }

  function show(): void {
    const { cut, stage, prepareMode, clipping, view, backing, look, shown, around, opened } = get();
    const { comparing, sheetWidth, wipe } = get();
    if (!opened || view.width < 1 || view.height < 1) return;
    turn++;
    const beside = comparing === 'beside';
    const behind = pieceOfBacking(backing);
    client.show({
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
    });
  }

  /** Follows the frame of the cut: keeps what is seen in its place, or fits it again. */
  function reframe(): void {
    const { cut, stage, prepareMode, frame: before, view, fitted } = get();
    const after = framing(cut, stage, prepareMode, piece);
    const { crop } = after.frame;
    set(after);
    const moved = crop.x !== before.crop.x || crop.y !== before.crop.y;
    const resized = crop.width !== before.crop.width || crop.height !== before.crop.height;
    if (!moved && !resized && after.frame.width === before.width && after.frame.height === before.height)
      return;
    if (fitted) set({ view: fit(crop, view) });
    else
      set({
        view: {
          ...view,
          left: view.left + (crop.x - before.crop.x) * view.scale,
          top: view.top + (crop.y - before.crop.y) * view.scale,
        },
      });
  }

  function commit(cut: Cut): void {
    const label = describeChange(settledCut, cut);
    if (JSON.stringify(cut) === JSON.stringify(settledCut)) {
      set({ cut });
      return;
    }
    settledCut = cut;
    set({ cut, resting: false });
    reframe();
    show();
    queue.push({ cut, label });
  }

  /** Shows a cut without saving it: while something moves. */
  function draft(cut: Cut): void {
    set({ cut, resting: false });
    reframe();
    show();
  }

  function withSample(id: string, change: Partial<Sample>): Cut {
    const { cut } = get();
    const own = byHand(change);
    const samples = cut.clear.samples.map((sample) => (sample.id === id ? { ...sample, ...own } : sample));
    return { ...cut, clear: { ...cut.clear, samples } };
  }

  function onEvent(event: EngineEvent): void {
    switch (event.kind) {
      case 'opened':
        set({ opened: true });
        show();
        break;
      case 'painted':
        if (event.turn === turn) set({ exact: event.exact });
        break;
      case 'progress':
        set({ progress: event.progress });
        break;
      case 'prepared':
        set({ progress: null });
        break;
      case 'settled':
        set({ progress: null, alpha: event.alpha });
        break;
      case 'curves':
        set({ curves: event.curves });
        break;
      case 'checked': {
        const { key, findings, pockets, contrast } = event;
        set({ checked: { key, findings, pockets, contrast }, mended: [] });
        break;
      }
      case 'thumbnail':
        set({ pictures: event.pictures, silhouette: event.silhouette });
        break;
      case 'answers':
        set({ answers: { key: event.key, pictures: event.pictures } });
        break;
      case 'failed':
        set({ failure: event.message });
        break;
    }
  }

  async function addSample(from: Point, to: Point | null): Promise<void> {
    const { areaPx, reach, cut } = get();
    if (cut.clear.samples.length >= MOST_SAMPLES) {
      set({ startNote: `A cut holds at most ${MOST_SAMPLES} samples. Delete one to add another.` });
      return;
    }
    const draft = newSample(freeSampleId(cut.clear.samples), from.x, from.y, { to, areaPx, reach });
    const whole = cut.clear.samples.find(({ rule }) => rule === 'whole');
    if (whole) {
      const { rule, tolerance, backdrop, shade } = whole;
      set({ selected: draft.id, startNote: null });
      const samples = [...cut.clear.samples, { ...draft, rule, tolerance, backdrop, shade }];
      commit({ ...cut, clear: { ...cut.clear, on: true, samples } });
      return;
    }
    const start = await client.startOf(draft, cut);
    const now = get().cut;
    set({ selected: draft.id, startNote: startNote(start) });
    const samples = [...now.clear.samples, { ...draft, tolerance: start.tolerance }];
    commit({ ...now, clear: { ...now.clear, on: true, samples } });
  }

  async function moveSample(id: string, from: Point, to: Point | null): Promise<void> {
    const { cut } = get();
    const moved = cut.clear.samples.find((sample) => sample.id === id);
    if (!moved) return;
    if (moved.rule === 'whole') {
      set({ selected: id, startNote: null });
      commit(withSample(id, { ...from, to }));
      return;
    }
    const start = await client.startOf({ ...moved, ...from, to }, cut);
    set({ selected: id, startNote: startNote(start) });
    commit(withSample(id, { ...from, to, tolerance: start.tolerance }));
  }

  /** The pixel of the original under a screen pixel; null outside of what is shown. */
  function placeUnder(x: number, y: number): Point | null {
    const { view, frame } = get();
    const at = pixelUnder(view, x, y);
    if (at.x < 0 || at.y < 0 || at.x >= frame.crop.width || at.y >= frame.crop.height) return null;
    const found = originalPixel(frame, at.x, at.y);
    return found.x < 0 || found.y < 0 || found.x >= piece.width || found.y >= piece.height ? null : found;
  }

  /** The place of the original under a screen point, as a brush or a corner is led. */
  function pointUnder(x: number, y: number): Stroke['points'][number] {
    const { view, frame } = get();
    const at = originalPlace(frame, (x - view.left) / view.scale, (y - view.top) / view.scale);
    return pointOf(at.x, at.y);
  }

  /** Sets the chosen sample to a place or a stretch, or adds one. */
  async function sampleAt(from: Point, to: Point | null, adding: boolean): Promise<void> {
    const { clickMode, selected, cut } = get();
    // Where the picture as a whole decides, a click into an area that was kept settles that area.
    const kept = cut.clear.samples.some(({ rule }) => rule === 'whole') && !to ? actions.areaAt(from) : null;
    if (kept && !kept.goes) {
      actions.turnArea(kept);
      return;
    }
    if (adding || clickMode === 'add' || selected === null) await addSample(from, to);
    else await moveSample(selected, from, to);
  }

  function startStroke(x: number, y: number, from: Stroke['points'][number] | null): void {
    const { brushPx, cut } = get();
    if (cut.edge.fineDetail.length >= MOST_STROKES) return;
    const point = pointUnder(x, y);
    stroke = { radiusPx: brushPx / 2, points: from ? [from, point] : [point] };
    strokesBefore = cut.edge.fineDetail;
    draftStroke();
  }

  function draftStroke(): void {
    if (stroke) actions.draft('edge', { fineDetail: [...strokesBefore, stroke] });
  }

  function endStroke(): void {
    if (!stroke) return;
    stroke = null;
    commit(get().cut);
  }

  async function deliverColorways(colorways: readonly string[], signal: AbortSignal): Promise<void> {
    const made: DeliveryFacts[] = [];
    for (const colorway of colorways) {
      const step = `Writing "${colorway}", ${made.length + 1} of ${colorways.length}`;
      set({ delivering: { kind: 'busy', step } });
      const request = { revision: queue.revision, shownSha256: null, colorway };
      const { delivery } = await api.deliver(piece.id, request, signal);
      made.push(delivery);
      set({ deliveries: [delivery, ...get().deliveries] });
    }
    set({ delivering: { kind: 'done', made, sameAsShown: null } });
  }

  /** Delivers the cut as it is, or each of the colorways named. */
  async function deliver(colorways: readonly string[] = []): Promise<void> {
    abortDelivery = new AbortController();
    const { signal } = abortDelivery;
    const stopped = new Promise<never>((_resolve, reject) =>
      signal.addEventListener(
        'abort',
        () => reject(new ApiError('aborted', 'Cancelled. Nothing was written.')),
        { once: true },
      ),
    );
    try {
      if (get().stage === 'prepare') actions.setStage('deliver');
      set({ delivering: { kind: 'busy', step: 'Saving the cut' }, resting: false });
      await Promise.race([queue.whenSaved(), stopped]);
      if (colorways.length > 0) await deliverColorways(colorways, signal);
      else {
        set({ delivering: { kind: 'busy', step: 'Making the full size' } });
        const shownSha256 = await Promise.race([client.shownSha256(), stopped]);
        set({ delivering: { kind: 'busy', step: 'Writing the file and reading it back' } });
        const request = { revision: queue.revision, shownSha256, colorway: null };
        const { delivery, sameAsShown } = await api.deliver(piece.id, request, signal);
        set({
          delivering: { kind: 'done', made: [delivery], sameAsShown },
          deliveries: [delivery, ...get().deliveries],
        });
      }
    } catch (error) {
      set({
        delivering: { kind: 'failed', message: error instanceof Error ? error.message : String(error) },
      });
    }
  }

  const parts: StoreParts = { get, set, commit, draft, reframe, piece, client };
  const preparing = prepareRule(parts);
  const looking = lookActions(parts, show);
  const marking = markActions(parts, pointUnder);

  store.subscribe((state, before) => {
    if (state.checked === before.checked && state.cut === before.cut) return;
    const now = openOf(state);
    set(now.stale ? now : { ...now, mended: [] });
    void reportFindings();
  });

  /** Tells the Shelf how many findings are open, as soon as the cut they are of is saved. */
  async function reportFindings(): Promise<void> {
    if (get().stale) return;
    await queue.whenSaved();
    const { stale, open } = get();
    if (stale) return;
    const counts = Object.fromEntries(open.map(({ kind, count }) => [kind, count]));
    const told = JSON.stringify([queue.revision, counts]);
    if (told === reported) return;
    reported = told;
    await api.reportFindings(piece.id, queue.revision, counts).catch(() => undefined);
  }

  const actions = {
    /** Connects the sheet. Called once, when its canvas is on the page. */
    open(canvas: HTMLCanvasElement, devicePixels: number, around: number): void {
      density = devicePixels;
      set({ around });
      client
        .open(canvas, api.masterAddress(piece.id), devicePixels, (event) => {
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
      abortDelivery?.abort();
      client.close();
    },
    setAround(around: number): void {
      set({ around });
      show();
    },
    setStage(stage: StageKey): void {
      if (stage === 'prepare' && get().comparing !== 'none') looking.toggleComparing(get().comparing);
      set({
        stage,
        prepareNote: null,
        clipping: false,
        look: 'result',
        ...(stage === 'prepare' ? {} : { prepareMode: 'move' }),
      });
      reframe();
      show();
    },
    setClickMode: (clickMode: ClickMode) => set({ clickMode }),
    /** A click on the sheet while Clear is open. `adding` is Shift. */
    async click(x: number, y: number, adding: boolean): Promise<void> {
      const { stage, clickMode, clearBy } = get();
      const at = placeUnder(x, y);
      if (stage === 'clear' && clearBy === 'marks') {
        if (!at) return;
        marking.markFrom(x, y, adding);
        marking.markEnd();
        return;
      }
      if (stage === 'clear' && clickMode === 'turn') {
        const area = at && actions.areaAt(at);
        if (area) actions.turnArea(area);
        return;
      }
      if (stage === 'clear' && clearBy === 'color' && clickMode !== 'move' && at)
        await sampleAt(at, null, adding);
      if (stage === 'edge' && get().edgeMode === 'paint' && at) {
        const from = adding ? lastPoint(get().cut.edge.fineDetail) : null;
        startStroke(x, y, from);
        endStroke();
      }
    },
    setEdgeMode: (edgeMode: EdgeMode) => set({ edgeMode }),
    setBrush: (brushPx: number) => set({ brushPx: withinBrush(brushPx) }),
    /** Paints over fine detail from one screen pixel on; `paintOn` goes on with it, `paintEnd` makes it one step. */
    paintFrom: (x: number, y: number) => startStroke(x, y, null),
    paintOn(x: number, y: number): void {
      if (!stroke) return;
      const point = pointUnder(x, y);
      const [lastX, lastY] = stroke.points.at(-1)!;
      const near = Math.hypot(point[0] - lastX, point[1] - lastY) < stroke.radiusPx / 4;
      if (near || stroke.points.length >= MOST_POINTS) return;
      stroke = { ...stroke, points: [...stroke.points, point] };
      draftStroke();
    },
    paintEnd: endStroke,
    deleteStroke(index: number): void {
      const { cut } = get();
      const fineDetail = cut.edge.fineDetail.filter((_, k) => k !== index);
      commit({ ...cut, edge: { ...cut.edge, fineDetail } });
    },
    deleteStrokes(): void {
      const { cut } = get();
      commit({ ...cut, edge: { ...cut.edge, fineDetail: [] } });
    },
    /** A drag on the sheet while Clear is open: shows the stretch, and takes a sample over it at the end. */
    async dragStretch(
      fromX: number,
      fromY: number,
      toX: number,
      toY: number,
      adding: boolean,
      last: boolean,
    ): Promise<void> {
      if (get().clickMode === 'turn') return;
      const from = placeUnder(fromX, fromY);
      const { view, frame } = get();
      const end = pixelUnder(view, toX, toY);
      const found = originalPixel(frame, end.x, end.y);
      const to = {
        x: Math.min(piece.width - 1, Math.max(0, found.x)),
        y: Math.min(piece.height - 1, Math.max(0, found.y)),
      };
      set({ stretch: from && !last ? { from, to } : null });
      if (from && last) await sampleAt(from, to, adding);
    },
    /** A drag on the sheet while Prepare is open: a rectangle to crop to, or a line to be laid level. */
    dragPrepare(fromX: number, fromY: number, toX: number, toY: number, last: boolean): void {
      const { prepareMode, frame, view } = get();
      const from = { x: (fromX - view.left) / view.scale, y: (fromY - view.top) / view.scale };
      const to = { x: (toX - view.left) / view.scale, y: (toY - view.top) / view.scale };
      if (prepareMode === 'line') {
        set({ stretch: last ? null : { from, to } });
        if (last) actions.straightenAlong(to.x - from.x, to.y - from.y);
        return;
      }
      const crop = rectBetween(from, to, frame);
      if (crop && last) actions.change('prepare', { crop });
      else if (crop) actions.draft('prepare', { crop });
    },
    select: (selected: string | null) => set({ selected }),
    /** Shows a change of a sample without saving it: while a slider or a marker moves. */
    draftSample(id: string, change: Partial<Sample>): void {
      draft(withSample(id, change));
    },
    /** Changes a sample and saves that as a step. */
    changeSample: (id: string, change: Partial<Sample>) => commit(withSample(id, change)),
    deleteSample(id: string): void {
      const { cut } = get();
      const samples = cut.clear.samples.filter((sample) => sample.id !== id);
      set({ selected: samples.at(-1)?.id ?? null, startNote: null });
      commit({ ...cut, clear: { ...cut.clear, samples } });
    },
    setSampleArea: (areaPx: number) => set({ areaPx }),
    setReach: (reach: Reach) => set({ reach }),
    setFileName(fileName: string | null): void {
      const { cut } = get();
      commit({ ...cut, deliver: { ...cut.deliver, fileName } });
    },
    undo: () => queue.push('undo'),
    redo: () => queue.push('redo'),
    retrySaving: () => queue.retry(),
    stopFullSize(): void {
      client.rest();
      set({ resting: true, progress: null });
    },
    setPrint(print: Cut['deliver']['print']): void {
      const { cut } = get();
      commit({ ...cut, deliver: { ...cut.deliver, print } });
    },
    ...looking,
    ...marking,
    ...findingsActions(parts, {
      flyTo: looking.flyTo,
      showOn: looking.showOn,
      leavePrepare: () => {
        if (get().stage === 'prepare') actions.setStage('clear');
      },
    }),
    ...stageActions(parts, { prepare: preparing }),
    ...prepareActions(parts, preparing),
    ...inkActions(parts),
    deliver,
    cancelDelivery: () => abortDelivery?.abort(),
  };

  return { store, actions };
}

/** The whole pixels between two places of a frame; null where they hold none. */
function rectBetween(from: Point, to: Point, { width, height }: Frame): Crop | null {
  const x = Math.max(0, Math.round(Math.min(from.x, to.x)));
  const y = Math.max(0, Math.round(Math.min(from.y, to.y)));
  const right = Math.min(width, Math.round(Math.max(from.x, to.x)));
  const bottom = Math.min(height, Math.round(Math.max(from.y, to.y)));
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : null;
}

/** A brush that suits a picture at first: a fortieth of its shorter side. */
function startingBrush({ width, height }: PieceFacts): number {
  return withinBrush(Math.max(16, Math.round(Math.min(width, height) / 40)));
}

function withinBrush(px: number): number {
  const { min, max } = BRUSH_PX;
  return Math.min(2 * max, Math.max(2 * min, Math.round(px)));
}

/** A place in pixels of the original, as exact as a brush is led. */
function pointOf(x: number, y: number): [number, number] {
  const { min, max } = PLACE_PX;
  const tenth = (value: number) => Math.min(max, Math.max(min, Math.round(value * 10) / 10));
  return [tenth(x), tenth(y)];
}

function lastPoint(strokes: readonly Stroke[]): Stroke['points'][number] | null {
  return strokes.at(-1)?.points.at(-1) ?? null;
}

/** The way of clearing that a piece opens with: the one its cut uses, or the one its proposal points to. */
function startingWay({ clear: { ink, marks, samples } }: Cut, reason: string): ClearBy {
  if (ink) return 'ink';
  return marks.length > 0 || (samples.length === 0 && reason === BUSY_REASON) ? 'marks' : 'color';
}

/** A change of a sample as a person makes it: what is set by hand is obeyed, so its tolerance rules from then on. */
function byHand(change: Partial<Sample>): Partial<Sample> {
  const isRuling = ['tolerance', 'reach', 'backdrop', 'shade'].some((field) => field in change);
  return isRuling && !change.rule ? { ...change, rule: 'tolerance' } : change;
}

function startNote(start: {
  readonly tolerance: number;
  readonly safeRange: { from: number; to: number } | null;
}): string {
  return start.safeRange
    ? `Started at ${start.tolerance}, inside the safe range ${start.safeRange.from} to ${start.safeRange.to}.`
    : `No clear safe range here; started at the default ${start.tolerance}.`;
}
