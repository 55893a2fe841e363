import { createStore } from 'zustand/vanilla';
import { describeWatermarkChange } from '../core/watermark/describe';
import { newText } from '../core/watermark/first-watermarks';
import {
  MOST_GROUPS,
  MOST_PARTS,
  type CutoutPart,
  type Group,
  type MarkLook,
  type MarkPlace,
  type Part,
  type Watermark,
} from '../core/watermark/settings';
import { createMarkDrawer, SHIPPED_SAMPLES, type SamplePhoto, type SampleState } from './mark-drawer';
import type { ProofPieceFacts } from './proofs-api';
import { createSaveQueue, type SaveReport } from './save-queue';
import {
  watermarksApi,
  type FontEntryFacts,
  type OpenWatermarkFacts,
  type WatermarkStateFacts,
} from './watermarks-api';

export interface WatermarkScreenState {
  readonly id: number;
  /** As it is shown; while something moves it runs ahead of what is saved. */
  readonly watermark: Watermark;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly saving: SaveReport;
  readonly pieces: Readonly<Record<string, ProofPieceFacts>>;
  readonly fonts: readonly FontEntryFacts[];
  readonly samples: readonly SamplePhoto[];
  readonly shown: Readonly<Record<string, SampleState>>;
  /** The sample that is looked at alone; null for all. */
  readonly opened: string | null;
  /** The part whose settings are open. */
  readonly held: string | null;
  /** What could not be done, in a sentence. */
  readonly trouble: string | null;
}

export type WatermarkStore = ReturnType<typeof createWatermarkStore>;

