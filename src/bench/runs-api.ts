import type { CarriedStage } from '../core/routine/of-cut';
import type { Routine } from '../core/routine/settings';
import type { Marked } from '../core/watermark/settings';
import { ask, send, type PieceFacts } from './api';

export type ItemState =
  'waiting' | 'working' | 'delivered' | 'laid' | 'held' | 'skipped' | 'failed' | 'cancelled';

/** What the server says of a run; see the storage room for the meaning of each field. */
export interface RunFacts {
  readonly id: number;
  readonly name: string;
  readonly routine: Routine;
  readonly purpose: 'deliver' | 'lay';
  readonly state: 'running' | 'paused' | 'cancelled' | 'done';
  readonly message: string;
  readonly createdAt: string;
  readonly endedAt: string | null;
  readonly counts: Readonly<Partial<Record<ItemState, number>>>;
  readonly meanMs: number | null;
}

export interface RunItemFacts {
  readonly id: number;
  readonly number: number;
  readonly name: string;
  readonly pieceId: string | null;
  readonly state: ItemState;
  /** Somebody looked at it and had it delivered. */
  readonly accepted: boolean;
  readonly message: string;
  readonly sure: boolean | null;
  readonly findings: Readonly<Record<string, number>> | null;
  readonly revision: number | null;
  readonly before: number | null;
  readonly deliveries: readonly number[];
  readonly ms: number | null;
}

/** What a run's stream tells: the run as it is, and the pictures that changed. */
export interface RunEventFacts {
  readonly run: RunFacts;
  readonly changed: readonly RunItemFacts[];
  readonly slots: number;
  /** Why nothing goes on although something waits. */
  readonly trouble: string;
}

export interface SettledFacts {
  readonly name: string;
  readonly state: 'delivered' | 'held' | 'skipped' | 'failed';
  readonly message: string;
  readonly findings: Readonly<Record<string, number>>;
  readonly files: readonly { readonly name: string }[];
  readonly at: string;
}

export interface WatchFacts {
  readonly id: number;
  readonly folder: string;
  readonly out: string;
  readonly routine: Routine;
  readonly isOn: boolean;
  readonly trouble: string | null;
  readonly working: readonly string[];
  readonly settled: readonly SettledFacts[];
  readonly counts: Readonly<Record<SettledFacts['state'], number>>;
}

export interface LayingFacts {
  readonly piece: string;
  readonly stages: readonly CarriedStage[];
}

export interface PreviewFacts {
  readonly id: string;
  readonly name: string;
  /** WebP in base 64. */
  readonly picture: string | null;
  readonly message: string;
}

export interface NewRunFacts {
  readonly routine?: string;
  readonly laying?: LayingFacts;
  readonly marking?: { readonly watermark: number; readonly marked: Marked };
  readonly pieces: readonly string[];
  readonly refused?: readonly { readonly name: string; readonly message: string }[];
  readonly date: string;
}

/** Where a small picture of a delivered file is. */
export const deliveryPicture = (number: number) => `/api/deliveries/${number}/picture`;

export const runsApi = {
  runs: () => ask<{ runs: RunFacts[] }>('/api/runs'),
  begin: (run: NewRunFacts) => send<{ run: RunFacts }>('POST', '/api/runs', run),
  run: (id: number) => ask<{ run: RunFacts }>(`/api/runs/${id}`),
  items: (id: number) => ask<{ items: RunItemFacts[] }>(`/api/runs/${id}/items`),
  change: (id: number, action: 'pause' | 'resume' | 'cancel' | 'retry' | 'undo' | 'shelve') =>
    send<{ run: RunFacts; undone?: { undone: number; changed: string[] } }>('PATCH', `/api/runs/${id}`, {
      action,
    }),
  forget: (id: number) => ask<unknown>(`/api/runs/${id}`, { method: 'DELETE' }),
  answer: (id: number, number: number, action: 'accept' | 'skip') =>
    send<{ item: RunItemFacts }>('POST', `/api/runs/${id}/items/${number}`, { action }),
  eventsAddress: (id: number) => `/api/runs/${id}/events`,
  zipAddress: (id: number) => `/api/runs/${id}/zip`,
  reportAddress: (id: number, as: 'json' | 'csv') => `/api/runs/${id}/report?as=${as}`,
  routines: () => ask<{ routines: Routine[] }>('/api/routines'),
  saveRoutine: (routine: Routine) => send<{ routines: Routine[] }>('PUT', '/api/routines', routine),
  /** With the fonts and cutouts of its mark in it. */
  wholeRoutine: (routine: Routine) => send<{ routine: Routine }>('POST', '/api/routines/whole', routine),
  removeRoutine: (name: string) => send<{ routines: Routine[] }>('DELETE', '/api/routines', { name }),
  preview: (laying: LayingFacts, pieces: readonly string[], signal: AbortSignal) =>
    send<{ previews: PreviewFacts[] }>('POST', '/api/layings', { laying, pieces }, signal),
  watches: () => ask<{ watches: WatchFacts[] }>('/api/watches'),
  addWatch: (watch: { folder: string; out: string; routine: string }) =>
    send<{ watches: WatchFacts[] }>('POST', '/api/watches', watch),
  switchWatch: (id: number, isOn: boolean) =>
    send<{ watches: WatchFacts[] }>('PATCH', `/api/watches/${id}`, { isOn }),
  removeWatch: (id: number) => ask<{ watches: WatchFacts[] }>(`/api/watches/${id}`, { method: 'DELETE' }),
  beforeAddress: (id: string) => `/api/pieces/${id}/thumbnail?revision=0`,
  afterAddress: (id: string, revision: number) => `/api/pieces/${id}/thumbnail?revision=${revision}`,
};

/** Pieces that were selected on the Shelf, for another screen of the same tab. */
export const SELECTED = 'kenosis:selected';

/** The pieces that the Shelf handed over; none where it handed over none. */
export function takeSelected(): string[] {
  const text = sessionStorage.getItem(SELECTED);
  sessionStorage.removeItem(SELECTED);
  try {
    const ids: unknown = JSON.parse(text ?? '[]');
    return Array.isArray(ids) ? ids.filter((id) => typeof id === 'string') : [];
  } catch {
    return [];
  }
}

export function handOver(ids: readonly string[]): void {
  sessionStorage.setItem(SELECTED, JSON.stringify(ids));
}

/** How many pictures of a run are over, and how many there are. */
export function progressOf({ counts }: Pick<RunFacts, 'counts'>): {
  readonly done: number;
  readonly all: number;
} {
  const all = Object.values(counts).reduce((sum, count) => sum + count, 0);
  return { all, done: all - (counts.waiting ?? 0) - (counts.working ?? 0) };
}

/** Whether a picture is to be looked at by somebody: it is held back, or was delivered although it is not sure. */
export function needsLook({
  state,
  sure,
  accepted,
}: Pick<RunItemFacts, 'state' | 'sure' | 'accepted'>): boolean {
  return state === 'held' || (state === 'delivered' && sure === false && !accepted);
}

export type PieceChoice = Pick<PieceFacts, 'id' | 'name'>;
