import { checkKey } from '../core/cut/keys';
import type { EngineEvent } from '../engine/protocol';
import type { StoreParts } from './bench-state';

interface Sheet {
  /** The turn of the newest request. */
  readonly turn: () => number;
  /** Called when the full size is there. */
  readonly settled: () => void;
}

/** Takes what the engine tells into the state. */
export function engineEvents({ get, set }: StoreParts, { turn, settled }: Sheet) {
  return (event: EngineEvent): void => {
    switch (event.kind) {
      case 'painted':
        if (event.turn === turn()) set({ exact: event.exact, opened: true });
        break;
      case 'progress':
        set({ progress: event.progress });
        break;
      case 'prepared':
        set({ progress: null });
        break;
      case 'settled':
        set({ progress: null, alpha: event.alpha });
        settled();
        break;
      case 'curves':
        set({ curves: event.curves });
        break;
      case 'checked': {
        const { key, findings, pockets, idleStrokes, contrast } = event;
        const { cut, checked } = get();
        const now = checkKey(cut);
        // Checks of a cut that was left meanwhile do not take the place of those of the cut at hand.
        if (key !== now && checked?.key === now) break;
        set({ checked: { key, findings, pockets, idleStrokes, contrast }, mended: [] });
        break;
      }
      case 'thumbnail':
        set({ pictures: event.pictures, silhouette: event.silhouette });
        break;
      case 'tried':
        for (const { bitmap } of get().tried) bitmap.close();
        set({ tried: event.pictures });
        break;
      case 'answers':
        set({ answers: { key: event.key, pictures: event.pictures } });
        break;
      case 'failed':
        set({ failure: event.message });
        break;
    }
  };
}
