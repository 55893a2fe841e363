import { useEffect } from 'react';
import { bindingFor, KEYS } from '../../bench/keys';
import { isTyping } from '../is-typing';
import { useBenchStore } from './bench-context';

/** Listens for the bench's keys. They never fire while somebody types; undo then belongs to the field. */
export function useBenchKeys(onKeyList: () => void): void {
  const bench = useBenchStore();
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (isTyping(event.target)) return;
      if (event.key === '?') {
        onKeyList();
        return;
      }
      const binding = bindingFor(event);
      if (!binding) return;
      event.preventDefault();
      if (event.repeat && binding.release) return;
      (event.shiftKey ? (binding.runShifted ?? binding.run) : binding.run)(bench);
    };
    const up = (event: KeyboardEvent) => {
      KEYS.find(({ key, release }) => release && key === event.key.toLowerCase())?.release?.(bench);
    };
    const blur = () => bench.actions.setLook('result');
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', blur);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', blur);
    };
  }, [bench, onKeyList]);
}
