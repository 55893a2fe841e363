import { api, ApiError, type DeliveryFacts } from './api';
import type { StoreParts } from './bench-state';
import { plannedFiles } from '../core/stages/deliver/planned-files';
import { dayOf } from '../core/day-of';
import type { SaveQueue } from './save-queue';

const CANCELLED = 'Cancelled. Nothing was written.';

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

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

  /** Delivers every output of the cut: of the cut as it is, or of each of the colorways named. One file that fails leaves the others. */
  async function deliver(colorways: readonly string[] = []): Promise<void> {
    running = new AbortController();
    const { signal } = running;
    const stopped = new Promise<never>((_resolve, reject) =>
      signal.addEventListener('abort', () => reject(new ApiError('aborted', CANCELLED)), { once: true }),
    );
    // Nobody waits for it while a file is written.
    stopped.catch(() => undefined);
    const made: DeliveryFacts[] = [];
    try {
      if (get().stage === 'prepare') openDeliver();
      set({ delivering: { kind: 'busy', step: 'Saving the cut' }, resting: false });
      await Promise.race([queue.whenSaved(), stopped]);
      const { cut } = get();
      const date = dayOf(new Date());
      const files = plannedFiles(cut, piece.name, date).filter(({ colorway }) =>
        colorway === null ? colorways.length === 0 : colorways.includes(colorway),
      );
      let shownSha256: string | null = null;
      if (colorways.length === 0) {
        set({ delivering: { kind: 'busy', step: 'Making the full size' } });
        shownSha256 = await Promise.race([client.shownSha256(), stopped]);
      }
      const failures: string[] = [];
      for (const [k, { colorway, name, outputAt: output }] of files.entries()) {
        const many =
          files.length > 1 ? `${name}, ${k + 1} of ${files.length}` : 'the file and reading it back';
        set({ delivering: { kind: 'busy', step: `Writing ${many}` } });
        const request = { revision: queue.revision, shownSha256, colorway, output, date };
        try {
          const { delivery } = await api.deliver(piece.id, request, signal);
          made.push(delivery);
          set({ deliveries: [delivery, ...get().deliveries] });
        } catch (error) {
          if (signal.aborted || files.length === 1) throw error;
          failures.push(`${name}: ${messageOf(error)}`);
        }
      }
      if (failures.length === 0)
        set({ delivering: { kind: 'done', made, sameAsShown: shownSha256 !== null } });
      else set({ delivering: { kind: 'failed', message: failures.join(' '), made } });
    } catch (error) {
      const before = made.length > 0 ? ` ${made.length} written before that stay.` : '';
      const message =
        signal.aborted && made.length > 0 ? `Cancelled.${before}` : `${messageOf(error)}${before}`;
      set({ delivering: { kind: 'failed', message, made } });
    }
  }

  /** Makes one of the cut's files to be looked at; it is not kept. */
  async function tryOutput(output: number, signal: AbortSignal) {
    await queue.whenSaved();
    return api.tryOutput(piece.id, queue.revision, output, signal);
  }

  return { makeReady, deliver, tryOutput, cancelDelivery: () => running?.abort() };
}