/** Everything a person can do with a watermark. */
export function createWatermarkStore(opened: OpenWatermarkFacts) {
  const { state: saved } = opened;
  const store = createStore<WatermarkScreenState>(() => ({
    id: saved.id,
    watermark: saved.watermark,
    undo: saved.undo,
    redo: saved.redo,
    saving: { state: 'saved', error: null },
    pieces: opened.pieces,
    fonts: opened.fonts,
    samples: SHIPPED_SAMPLES,
    shown: {},
    opened: null,
    held: partsOf(saved.watermark)[0]?.id ?? null,
    trouble: null,
  }));
  const { getState: get, setState: set } = store;
  let settled = saved.watermark;
  const drawer = createMarkDrawer();
  let isDrawing = false;
  let isStale = false;
  let isClosed = false;

  const queue = createSaveQueue<Watermark, WatermarkStateFacts>(
    saved.step,
    {
      add: async (after, label, watermark) =>
        (await watermarksApi.addStep(saved.id, after, label, watermark)).state,
      move: async (to) => (await watermarksApi.move(saved.id, to)).state,
      numberOf: ({ step }) => step,
    },
    (state, replace) => {
      set({ undo: state.undo, redo: state.redo });
      if (!replace) return;
      settled = state.watermark;
      show(state.watermark);
      void learnPieces();
    },
    (saving) => set({ saving }),
  );

  function show(watermark: Watermark): void {
    const { held } = get();
    const isHeldThere = partsOf(watermark).some(({ id }) => id === held);
    set({ watermark, held: isHeldThere ? held : (partsOf(watermark)[0]?.id ?? null) });
    void drawAll();
  }

  function commit(watermark: Watermark): void {
    set({ trouble: null });
    const label = describeWatermarkChange(settled, watermark);
    show(watermark);
    if (JSON.stringify(watermark) === JSON.stringify(settled)) return;
    settled = watermark;
    queue.push({ document: watermark, label });
  }

  /** Undo may bring pieces back that are not known any more. */
  async function learnPieces(): Promise<void> {
    const ids = partsOf(get().watermark).flatMap((part) =>
      part.kind === 'cutout' && part.source.kind === 'piece' ? [part.source.piece] : [],
    );
    if (ids.every((id) => get().pieces[id])) return;
    const fresh = await watermarksApi.open(saved.id).catch(() => null);
    if (!fresh) return;
    set({ pieces: { ...get().pieces, ...fresh.pieces } });
    void drawAll();
  }

  /** Draws all samples again; what changes meanwhile is drawn when that is done. */
  async function drawAll(): Promise<void> {
    if (isDrawing) {
      isStale = true;
      return;
    }
    isDrawing = true;
    try {
      do {
        isStale = false;
        const { samples, opened: one, watermark } = get();
        await drawer.learn(watermark, samples).catch((error: unknown) => set({ trouble: messageOf(error) }));
        // The one that is looked at comes first.
        const inOrder = [...samples].sort((a, b) => Number(b.address === one) - Number(a.address === one));
        for (const sample of inOrder) {
          if (isClosed) return;
          await draw(sample);
          if (isStale) break;
        }
      } while (isStale);
    } finally {
      isDrawing = false;
    }
  }

  async function draw(sample: SamplePhoto): Promise<void> {
    const { watermark, pieces } = get();
    const state = await drawer.draw(watermark, pieces, sample);
    if (isClosed) return;
    const before = get().shown[sample.address];
    set({ shown: { ...get().shown, [sample.address]: state } });
    if (before?.kind === 'shown') before.bitmap.close();
  }

  const withGroups = (change: (groups: readonly Group[]) => readonly Group[]): Watermark => {
    const { watermark } = get();
    const groups = change(watermark.layout.groups).filter(({ parts }) => parts.length > 0);
    return { ...watermark, layout: { ...watermark.layout, groups: [...groups] } };
  };

  const withPart = (id: string, change: Partial<Part>): Watermark =>
    withGroups((groups) =>
      groups.map((group) => ({
        ...group,
        parts: group.parts.map((part) => (part.id === id ? ({ ...part, ...change } as Part) : part)),
      })),
    );

  /** Puts a part into a group of its own, behind the others. */
  function addPart(part: Part): void {
    if (get().watermark.layout.groups.length >= MOST_GROUPS) {
      set({ trouble: `A watermark has ${MOST_GROUPS} rows at most. Put the part into one that is there.` });
      return;
    }
    set({ held: part.id });
    commit(withGroups((groups) => [...groups, { parts: [part], gap: 30, align: 'middle' }]));
  }

  const freshId = (letter: string) => {
    const taken = new Set(partsOf(get().watermark).map(({ id }) => id));
    for (let n = 1; ; n++) if (!taken.has(`${letter}${n}`)) return `${letter}${n}`;
  };

  const actions = {
    draft: (change: Partial<Watermark>) => show({ ...get().watermark, ...change }),
    change: (change: Partial<Watermark>) => commit({ ...get().watermark, ...change }),
    changeLook: (change: Partial<MarkLook>) =>
      commit({ ...get().watermark, look: { ...get().watermark.look, ...change } }),
    draftLook: (change: Partial<MarkLook>) =>
      show({ ...get().watermark, look: { ...get().watermark.look, ...change } }),
    changePlace: (which: 'place' | 'portrait', change: Partial<MarkPlace>) =>
      commit(withPlace(get().watermark, which, change)),
    draftPlace: (which: 'place' | 'portrait', change: Partial<MarkPlace>) =>
      show(withPlace(get().watermark, which, change)),
    changePart: (id: string, change: Partial<Part>) => commit(withPart(id, change)),
    draftPart: (id: string, change: Partial<Part>) => show(withPart(id, change)),
    changeGroup: (k: number, change: Partial<Group>) =>
      commit(withGroups((groups) => groups.map((group, n) => (n === k ? { ...group, ...change } : group)))),
    changeLayout: (change: Partial<Watermark['layout']>) =>
      commit({ ...get().watermark, layout: { ...get().watermark.layout, ...change } }),
    hold: (held: string) => set({ held }),
    addText: () => addPart(newText(freshId('t'), 'Ostrel Kiteworks')),
    addCutout(piece: ProofPieceFacts): void {
      set({ pieces: { ...get().pieces, [piece.id]: piece } });
      const source = { kind: 'piece', piece: piece.id, colorway: null, light: false } as const;
      addPart({ kind: 'cutout', id: freshId('c'), source, size: 200, painted: false });
    },
    /** Another piece in the place of a cutout. */
    changePiece(part: CutoutPart, piece: ProofPieceFacts): void {
      set({ pieces: { ...get().pieces, [piece.id]: piece } });
      commit(withPart(part.id, { source: { kind: 'piece', piece: piece.id, colorway: null, light: false } }));
    },
    removePart: (id: string) =>
      commit(
        withGroups((groups) =>
          groups.map((group) => ({ ...group, parts: group.parts.filter((one) => one.id !== id) })),
        ),
      ),
    /** Moves a part one place on or back: within its group, else into a group of its own or the one beside it. */
    movePart(id: string, by: 1 | -1): void {
      commit(withGroups((groups) => movedPart(groups, id, by)));
    },
    open: (address: string | null) => {
      set({ opened: address });
    },
    /** Shows other photos. */
    showOn(samples: readonly SamplePhoto[]): void {
      set({ samples, opened: null });
      void drawAll();
    },
    async bringFont(file: File, partId: string): Promise<void> {
      set({ trouble: null });
      try {
        const { font } = await watermarksApi.bringFont(file);
        set({ fonts: [...get().fonts.filter(({ sha256 }) => sha256 !== font.sha256), font] });
        commit(withPart(partId, { font: { kind: 'brought', name: font.name, file: font.sha256 } }));
      } catch (error) {
        set({ trouble: messageOf(error) });
      }
    },
    tell: (trouble: string | null) => set({ trouble }),
    undo: () => queue.push('undo'),
    redo: () => queue.push('redo'),
    retrySaving: () => queue.retry(),
    whenSaved: () => queue.whenSaved(),
    /** Draws again, for instance when a piece was changed on the bench. */
    async lookAgain(): Promise<void> {
      const fresh = await watermarksApi.open(saved.id).catch(() => null);
      if (!fresh) return;
      set({ pieces: { ...get().pieces, ...fresh.pieces }, fonts: fresh.fonts });
      void drawAll();
    },
    close(): void {
      isClosed = true;
      drawer.close();
    },
  };
  void drawAll();
  return { store, actions };
}

