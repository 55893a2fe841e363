import { createStore } from 'zustand/vanilla';
import { describeProofChange } from '../core/proof/describe';
import { firstPlacement, freshId } from '../core/proof/first-proof';
import { anchoredAt, type Surface } from '../core/proof/place';
import type { Look } from '../core/proof/seen';
import {
  MOST_GROUNDS,
  type Anchor,
  type Ground,
  type GroundSource,
  type Placement,
  type Proof,
} from '../core/proof/settings';
import { createPlacedPictures, type PlacedPicture } from './placed-pictures';
import {
  CUTS_CHANNEL,
  proofsApi,
  type CutSaved,
  type GroundState,
  type HandOverFacts,
  type KnownGroundFacts,
  type OpenProofFacts,
  type ProofFileFacts,
  type ProofPieceFacts,
  type ProofStateFacts,
  type SeenPieceFacts,
} from './proofs-api';
import { createSaveQueue, type SaveReport } from './save-queue';

/** How handing over stands. */
export type HandingOver =
  | { readonly kind: 'idle' }
  | { readonly kind: 'busy' }
  | { readonly kind: 'done'; readonly file: ProofFileFacts }
  | { readonly kind: 'failed'; readonly message: string };

export interface ProofScreenState {
  readonly id: number;
  readonly name: string;
  readonly isTemplate: boolean;
  /** As it is shown; while something moves it runs ahead of what is saved. */
  readonly proof: Proof;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly saving: SaveReport;
  readonly grounds: Readonly<Record<string, GroundState>>;
  readonly pieces: Readonly<Record<string, ProofPieceFacts>>;
  readonly files: readonly ProofFileFacts[];
  /** The ground that fills the board; null for the wall. */
  readonly opened: string | null;
  /** The piece on it that is held. */
  readonly held: string | null;
  /** What was measured on the ground that is open; null while it is not known. */
  readonly seen: readonly SeenPieceFacts[] | null;
  readonly handing: HandingOver;
  /** What could not be done, in a sentence. */
  readonly trouble: string | null;
  /** Pieces whose cut changed since the proof was looked at last. */
  readonly changed: readonly string[];
  /** Rises when a picture of a piece came. */
  readonly pictures: number;
}

/** How long nothing must have changed before pieces are measured. */
const REST_MS = 350;

/** Everything a person can do with a proof. */
export type ProofStore = ReturnType<typeof createProofStore>;

