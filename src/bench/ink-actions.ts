import { READING, type ByInk, type Channel } from '../core/stages/clear/settings';
import { MOST_COLORWAYS, type Colorway, type Ink } from '../core/stages/ink/settings';
import type { ClearBy, StoreParts } from './bench-state';

/** Specks below this area are dropped at first, in square pixels of the original. */
const STARTING_SPECK = 12;

/** Colors that are remembered. */
const RECENT = 6;

/** Everything a person can do in Clear by ink and in Ink. */
export function inkActions({ get, set, commit, draft, client }: StoreParts) {
  function withInk(change: Partial<ByInk>) {
    const { cut } = get();
    const { ink: before } = cut.clear;
    const ink =
      before &&
      inOrder(
        { ...before, ...keptShare(before, change), ...change },
        before.black <= before.white ? 1 : -1,
        change,
      );
    return { ...cut, clear: { ...cut.clear, ink } };
  }

  async function loadInk(): Promise<void> {
    set({ inkFacts: await client.inkFacts(get().cut) });
  }

  function proposed(channel?: Channel): ByInk | null {
    const { inkFacts, cut } = get();
    if (!inkFacts) return null;
    const best = inkFacts.channels.reduce((one, other) => (other.score > one.score ? other : one));
    const facts = inkFacts.channels.find((one) => one.channel === channel) ?? best;
    const { black, mid, white } = facts;
    const speckPx = cut.clear.ink?.speckPx ?? STARTING_SPECK;
    return { on: true, channel: facts.channel, black, mid, white, speckPx };
  }

  return {
    loadInk,
    async setClearBy(clearBy: ClearBy): Promise<void> {
      set({ clearBy });
      if (clearBy === 'ink') await loadInk();
    },
    /** Starts clearing by ink with the best channel and its proposed points. */
    async startInk(): Promise<void> {
      await loadInk();
      const ink = proposed();
      const { cut } = get();
      if (ink) commit({ ...cut, clear: { ...cut.clear, on: true, ink } });
    },
    stopInk(): void {
      const { cut } = get();
      commit({ ...cut, clear: { ...cut.clear, ink: null } });
    },
    /** Reads another channel, with the points that are proposed for it. */
    setChannel(channel: Channel): void {
      const { cut } = get();
      const ink = proposed(channel);
      if (ink) commit({ ...cut, clear: { ...cut.clear, ink } });
    },
    draftByInk(change: Partial<ByInk>, moving = true): void {
      set({ clipping: moving });
      draft(withInk(change));
    },
    changeByInk(change: Partial<ByInk>): void {
      set({ clipping: false });
      const cut = withInk(change);
      commit(cut);
      // Where nothing changed after all, what was hatched is shown as it is again.
      draft(cut);
    },
    /** Gives all that stays one color, and remembers it. */
    inkIn(color: string, change: Partial<Ink> = {}): void {
      const { cut, recentInks } = get();
      set({ recentInks: [color, ...recentInks.filter((one) => one !== color)].slice(0, RECENT) });
      commit({ ...cut, ink: { ...cut.ink, ...change, on: true, color } });
    },
    hasManyColors: () => client.hasManyColors(),
    addColorway(colorway: Colorway): void {
      const { cut } = get();
      if (cut.ink.colorways.length >= MOST_COLORWAYS) return;
      commit({ ...cut, ink: { ...cut.ink, colorways: [...cut.ink.colorways, colorway] } });
    },
    deleteColorway(index: number): void {
      const { cut } = get();
      commit({ ...cut, ink: { ...cut.ink, colorways: cut.ink.colorways.filter((_, k) => k !== index) } });
    },
  };
}

/** The mid point where another moves: it keeps its share of the way between them. */
function keptShare(before: ByInk, change: Partial<ByInk>): Partial<ByInk> {
  if ('mid' in change || !('black' in change || 'white' in change)) return {};
  const { black, white } = { ...before, ...change };
  const share = (before.mid - before.black) / (before.white - before.black);
  return { mid: Math.round((black + share * (white - black)) * 100) / 100 };
}

/** Smallest distance between two points. */
const APART = 0.5;

/** Points in their order: the one that was moved pushes the others before it; the mid point keeps its share between. */
function inOrder(ink: ByInk, way: 1 | -1, change: Partial<ByInk>): ByInk {
  const { min, max } = READING;
  const inside = (value: number) => Math.min(max, Math.max(min, value));
  let { black, mid, white } = ink;
  const span = (from: number, to: number) => (to - from) * way;
  if ('black' in change && span(black, white) < 2 * APART) white = inside(black + way * 2 * APART);
  else if ('white' in change && span(black, white) < 2 * APART) black = inside(white - way * 2 * APART);
  if (span(black, white) < 2 * APART) {
    black = way > 0 ? max - 1 : min + 1;
    white = way > 0 ? max : min;
  }
  if (span(black, mid) < APART) mid = black + way * APART;
  if (span(mid, white) < APART) mid = white - way * APART;
  return { ...ink, black, mid, white };
}
