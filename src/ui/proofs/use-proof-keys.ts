import { useEffect } from 'react';
import { isTyping } from '../is-typing';
import { useProofActions } from './proof-context';

/** Undo, redo, and Escape back to all grounds; never while somebody types. */
export function useProofKeys(): void {
  const actions = useProofActions();
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