export function createProofStore(opened: OpenProofFacts) {
  const { state: saved } = opened;
  const store = createStore<ProofScreenState>(() => ({
    id: saved.id,
    name: saved.name,
    isTemplate: saved.isTemplate,
    proof: saved.proof,
    undo: saved.undo,
    redo: saved.redo,
    saving: { state: 'saved', error: null },
    grounds: opened.grounds,
    pieces: opened.pieces,
    files: opened.files,
    // One ground alone needs no wall.
    opened: saved.proof.grounds.length === 1 ? saved.proof.grounds[0]!.id : null,
    held: saved.proof.grounds.length === 1 ? (saved.proof.grounds[0]!.placed.at(-1)?.id ?? null) : null,
    seen: null,
    handing: { kind: 'idle' },
    trouble: null,
    changed: changedSince(saved.seen, opened.pieces),
    pictures: 0,
  }));
  const { getState: get, setState: set } = store;
  const pictures = createPlacedPictures(() => set({ pictures: get().pictures + 1 }));
  let settled = saved.proof;
  let measuring: AbortController | null = null;
  let resting: ReturnType<typeof setTimeout> | undefined;
  let handingOver: AbortController | null = null;

  const queue = createSaveQueue<Proof, ProofStateFacts>(
    saved.step,
    {
      add: async (after, label, proof) => (await proofsApi.addStep(saved.id, after, label, proof)).state,
      move: async (to) => (await proofsApi.move(saved.id, to)).state,
      numberOf: ({ step }) => step,
    },
    (state, replace) => {
      set({ undo: state.undo, redo: state.redo });
      if (!replace) return;
      settled = state.proof;
      set({ proof: state.proof });
      keepOpen();
      void learnGrounds();
      measureSoon();
    },
    (saving) => set({ saving }),
  );

  /** What is open or held may have gone with undo. */
  function keepOpen(): void {
    const { proof, opened: id, held } = get();
    const ground = proof.grounds.find((one) => one.id === id);
    if (!ground) set({ opened: null, held: null });
    else if (!ground.placed.some((one) => one.id === held)) set({ held: null });
  }

  /** Asks for what is not known of grounds yet. */
  async function learnGrounds(): Promise<void> {
    for (const { id, source } of get().proof.grounds) {
      const known = get().grounds[id];
      if (known && sources.get(id) === JSON.stringify(source)) continue;
      sources.set(id, JSON.stringify(source));
      const facts = await proofsApi.ground(source).then(
        (answer): GroundState => answer.facts,
        (error: unknown): GroundState => ({ trouble: messageOf(error) }),
      );
      set({ grounds: { ...get().grounds, [id]: facts } });
    }
  }
  const sources = new Map(saved.proof.grounds.map(({ id, source }) => [id, JSON.stringify(source)]));

  function draft(proof: Proof): void {
    set({ proof });
  }

  function commit(proof: Proof): void {
    const label = describeProofChange(settled, proof);
    set({ proof });
    if (JSON.stringify(proof) === JSON.stringify(settled)) return;
    settled = proof;
    queue.push({ document: proof, label });
    measureSoon();
  }

  const withGround = (id: string, change: (ground: Ground) => Ground): Proof => {
    const { proof } = get();
    return { ...proof, grounds: proof.grounds.map((one) => (one.id === id ? change(one) : one)) };
  };

  const withPlacement = (ground: string, id: string, change: Partial<Placement>): Proof =>
    withGround(ground, (one) => ({
      ...one,
      placed: one.placed.map((placed) => (placed.id === id ? { ...placed, ...change } : placed)),
    }));

  /** Measures what lies on the open ground once all is saved and nothing moves any more. */
  function measureSoon(): void {
    measuring?.abort();
    clearTimeout(resting);
    const { opened: ground, id } = get();
    set({ seen: null });
    if (ground === null) return;
    const own = (measuring = new AbortController());
    resting = setTimeout(() => {
      void (async () => {
        await queue.whenSaved();
        if (own.signal.aborted) return;
        const answer = await proofsApi.seen(id, ground, own.signal).catch(() => null);
        if (!own.signal.aborted && answer) set({ seen: answer.seen });
      })();
    }, REST_MS);
  }

  /** Takes over what changed elsewhere: cuts of pieces above all. */
  async function lookAgain(): Promise<void> {
    const fresh = await proofsApi.proof(saved.id).catch(() => null);
    if (!fresh) return;
    const before = get().pieces;
    const changed = Object.values(fresh.pieces)
      .filter(({ id, revision }) => before[id] && before[id].revision !== revision)
      .map(({ id }) => id);
    set({ pieces: { ...before, ...fresh.pieces }, files: fresh.files });
    if (changed.length === 0) return;
    set({ changed: [...new Set([...get().changed, ...changed])] });
    noteSeen();
    measureSoon();
  }

  function noteSeen(): void {
    const seen = Object.fromEntries(Object.values(get().pieces).map(({ id, revision }) => [id, revision]));
    void proofsApi.noteSeen(saved.id, seen).catch(() => undefined);
  }

  const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel(CUTS_CHANNEL);
  if (channel)
    channel.onmessage = ({ data }: MessageEvent<CutSaved>) => {
      const known = get().pieces[data.piece];
      if (known && known.revision !== data.revision) void lookAgain();
    };

  async function attempt(work: () => Promise<void>): Promise<void> {
    set({ trouble: null });
    try {
      await work();
    } catch (error) {
      set({ trouble: messageOf(error) });
    }
  }

  /** The piece of a placement as it is laid; null while its picture is on its way. */
  function pictureOf({
    piece,
    colorway,
    light,
  }: Placement): PlacedPicture | { readonly trouble: string } | null {
    const known = get().pieces[piece];
    if (!known) return { trouble: 'This piece was deleted.' };
    const isThere = colorway === null || known.colorways.some(({ name }) => name === colorway);
    return pictures.of(piece, known.revision, { colorway: isThere ? colorway : null, light });
  }

  /** Height divided by width of a piece; 1 while it is not known. */
  function aspectOf(placement: Placement): number {
    const picture = pictureOf(placement);
    return picture && 'source' in picture ? picture.height / picture.width : 1;
  }

  async function sizeOf(piece: ProofPieceFacts): Promise<number> {
    for (;;) {
      const picture = pictures.of(piece.id, piece.revision, AS_CUT);
      if (picture && 'trouble' in picture) throw new Error(picture.trouble);
      if (picture) return picture.height / picture.width;
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  }

  async function addGround(
    source: GroundSource,
    {
      known = null,
      opens = get().opened !== null,
    }: { known?: KnownGroundFacts | null; opens?: boolean } = {},
  ): Promise<void> {
    await attempt(async () => {
      if (get().proof.grounds.length >= MOST_GROUNDS)
        throw new Error(
          `A proof holds ${MOST_GROUNDS} grounds. Take one away first, or begin another proof.`,
        );
      const facts = known ?? (await proofsApi.ground(source)).facts;
      const { proof, pieces } = get();
      const id = freshId(proof.grounds);
      // What is tried on other grounds is tried on this one.
      const first = proof.grounds.flatMap(({ placed }) => placed)[0];
      const piece = first && pieces[first.piece];
      const placed = piece
        ? [firstPlacement(source, facts.unit, facts, await sizeOf(piece), { id: 'p1', piece: piece.id })]
        : [];
      sources.set(id, JSON.stringify(source));
      set({ grounds: { ...get().grounds, [id]: facts } });
      commit({ ...get().proof, grounds: [...get().proof.grounds, { id, source, placed }] });
      if (opens) actions.open(id);
    });
  }

  const actions = {
    pictureOf,
    aspectOf,
    open(ground: string | null): void {
      const first =
        get()
          .proof.grounds.find(({ id }) => id === ground)
          ?.placed.at(-1)?.id ?? null;
      set({ opened: ground, held: first, handing: { kind: 'idle' }, trouble: null });
      measureSoon();
    },
    hold: (held: string | null) => set({ held }),
    draftPlacement: (ground: string, id: string, change: Partial<Placement>) =>
      draft(withPlacement(ground, id, change)),
    changePlacement: (ground: string, id: string, change: Partial<Placement>) =>
      commit(withPlacement(ground, id, change)),
    anchor(ground: string, placement: Placement, anchor: Anchor, surface: Surface): void {
      commit(
        withPlacement(ground, placement.id, anchoredAt(placement, anchor, aspectOf(placement), surface)),
      );
    },
    /** Lays a piece on a ground, above what lies there. */
    async lay(ground: string, piece: ProofPieceFacts): Promise<void> {
      await attempt(async () => {
        set({ pieces: { ...get().pieces, [piece.id]: piece } });
        const facts = get().grounds[ground];
        const own = get().proof.grounds.find(({ id }) => id === ground);
        if (!own || !facts || 'trouble' in facts) return;
        const aspect = await sizeOf(piece);
        const id = freshId(own.placed);
        const placed = firstPlacement(own.source, facts.unit, facts, aspect, { id, piece: piece.id });
        commit(withGround(ground, (one) => ({ ...one, placed: [...one.placed, placed] })));
        set({ held: id });
        noteSeen();
      });
    },
    take(ground: string, id: string): void {
      commit(
        withGround(ground, (one) => ({ ...one, placed: one.placed.filter((placed) => placed.id !== id) })),
      );
      keepOpen();
    },
    /** Moves a piece up or down among those on its ground. */
    reorder(ground: string, id: string, by: 1 | -1): void {
      commit(
        withGround(ground, (one) => {
          const at = one.placed.findIndex((placed) => placed.id === id);
          const to = at + by;
          if (at < 0 || to < 0 || to >= one.placed.length) return one;
          const placed = [...one.placed];
          [placed[at], placed[to]] = [placed[to]!, placed[at]!];
          return { ...one, placed };
        }),
      );
    },
    addGround: (source: GroundSource) => addGround(source),
    /** Brings a file as a ground, and opens it: a PDF, or a picture, which comes to the Shelf too. */
    bring: (file: File) =>
      attempt(async () => {
        if (isPdf(file)) {
          const { source, facts } = await proofsApi.bringPdf(file);
          await addGround(source, { known: facts, opens: true });
          return;
        }
        const { piece } = await proofsApi.bringPicture(file);
        await addGround({ kind: 'picture', piece: piece.id }, { opens: true });
      }),
    /** Another page of a PDF, or another color. */
    async changeSource(ground: string, source: GroundSource): Promise<void> {
      await attempt(async () => {
        const { facts } = await proofsApi.ground(source);
        sources.set(ground, JSON.stringify(source));
        set({ grounds: { ...get().grounds, [ground]: facts } });
        commit(withGround(ground, (one) => ({ ...one, source })));
      });
    },
    removeGround(ground: string): void {
      const { proof } = get();
      commit({ ...proof, grounds: proof.grounds.filter(({ id }) => id !== ground) });
      keepOpen();
    },
    rename: (name: string) =>
      attempt(async () => {
        const { state } = await proofsApi.rename(saved.id, name);
        set({ name: state.name });
      }),
    undo: () => queue.push('undo'),
    redo: () => queue.push('redo'),
    retrySaving: () => queue.retry(),
    whenSaved: () => queue.whenSaved(),
    async handOver(wanted: HandOverFacts): Promise<ProofFileFacts | null> {
      handingOver = new AbortController();
      set({ handing: { kind: 'busy' } });
      try {
        await queue.whenSaved();
        const { file } = await proofsApi.handOver(saved.id, wanted, handingOver.signal);
        set({ handing: { kind: 'done', file }, files: [file, ...get().files] });
        return file;
      } catch (error) {
        set({ handing: { kind: 'failed', message: messageOf(error) } });
        return null;
      }
    },
    stopHandingOver: () => handingOver?.abort(),
    lookAgain,
    /** The note that pieces changed was read. */
    dismissChanged: () => set({ changed: [] }),
    close(): void {
      channel?.close();
      measuring?.abort();
      clearTimeout(resting);
      pictures.close();
    },
  };
  noteSeen();
  measureSoon();
  return { store, actions };
}

const AS_CUT: Look = { colorway: null, light: false };

function isPdf({ name, type }: File): boolean {
  return type === 'application/pdf' || /\.pdf$/i.test(name);
}

function changedSince(
  seen: Readonly<Record<string, number>>,
  pieces: Readonly<Record<string, ProofPieceFacts>>,
): string[] {
  return Object.values(pieces)
    .filter(({ id, revision }) => seen[id] !== undefined && seen[id] !== revision)
    .map(({ id }) => id);
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
