import type { EngineEvent } from '../engine/protocol';
import type { StoreParts } from './bench-state';

interface Sheet {
  readonly show: () => void;
  /** The turn of the newest request. */
  readonly turn: () => number;
  /** Called when the full size is there. */
  readonly settled: () => void;
}

/** Takes what the engine tells into the state. */
export function engineEvents({ set }: StoreParts, { show, turn, settled }: Sheet) {
  return (event: EngineEvent): void => {
    switch (event.kind) {
      case 'opened':
        set({ opened: true });
        show();
        break;
      case 'painted':
        if (event.turn === turn()) set({ exact: event.exact });
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
  };
}
