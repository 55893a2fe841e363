import type { Marked, Watermark } from '../core/watermark/settings';
import type { ShapedLine, ShapeWish } from '../core/watermark/shaped';
import { ask, send } from './api';
import type { ProofPieceFacts } from './proofs-api';

/** What the server says of a watermark; see the storage room for the meaning of each field. */
export interface WatermarkEntryFacts {
  readonly id: number;
  readonly createdAt: string;
  readonly changedAt: string;
  readonly watermark: Watermark;
}

export interface WatermarkStateFacts extends WatermarkEntryFacts {
  readonly step: number;
  readonly undo: string | null;
  readonly redo: string | null;
}

export interface FontEntryFacts {
  readonly sha256: string;
  readonly name: string;
  readonly facts: {
    readonly family: string;
    readonly kind: string;
    readonly weights: { readonly min: number; readonly max: number } | null;
  };
}

export interface OpenWatermarkFacts {
  readonly state: WatermarkStateFacts;
  readonly pieces: Readonly<Record<string, ProofPieceFacts>>;
  readonly fonts: readonly FontEntryFacts[];
}

export type ShapedTextFacts = ShapedLine | { readonly trouble: string };

interface StateAnswer {
  readonly state: WatermarkStateFacts;
}

export const watermarksApi = {
  watermarks: () => ask<{ watermarks: WatermarkEntryFacts[] }>('/api/watermarks'),
  open: (id: number) => ask<OpenWatermarkFacts>(`/api/watermarks/${id}`),
  add: (name: string) => send<StateAnswer>('POST', '/api/watermarks', { name }),
  copy: (copyOf: number) => send<StateAnswer>('POST', '/api/watermarks', { copyOf }),
  bring: (watermark: unknown) => send<StateAnswer>('POST', '/api/watermarks', { watermark }),
  forget: (id: number) => ask<unknown>(`/api/watermarks/${id}`, { method: 'DELETE' }),
  addStep: (id: number, after: number, label: string, watermark: Watermark) =>
    send<StateAnswer>('POST', `/api/watermarks/${id}/steps`, { after, label, watermark }),
  move: (id: number, to: 'undo' | 'redo') =>
    send<StateAnswer>('POST', `/api/watermarks/${id}/position`, { to }),
  /** Keeps a routine that marks photos with it; answers its name. */
  keepRoutine: (id: number, marked: Marked) =>
    send<{ routine: string }>('POST', `/api/watermarks/${id}/routine`, { marked }),
  whole: (id: number) => send<{ watermark: Watermark }>('POST', `/api/watermarks/${id}/whole`, {}),
  shapes: (wishes: readonly ShapeWish[]) =>
    send<{ shapes: ShapedTextFacts[] }>('POST', '/api/watermarks/shapes', { wishes }),
  bringFont: (file: File) =>
    ask<{ font: FontEntryFacts }>(`/api/fonts?name=${encodeURIComponent(file.name)}`, {
      method: 'POST',
      body: file,
    }),
};
