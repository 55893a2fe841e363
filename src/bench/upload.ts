import type { WayOut } from '../core/errors';
import type { PieceFacts } from './api';

/** How one file's way to the Shelf stands. */
export type UploadState =
  | { readonly kind: 'waiting' }
  | { readonly kind: 'sending'; readonly percent: number }
  | { readonly kind: 'reading' }
  /** Something of it has to be chosen before it can come in. */
  | { readonly kind: 'choosing'; readonly choice: PageChoiceFacts }
  | {
      readonly kind: 'done';
      /** The pieces that its pages became; one for most files. */
      readonly arrived: readonly ArrivedFacts[];
    }
  | { readonly kind: 'refused'; readonly message: string; readonly wayOut: WayOut | null };

export interface ArrivedFacts {
  readonly piece: PieceFacts;
  /** Its bytes were there already. */
  readonly known: boolean;
  /** The piece's kept original was lost or changed, and is whole again. */
  readonly healed: boolean;
}

/** What has to be chosen of a file; see the server's rooms for the meaning of each field. */
export interface PageChoiceFacts {
  readonly pages: number;
  readonly shown: readonly {
    readonly number: number;
    readonly width: number;
    readonly height: number;
    readonly picture: string | null;
  }[];
  readonly drawn: {
    readonly widthIn: number;
    readonly aspect: number;
    readonly scanWidthPx: number | null;
    readonly proposedWidthPx: number;
  } | null;
}

/** What is wanted of a file. */
export interface UploadWishes {
  /** What can be read of a damaged picture is taken. */
  readonly damaged: 'refuse' | 'accept';
  /** Which pages; null where nobody has chosen. */
  readonly pages: readonly number[] | null;
  /** How fine pages without pixels are read; null: as proposed. */
  readonly dpi: number | null;
  /** The file is a bundle of pieces. */
  readonly bundle: boolean;
  /** It is to be marked: no cut is proposed for it. */
  readonly asPhoto: boolean;
}

export const NO_WISHES: UploadWishes = {
  damaged: 'refuse',
  pages: null,
  dpi: null,
  bundle: false,
  asPhoto: false,
};

interface Answer extends Partial<Omit<Extract<UploadState, { kind: 'refused' }>, 'kind'>> {
  readonly arrived?: readonly ArrivedFacts[];
  readonly choice?: PageChoiceFacts;
}

function addressOf(name: string, { damaged, pages, dpi, bundle, asPhoto }: UploadWishes): string {
  if (bundle) return `/api/bundles?name=${encodeURIComponent(name)}`;
  const query = new URLSearchParams({ name, damaged });
  if (pages) query.set('pages', pages.join(','));
  if (dpi !== null) query.set('dpi', String(dpi));
  if (asPhoto) query.set('cut', 'none');
  return `/api/pieces?${query.toString()}`;
}

/** Sends one file and reports how far it is. Never rejects: what went wrong is a state. */
export function upload(
  file: File,
  wishes: UploadWishes,
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
    request.open('POST', addressOf(file.name, wishes));
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) =>
      tell({ kind: 'sending', percent: Math.round((100 * loaded) / Math.max(1, total)) });
    request.upload.onload = () => tell({ kind: 'reading' });
    request.onload = () => {
      const answer = request.response as Answer | null;
      if (answer?.choice) end({ kind: 'choosing', choice: answer.choice });
      else if (answer?.arrived) end({ kind: 'done', arrived: answer.arrived });
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
