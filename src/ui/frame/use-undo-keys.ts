import { useEffect } from 'react';
import { isTyping } from '../is-typing';

/** Undo, redo, and Escape back to all that lies on the screen; never while somebody types. `actions` must stay the same. */
export function useUndoKeys(actions: {
  readonly undo: () => void;
  readonly redo: () => void;
  readonly open: (one: null) => void;
}): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (isTyping(event.target) || event.altKey) return;
      const key = event.key.toLowerCase();
      if (key === 'z' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        if (event.shiftKey) actions.redo();
        else actions.undo();
      } else if (key === 'escape' && !event.defaultPrevented) actions.open(null);
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, [actions]);
}
