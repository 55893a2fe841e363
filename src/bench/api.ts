import type { Cut } from '../core/cut/schema';
import type { OutputSet } from '../core/stages/deliver/sets';

/** What the server says of a piece; see the storage room for the meaning of each field. */
export interface PieceFacts {
  readonly id: string;
  readonly name: string;
  readonly format: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  readonly backing: string;
  readonly reason: string;
  readonly notes: readonly string[];
  readonly revision: number;
  readonly createdAt: string;
  /** How many findings of each kind are open; null where the cut in force was not checked yet. */
  readonly findings: Readonly<Record<string, number>> | null;
}

export interface ShelfPieceFacts extends PieceFacts {
  readonly state: 'untouched' | 'cut' | 'delivered';
  readonly deliveries: number;
}

/** Files that no piece names any more, as they lie aside. */
export interface QuarantineFacts {
  readonly folder: string;
  readonly files: number;
  readonly bytes: number;
  /** How many days they stay at least. */
  readonly days: number;
}

export interface CutStateFacts {
  readonly revision: number;
  readonly cut: Cut;
  readonly undo: string | null;
  readonly redo: string | null;
}

export interface DeliveryFacts {
  readonly id: number;
  readonly revision: number;
  readonly fileName: string;
  readonly format: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  readonly transparent: number;
  readonly partly: number;
  readonly opaque: number;
  /** What was found when the file was read back; null for deliveries of before that was written down. */
  readonly findings: FileFindings | null;
  readonly createdAt: string;
}

export interface DifferenceFacts {
  readonly largest: number;
  readonly mean: number;
}

export interface FileFindings {
  readonly kind: string;
  readonly decoder: string;
  readonly independent: boolean;
  /** An earlier Kenosis delivered the same step with other pixels. */
  readonly redrawn?: true;
  readonly color: DifferenceFacts;
  readonly alpha: DifferenceFacts;
  readonly scale: number;
}

/** What is proposed anew beside a cut: null where nothing is, or where it gives the same cutout. */
export interface AnewFacts {
  readonly cut: Cut | null;
  readonly isSame: boolean;
  readonly reason: string;
  /** A small picture of it, as WebP in base 64. */
  readonly picture: string | null;
}

/** A file that was made to be looked at. */
export interface TrialFacts extends FileFindings {
  readonly blob: Blob;
  readonly width: number;
  readonly height: number;
}

/** A scanner and what can be laid on it. */
export interface ScannerFacts {
  readonly name: string;
  readonly sheets: readonly {
    readonly id: string;
    readonly name: string;
    readonly widthMm: number;
    readonly heightMm: number;
  }[];
}

/** A refused or failed request, with words for the person. `code` is `offline` where no answer came. */
export class ApiError extends Error {
  readonly code: string;

  constructor(code: string, message: string) {
    super(message);
    this.code = code;
  }
}

/** The server's answer as JSON. Throws `ApiError`. */
export async function ask<T>(address: string, init: RequestInit = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(address, init);
  } catch (cause) {
    if (init.signal?.aborted) throw new ApiError('aborted', 'Cancelled.');
    throw Object.assign(
      new ApiError(
        'offline',
        'Kenosis does not answer. Your last saved step is safe; start Kenosis again and retry.',
      ),
      { cause },
    );
  }
  const answer = (await response.json().catch(() => null)) as
    (T & { code?: string; message?: string }) | null;
  if (response.ok && answer) return answer;
  throw new ApiError(
    answer?.code ?? 'unexpected',
    answer?.message ?? `The server answered with status ${response.status}.`,
  );
}

export function send<T>(method: string, address: string, body: unknown, signal?: AbortSignal): Promise<T> {
  return ask<T>(address, {
    method,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    ...(signal ? { signal } : {}),
  });
}

