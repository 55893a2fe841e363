import { useCallback, useEffect, useMemo, useRef, useState } from 'react';

export type Selection = ReturnType<typeof useSelection>;

/** Which of the shown pieces are selected. With `range` everything from the last one toggled to this one follows it. */
export function useSelection(shown: readonly { readonly id: string }[]) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const last = useRef<string>(null);
  const order = useRef(shown);
  useEffect(() => {
    order.current = shown;
  });
  const ids = useMemo(
    () => new Set(shown.filter(({ id }) => chosen.has(id)).map(({ id }) => id)),
    [shown, chosen],
  );
  const toggle = useCallback((id: string, range: boolean) => {
    const all = order.current.map((piece) => piece.id);
    const from = range && last.current !== null ? all.indexOf(last.current) : -1;
    const to = all.indexOf(id);
    last.current = id;
    setChosen((before) => {
      const on = !before.has(id);
      const touched = from < 0 ? [id] : all.slice(Math.min(from, to), Math.max(from, to) + 1);
      const after = new Set(before);
      for (const one of touched) {
        if (on) after.add(one);
        else after.delete(one);
      }
      return after;
    });
  }, []);
  return {
    ids,
    toggle,
    all: () => setChosen(new Set(shown.map(({ id }) => id))),
    clear: () => setChosen(new Set()),
  };
}
