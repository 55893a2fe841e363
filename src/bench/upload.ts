import type { WayOut } from '../core/errors';
import type { PieceFacts } from './api';

/** How one file's way to the Shelf stands. */
export type UploadState =
  | { readonly kind: 'waiting' }
  | { readonly kind: 'sending'; readonly percent: number }
  | { readonly kind: 'reading' }
  | {
      readonly kind: 'done';
      readonly piece: PieceFacts;
      readonly known: boolean;
      /** The piece's kept original was lost or changed, and is whole again. */
      readonly healed: boolean;
    }
  | { readonly kind: 'refused'; readonly message: string; readonly wayOut: WayOut | null };

type Answer = Partial<Omit<Extract<UploadState, { kind: 'done' }>, 'kind'>> &
  Partial<Omit<Extract<UploadState, { kind: 'refused' }>, 'kind'>>;

/**
 * Sends one file and reports how far it is. Never rejects: what went wrong is a state. Of a damaged picture what can be read
 * is taken where `damaged` is `accept`.
 */
export function upload(
  file: File,
  damaged: 'refuse' | 'accept',
  signal: AbortSignal,
  tell: (state: UploadState) => void,
): Promise<void> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    const end = (state: UploadState) => {
      tell(state);
      resolve();
    };
    const refuse = (message: string, wayOut: WayOut | null = null) =>
      end({ kind: 'refused', message, wayOut });
    request.open('POST', `/api/pieces?name=${encodeURIComponent(file.name)}&damaged=${damaged}`);
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) =>
      tell({ kind: 'sending', percent: Math.round((100 * loaded) / Math.max(1, total)) });
    request.upload.onload = () => tell({ kind: 'reading' });
    request.onload = () => {
      const answer = request.response as Answer | null;
      if (answer?.piece)
        end({
          kind: 'done',
          piece: answer.piece,
          known: answer.known ?? false,
          healed: answer.healed ?? false,
        });
      else
        refuse(
          answer?.message ?? `"${file.name}" was refused (status ${request.status}).`,
          answer?.wayOut ?? null,
        );
    };
    request.onerror = () =>
      refuse(`"${file.name}" did not arrive: Kenosis does not answer. Start it again and retry.`);
    request.onabort = () => refuse(`"${file.name}" was cancelled. Nothing was imported from it.`);
    signal.addEventListener('abort', () => request.abort(), { once: true });
    if (signal.aborted) request.onabort(new ProgressEvent('abort'));
    else request.send(file);
  });
}
