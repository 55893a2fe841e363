import type { PieceFacts } from './api';

/** What the scanner is asked for; see the server's scanner room. */
export interface ScanWish {
  readonly sheet: string;
  readonly mode: 'color' | 'gray';
  readonly dpi: 150 | 300 | 600;
  readonly lid: 'closed' | 'open';
  readonly format: 'png' | 'tiff';
}

export type ScanState =
  | { readonly kind: 'idle' }
  /** `cancellable` until the scanned file is being brought in: that is not broken off half way. */
  | { readonly kind: 'busy'; readonly words: string; readonly percent: number; readonly cancellable: boolean }
  | { readonly kind: 'done'; readonly piece: PieceFacts }
  | { readonly kind: 'refused'; readonly message: string };

interface Line {
  readonly progress?: { readonly step: 'scanning' | 'importing'; readonly percent: number };
  readonly imported?: { readonly piece: PieceFacts };
  readonly refused?: { readonly message: string };
}

/** Scans and tells how far it is. Never rejects: what went wrong is a state. */
export async function scan(
  wish: ScanWish,
  signal: AbortSignal,
  tell: (state: ScanState) => void,
): Promise<void> {
  try {
    const response = await fetch('/api/scanner', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(wish),
      signal,
    });
    if (!response.ok || !response.body) {
      const answer = (await response.json().catch(() => null)) as { message?: string } | null;
      tell({
        kind: 'refused',
        message: answer?.message ?? `The scanner answered with status ${response.status}.`,
      });
      return;
    }
    let ended = false;
    for await (const line of linesOf(response.body)) {
      const { progress, imported, refused } = JSON.parse(line) as Line;
      if (progress) {
        const scans = progress.step === 'scanning';
        const words = scans ? `Scanning, ${progress.percent} %` : 'Bringing it to the Shelf';
        tell({ kind: 'busy', words, percent: scans ? progress.percent : 100, cancellable: scans });
      }
      if (imported) tell({ kind: 'done', piece: imported.piece });
      if (refused) tell({ kind: 'refused', message: refused.message });
      ended = imported !== undefined || refused !== undefined;
    }
    if (!ended) tell({ kind: 'refused', message: 'The scan broke off. Nothing was imported; scan again.' });
  } catch {
    tell({
      kind: 'refused',
      message: signal.aborted
        ? 'The scan was cancelled. Nothing was imported.'
        : 'Kenosis does not answer. Start it again and scan once more.',
    });
  }
}

async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.getReader();
  const decoder = new TextDecoder();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    rest += decoder.decode(value, { stream: !done });
    const lines = rest.split('\n');
    rest = lines.pop() ?? '';
    yield* lines.filter((line) => line !== '');
    if (done) return;
  }
}
