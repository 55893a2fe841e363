import { useEffect, useMemo, useState } from 'react';
import { runsApi, type RunEventFacts, type RunFacts, type RunItemFacts } from '../../bench/runs-api';

/** A run and its pictures, kept up to date by the server as long as the screen is open. */
export function useRun(given: {
  readonly run: RunFacts;
  readonly items: readonly RunItemFacts[];
  readonly slots: number;
  readonly trouble: string;
}) {
  const [run, setRun] = useState(given.run);
  const [slots, setSlots] = useState(given.slots);
  const [trouble, setTrouble] = useState(given.trouble);
  const [byId, setById] = useState(() => new Map(given.items.map((item) => [item.id, item])));
  const { id } = given.run;
  useEffect(() => {
    const events = new EventSource(runsApi.eventsAddress(id));
    let opened = 0;
    events.onopen = () => {
      // What happened while nobody listened is asked for whole.
      if (opened++ > 0)
        void runsApi.items(id).then(
          ({ items }) => setById(new Map(items.map((item) => [item.id, item]))),
          () => undefined,
        );
    };
    events.onmessage = ({ data }: MessageEvent<string>) => {
      const { run: now, changed, slots: many, trouble: why } = JSON.parse(data) as RunEventFacts;
      setRun(now);
      setSlots(many);
      setTrouble(why);
      if (changed.length > 0)
        setById((before) => {
          const after = new Map(before);
          for (const item of changed) after.set(item.id, item);
          return after;
        });
    };
    return () => events.close();
  }, [id]);
  const items = useMemo(() => [...byId.values()].sort((one, other) => one.number - other.number), [byId]);
  return { run, items, slots, trouble };
}
