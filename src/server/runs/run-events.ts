import { getRun, type RunItem } from '../../storage/runs';
import type { House } from '../rooms';

/** Events come no closer than this, so that a run of small pictures does not keep a page busy. */
const APART_MS = 400;

/** A line that says nothing keeps the connection open. */
const ALIVE_MS = 20_000;

/**
 * What happens in a run as server-sent events (WHATWG HTML, 9.2): at first, and after changes, the run as it is and the pictures
 * that changed since the last event.
 */
export function runEvents(house: House, runId: number, signal: AbortSignal): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let off = () => undefined as void;
  return new ReadableStream<Uint8Array>({
    start(controller) {
      const changed = new Map<number, RunItem>();
      let timer: ReturnType<typeof setTimeout> | null = null;
      let isOver = false;
      const write = (text: string) => {
        if (!isOver) controller.enqueue(encoder.encode(text));
      };
      const send = async () => {
        const run = await getRun(house.database, runId).catch(() => null);
        if (!run) return end();
        const items = [...changed.values()];
        changed.clear();
        write(
          `data: ${JSON.stringify({ run, changed: items, slots: house.runs.facts().slots, trouble: house.runs.facts().trouble })}\n\n`,
        );
        timer = null;
        if (changed.size > 0) soon();
      };
      const soon = () => void (timer ??= setTimeout(() => void send(), APART_MS));
      const stop = house.runs.listen((change) => {
        if (change.runId !== runId) return;
        if (change.item) changed.set(change.item.id, change.item);
        soon();
      });
      const alive = setInterval(() => write(': \n\n'), ALIVE_MS);
      const end = () => {
        if (isOver) return;
        isOver = true;
        stop();
        clearInterval(alive);
        if (timer) clearTimeout(timer);
        controller.close();
      };
      off = end;
      signal.addEventListener('abort', end, { once: true });
      void send();
    },
    cancel() {
      off();
    },
  });
}