export const api = {
  pieces: () => ask<{ pieces: ShelfPieceFacts[] }>('/api/pieces'),
  piece: (id: string) => ask<{ piece: PieceFacts; state: CutStateFacts }>(`/api/pieces/${id}`),
  findings: () =>
    ask<{ pieces: Pick<PieceFacts, 'id' | 'revision' | 'findings'>[]; checking: boolean }>('/api/findings'),
  rename: (id: string, name: string) => send<{ name: string }>('PATCH', `/api/pieces/${id}`, { name }),
  setTrashed: (ids: readonly string[], trashed: boolean) =>
    send<unknown>('PUT', '/api/trash', { ids, trashed }),
  emptyTrash: () => ask<{ deleted: number }>('/api/trash', { method: 'DELETE' }),
  setBacking: (id: string, backing: string) => send<unknown>('PATCH', `/api/pieces/${id}`, { backing }),
  reportFindings: (id: string, revision: number, counts: Readonly<Record<string, number>>) =>
    send<unknown>('PUT', `/api/pieces/${id}/findings`, { revision, counts }),
  addRevision: (id: string, after: number, label: string, cut: Cut) =>
    send<CutStateFacts>('POST', `/api/pieces/${id}/revisions`, { after, label, cut }),
  addParts: (id: string, cuts: readonly Cut[]) =>
    send<{ pieces: { id: string; name: string }[] }>('POST', `/api/pieces/${id}/parts`, { cuts }),
  move: (id: string, move: 'undo' | 'redo') =>
    send<CutStateFacts>('POST', `/api/pieces/${id}/position`, { move }),
  deliveries: (id: string) => ask<{ deliveries: DeliveryFacts[] }>(`/api/pieces/${id}/deliveries`),
  makeReady: (id: string, revision: number) => send<unknown>('POST', `/api/pieces/${id}/ready`, { revision }),
  deliver: (
    id: string,
    request: {
      revision: number;
      shownSha256: string | null;
      colorway: string | null;
      output: number;
      date: string;
    },
    signal: AbortSignal,
  ) =>
    send<{ delivery: DeliveryFacts; sameAsShown: boolean | null }>(
      'POST',
      `/api/pieces/${id}/deliveries`,
      request,
      signal,
    ),
  /** What would be proposed for a piece if it came today; nothing of it is kept. */
  proposeAnew: (id: string, revision: number, signal: AbortSignal) =>
    send<AnewFacts>('POST', `/api/pieces/${id}/proposal`, { revision }, signal),
  /** Makes a file to be looked at, which is not kept. */
  tryOutput: async (
    id: string,
    revision: number,
    output: number,
    signal: AbortSignal,
  ): Promise<TrialFacts> => {
    const response = await fetch(`/api/pieces/${id}/trial`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ revision, output }),
      signal,
    });
    if (!response.ok) {
      const { code, message } = (await response.json()) as { code: string; message: string };
      throw new ApiError(code, message);
    }
    const told = JSON.parse(response.headers.get('x-trial')!) as Omit<TrialFacts, 'blob'>;
    return { ...told, blob: await response.blob() };
  },
  sets: () => ask<{ sets: OutputSet[] }>('/api/sets'),
  saveSet: (set: OutputSet) => send<{ sets: OutputSet[] }>('PUT', '/api/sets', set),
  removeSet: (name: string) => send<{ sets: OutputSet[] }>('DELETE', '/api/sets', { name }),
  scanner: () => ask<ScannerFacts>('/api/scanner'),
  /** Where what was decided of a piece is kept. */
  decisionsAddress: (id: string) => `/api/pieces/${id}/decisions`,
  /** Where the full-size cutout of a revision is kept, packed. */
  cutoutAddress: (id: string, revision: number) => `/api/pieces/${id}/cutout?revision=${revision}`,
  masterAddress: (id: string) => `/api/pieces/${id}/master`,
  originalAddress: (id: string) => `/api/pieces/${id}/original`,
  deliveryAddress: (id: number) => `/api/deliveries/${id}`,
  /** Pieces as one ZIP, with all that was done to them. */
  bundleAddress: (ids: readonly string[], name: string) =>
    `/api/bundles?pieces=${ids.join(',')}&name=${encodeURIComponent(name)}`,
  /** Delivered files in one ZIP. */
  zipAddress: (ids: readonly number[], name: string) =>
    `/api/deliveries/zip?numbers=${ids.join(',')}&name=${encodeURIComponent(name)}`,
  /** The untouched piece in small. */
  untouchedAddress: (id: string) => `/api/pieces/${id}/thumbnail?revision=0`,
  /** The piece in small, as it is now. */
  thumbnailAddress: ({ id, revision, createdAt }: Pick<PieceFacts, 'id' | 'revision' | 'createdAt'>) =>
    `/api/pieces/${id}/thumbnail?revision=${revision}&since=${encodeURIComponent(createdAt)}`,
};
