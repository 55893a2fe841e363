import type { PieceFacts } from './api';

/** How one file's way to the Shelf stands. */
export type UploadState =
  | { readonly kind: 'waiting' }
  | { readonly kind: 'sending'; readonly percent: number }
  | { readonly kind: 'reading' }
  | { readonly kind: 'done'; readonly piece: PieceFacts; readonly known: boolean }
  | { readonly kind: 'refused'; readonly message: string };

/** Sends one file and reports how far it is. Never rejects: what went wrong is a state. */
export function upload(file: File, signal: AbortSignal, tell: (state: UploadState) => void): Promise<void> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    const end = (state: UploadState) => {
      tell(state);
      resolve();
    };
    request.open('POST', `/api/pieces?name=${encodeURIComponent(file.name)}`);
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) =>
      tell({ kind: 'sending', percent: Math.round((100 * loaded) / Math.max(1, total)) });
    request.upload.onload = () => tell({ kind: 'reading' });
    request.onload = () => {
      const answer = request.response as { piece?: PieceFacts; known?: boolean; message?: string } | null;
      if (answer?.piece) end({ kind: 'done', piece: answer.piece, known: answer.known ?? false });
      else
        end({
          kind: 'refused',
          message: answer?.message ?? `"${file.name}" was refused (status ${request.status}).`,
        });
    };
    request.onerror = () =>
      end({
        kind: 'refused',
        message: `"${file.name}" did not arrive: Kenosis does not answer. Start it again and retry.`,
      });
    request.onabort = () =>
      end({ kind: 'refused', message: `"${file.name}" was cancelled. Nothing was imported from it.` });
    signal.addEventListener('abort', () => request.abort(), { once: true });
    if (signal.aborted) request.onabort(new ProgressEvent('abort'));
    else request.send(file);
  });
}
