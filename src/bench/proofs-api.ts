import type { SignatureLine } from '../core/proof/place';
import type { Look, Measured, Remark } from '../core/proof/seen';
import type { GroundSource, Proof } from '../core/proof/settings';
import { ApiError, ask, send, type DifferenceFacts, type PieceFacts } from './api';

/** What the server says of a proof; see the storage room for the meaning of each field. */
export interface ProofEntryFacts {
  readonly id: number;
  readonly name: string;
  readonly isTemplate: boolean;
  readonly createdAt: string;
  readonly changedAt: string;
  readonly proof: Proof;
}

export interface ProofStateFacts extends ProofEntryFacts {
  readonly step: number;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly seen: Readonly<Record<string, number>>;
}

export interface KnownGroundFacts {
  readonly name: string;
  readonly unit: 'mm' | 'px';
  readonly width: number;
  readonly height: number;
  readonly line: SignatureLine | null;
  readonly pages: number;
  readonly number: number;
  readonly isSigned: boolean;
  readonly isPage: boolean;
}

export interface ProofPieceFacts {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly colorways: readonly { readonly name: string; readonly color: string }[];
}

export interface ProofFileFacts {
  readonly id: number;
  readonly ground: string;
  readonly fileName: string;
  readonly format: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly findings: {
    readonly kind: string;
    readonly decoder: string;
    readonly dpi: number | null;
    readonly color: DifferenceFacts;
    /** How far a PDF's page lies from the proof. */
    readonly page?: { readonly beside: number; readonly mean: number; readonly block: number } | null;
  };
  readonly createdAt: string;
}

export type GroundState = KnownGroundFacts | { readonly trouble: string };

export interface OpenProofFacts {
  readonly state: ProofStateFacts;
  readonly grounds: Readonly<Record<string, GroundState>>;
  readonly pieces: Readonly<Record<string, ProofPieceFacts>>;
  readonly files: readonly ProofFileFacts[];
}

export interface SeenPieceFacts extends Measured {
  readonly placement: string;
  readonly remarks: readonly Remark[];
}

export interface HandOverFacts {
  readonly ground: string;
  readonly format: 'png' | 'jpeg' | 'pdf' | 'piece';
  readonly dpi: number;
  readonly placement?: string;
}

function sendFile<T>(address: string, file: File): Promise<T> {
  return ask<T>(`${address}?name=${encodeURIComponent(file.name)}`, { method: 'POST', body: file });
}

export const proofsApi = {
  proofs: () => ask<{ proofs: ProofEntryFacts[] }>('/api/proofs'),
  proof: (id: number) => ask<OpenProofFacts>(`/api/proofs/${id}`),
  ofPiece: (piece: string) => send<{ state: ProofStateFacts }>('POST', '/api/proofs', { piece }),
  copy: (copyOf: number) => send<{ state: ProofStateFacts }>('POST', '/api/proofs', { copyOf }),
  template: (templateOf: number, name: string) =>
    send<{ state: ProofStateFacts }>('POST', '/api/proofs', { templateOf, name }),
  add: (name: string, proof?: unknown) =>
    send<{ state: ProofStateFacts }>('POST', '/api/proofs', {
      name,
      ...(proof === undefined ? {} : { proof }),
    }),
  rename: (id: number, name: string) =>
    send<{ state: ProofStateFacts }>('PATCH', `/api/proofs/${id}`, { name }),
  noteSeen: (id: number, seen: Readonly<Record<string, number>>) =>
    send<{ state: ProofStateFacts }>('PATCH', `/api/proofs/${id}`, { seen }),
  forget: (id: number) => ask<unknown>(`/api/proofs/${id}`, { method: 'DELETE' }),
  addStep: (id: number, after: number, label: string, proof: Proof) =>
    send<{ state: ProofStateFacts }>('POST', `/api/proofs/${id}/steps`, { after, label, proof }),
  move: (id: number, to: 'undo' | 'redo') =>
    send<{ state: ProofStateFacts }>('POST', `/api/proofs/${id}/position`, { to }),
  letter: (template: number, file: File) =>
    sendFile<{ state: ProofStateFacts }>(`/api/proofs/${template}/letters`, file),
  bringPdf: (file: File) => sendFile<{ source: GroundSource; facts: KnownGroundFacts }>('/api/grounds', file),
  /** Brings a picture to the Shelf. Throws `ApiError` where something of it would have to be chosen. */
  async bringPicture(file: File): Promise<{ readonly piece: PieceFacts }> {
    const { piece } = await sendFile<{ piece?: PieceFacts }>('/api/pieces', file);
    if (piece) return { piece };
    throw new ApiError(
      'several-pictures',
      `"${file.name}" holds several pictures, or none with pixels. Bring it to the Shelf and choose there.`,
    );
  },
  ground: (source: GroundSource) => send<{ facts: KnownGroundFacts }>('PUT', '/api/grounds', { source }),
  seen: (id: number, ground: string, signal: AbortSignal) =>
    send<{ seen: SeenPieceFacts[] }>('POST', `/api/proofs/${id}/seen`, { ground }, signal),
  handOver: (id: number, wanted: HandOverFacts, signal: AbortSignal) =>
    send<{ file: ProofFileFacts }>('POST', `/api/proofs/${id}/files`, wanted, signal),
  fileAddress: (id: number, file: number) => `/api/proofs/${id}/files/${file}`,
  groundAddress: (source: GroundSource, width: number) =>
    `/api/grounds/picture?width=${width}&source=${encodeURIComponent(JSON.stringify(source))}`,
  placedAddress: (piece: string, revision: number, { colorway, light }: Look, size: number) =>
    `/api/pieces/${piece}/placed?revision=${revision}&size=${size}${
      colorway === null ? '' : `&colorway=${encodeURIComponent(colorway)}`
    }${light ? '&light=1' : ''}`,
};

/** The channel on which the bench tells other windows that a cut was saved. */
export const CUTS_CHANNEL = 'kenosis:cuts';

/** What is told there. */
export interface CutSaved {
  readonly piece: string;
  readonly revision: number;
}
