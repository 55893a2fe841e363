import { freeSampleId, newSample } from '../core/cut/new-sample';
import type { Cut } from '../core/cut/schema';
import type { PocketPlace } from '../core/findings/pockets';
import type { Point } from '../core/numeric/matrix3';
import { MOST_SAMPLES, type Reach, type Sample } from '../core/stages/clear/settings';
import type { ClickMode, StoreParts } from './bench-state';

interface Areas {
  readonly areaAt: (at: Point) => PocketPlace | null;
  readonly turnArea: (area: PocketPlace) => void;
}

/** Everything a person can do with samples. */
export function sampleActions({ get, set, commit, draft, client }: StoreParts, areas: Areas) {
  function withSample(id: string, change: Partial<Sample>): Cut {
    const { cut } = get();
    const own = byHand(change);
    const samples = cut.clear.samples.map((sample) => (sample.id === id ? { ...sample, ...own } : sample));
    return { ...cut, clear: { ...cut.clear, samples } };
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

  /** Sets the chosen sample to a place or a stretch, or adds one. */
  async function sampleAt(from: Point, to: Point | null, adding: boolean): Promise<void> {
    const { clickMode, selected, cut } = get();
    // Where the picture as a whole decides, a click into an area that was kept settles that area.
    const kept = cut.clear.samples.some(({ rule }) => rule === 'whole') && !to ? areas.areaAt(from) : null;
    if (kept && !kept.goes) {
      areas.turnArea(kept);
      return;
    }
    if (adding || clickMode === 'add' || selected === null) await addSample(from, to);
    else await moveSample(selected, from, to);
  }

  return {
    sampleAt,
    setClickMode: (clickMode: ClickMode) => set({ clickMode }),
    select: (selected: string | null) => set({ selected }),
    /** Shows a change of a sample without saving it: while a slider or a marker moves. */
    draftSample: (id: string, change: Partial<Sample>) => draft(withSample(id, change)),
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
  };
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
