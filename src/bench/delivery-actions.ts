import { api, ApiError, type DeliveryFacts } from './api';
import type { StoreParts } from './bench-state';
import type { SaveQueue } from './save-queue';

/** Delivering a piece. */
export function deliveryActions(
  { get, set, piece, client }: StoreParts,
  queue: SaveQueue,
  openDeliver: () => void,
) {
  let running: AbortController | null = null;
  /** The revision that the server was asked to make ready last. */
  let readied = -1;

  /** While Deliver is open the server renders what is saved ahead, so that delivering it is a matter of writing a file. */
  async function makeReady(): Promise<void> {
    await queue.whenSaved();
    const { stage, progress } = get();
    if (stage !== 'deliver' || progress || readied === queue.revision) return;
    readied = queue.revision;
    await api.makeReady(piece.id, queue.revision).catch(() => undefined);
  }

  async function deliverColorways(colorways: readonly string[], signal: AbortSignal): Promise<void> {
    const made: DeliveryFacts[] = [];
    for (const colorway of colorways) {
      const step = `Writing "${colorway}", ${made.length + 1} of ${colorways.length}`;
      set({ delivering: { kind: 'busy', step } });
      const request = { revision: queue.revision, shownSha256: null, colorway };
      const { delivery } = await api.deliver(piece.id, request, signal);
      made.push(delivery);
      set({ deliveries: [delivery, ...get().deliveries] });
    }
    set({ delivering: { kind: 'done', made, sameAsShown: null } });
  }

  /** Delivers the cut as it is, or each of the colorways named. */
  async function deliver(colorways: readonly string[] = []): Promise<void> {
    running = new AbortController();
    const { signal } = running;
    const stopped = new Promise<never>((_resolve, reject) =>
      signal.addEventListener(
        'abort',
        () => reject(new ApiError('aborted', 'Cancelled. Nothing was written.')),
        { once: true },
      ),
    );
    try {
      if (get().stage === 'prepare') openDeliver();
      set({ delivering: { kind: 'busy', step: 'Saving the cut' }, resting: false });
      await Promise.race([queue.whenSaved(), stopped]);
      if (colorways.length > 0) await deliverColorways(colorways, signal);
      else {
        set({ delivering: { kind: 'busy', step: 'Making the full size' } });
        const shownSha256 = await Promise.race([client.shownSha256(), stopped]);
        set({ delivering: { kind: 'busy', step: 'Writing the file and reading it back' } });
        const request = { revision: queue.revision, shownSha256, colorway: null };
        const { delivery, sameAsShown } = await api.deliver(piece.id, request, signal);
        set({
          delivering: { kind: 'done', made: [delivery], sameAsShown },
          deliveries: [delivery, ...get().deliveries],
        });
      }
    } catch (error) {
      set({
        delivering: { kind: 'failed', message: error instanceof Error ? error.message : String(error) },
      });
    }
  }

  return { makeReady, deliver, cancelDelivery: () => running?.abort() };
}
