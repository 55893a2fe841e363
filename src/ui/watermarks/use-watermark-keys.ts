import { useEffect } from 'react';
import { isTyping } from '../is-typing';
import { useWatermarkActions } from './watermark-context';

/** Undo, redo, and Escape back to all photos; never while somebody types. */
export function useWatermarkKeys(): void {
  const actions = useWatermarkActions();
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