export function partsOf({ layout }: Watermark): Part[] {
  return layout.groups.flatMap(({ parts }) => parts);
}

function withPlace(watermark: Watermark, which: 'place' | 'portrait', change: Partial<MarkPlace>): Watermark {
  return { ...watermark, [which]: { ...(watermark[which] ?? watermark.place), ...change } };
}

/** Groups with a part moved one place on or back. */
export function movedPart(groups: readonly Group[], id: string, by: 1 | -1): readonly Group[] {
  const k = groups.findIndex(({ parts }) => parts.some((part) => part.id === id));
  const group = groups[k];
  if (!group) return groups;
  const n = group.parts.findIndex((part) => part.id === id);
  const part = group.parts[n]!;
  const others = group.parts.filter((one) => one.id !== id);
  const isAtEnd = by === 1 ? n === group.parts.length - 1 : n === 0;
  if (!isAtEnd) {
    const parts = [...others];
    parts.splice(n + by, 0, part);
    return groups.map((one, j) => (j === k ? { ...one, parts } : one));
  }
  const beside = groups[k + by];
  // Alone at the end of all: nothing lies beyond.
  if (others.length === 0 && !beside) return groups;
  if (others.length > 0) {
    if (groups.length >= MOST_GROUPS) return groups;
    const own: Group = { ...group, parts: [part] };
    const rest = groups.map((one, j) => (j === k ? { ...one, parts: others } : one));
    return by === 1
      ? [...rest.slice(0, k + 1), own, ...rest.slice(k + 1)]
      : [...rest.slice(0, k), own, ...rest.slice(k)];
  }
  if (beside!.parts.length >= MOST_PARTS) return groups;
  const joined = { ...beside!, parts: by === 1 ? [part, ...beside!.parts] : [...beside!.parts, part] };
  return groups.map((one, j) => (j === k + by ? joined : one)).filter((_, j) => j !== k);
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
