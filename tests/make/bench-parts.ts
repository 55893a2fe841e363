import type { PieceFacts } from '../../src/bench/api';
import type { BenchState, StoreParts } from '../../src/bench/bench-state';
import { framing } from '../../src/bench/framing';
import type { Cut } from '../../src/core/cut/schema';
import type { BenchClient } from '../../src/engine/browser/bench-client';

/** The parts of a bench's store around a cut, without a page: what was committed and drafted is kept. */
export function benchParts(start: Cut, client: Partial<BenchClient> = {}, state: Partial<BenchState> = {}) {
  const piece = { id: 'p', name: 'sheet.png', width: 400, height: 300 } as PieceFacts;
  let now = {
    cut: start,
    stage: 'prepare',
    prepareMode: 'move',
    prepareNote: null,
    recentInks: [],
    inkFacts: null,
    ...framing(start, 'prepare', 'move', piece),
    ...state,
  } as unknown as BenchState;
  const committed: Cut[] = [];
  const drafted: Cut[] = [];
  const set = (change: Partial<BenchState>) => (now = { ...now, ...change });
  const parts: StoreParts = {
    get: () => now,
    set,
    commit: (cut) => {
      committed.push(cut);
      set({ cut });
    },
    draft: (cut) => {
      drafted.push(cut);
      set({ cut });
    },
    reframe: () => set(framing(now.cut, now.stage, now.prepareMode, piece)),
    piece,
    client: client as BenchClient,
  };
  return { parts, committed, drafted, state: () => now };
}
