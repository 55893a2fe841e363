import { api } from './api';
import type { StoreParts } from './bench-state';
import type { SaveQueue } from './save-queue';

/**
 * Tells the Shelf how many findings are open, as soon as the cut they are of is saved, and leaves its cutout with the server.
 */
export function findingsReport({ get, piece, client }: StoreParts, queue: SaveQueue) {
  /** What it was told last. */
  let reported = '';
  return async (): Promise<void> => {
    if (get().stale) return;
    await queue.whenSaved();
    const { stale, open, cut } = get();
    if (stale) return;
    const counts = Object.fromEntries(open.map(({ kind, count }) => [kind, count]));
    const told = JSON.stringify([queue.revision, counts]);
    if (told === reported) return;
    reported = told;
    const { revision } = queue;
    await api.reportFindings(piece.id, revision, counts).catch(() => undefined);
    await client.keepCutout(api.cutoutAddress(piece.id, revision), cut).catch(() => undefined);
  };
}
