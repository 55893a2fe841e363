import { useEffect, useMemo, useState } from 'react';
import {
  progressOf,
  runsApi,
  type RunEventFacts,
  type RunFacts,
  type RunItemFacts,
} from '../../bench/runs-api';

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
  const [pace, setPace] = useState<Pace | null>(null);
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
      setPace((before) => paceOf(before, now, performance.now()));
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
  return { run, items, slots, trouble, eachMs: pace?.eachMs ?? null };
}

/** How fast a run goes on, as it was seen from here. */
interface Pace {
  readonly from: number;
  readonly doneThen: number;
  readonly eachMs: number | null;
}

/** Pictures that must have been seen to be done before a pace is told of them. */
const FEWEST = 3;

/** What has been seen since the run goes on; nothing while it stands still. */
function paceOf(before: Pace | null, run: RunFacts, now: number): Pace | null {
  if (run.state !== 'running') return null;
  const { done } = progressOf(run);
  if (!before) return { from: now, doneThen: done, eachMs: null };
  const seen = done - before.doneThen;
  return seen < FEWEST ? before : { ...before, eachMs: (now - before.from) / seen };
}
