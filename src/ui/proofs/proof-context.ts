import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { ProofScreenState, ProofStore } from '../../bench/proof-store';

export const ProofContext = createContext<ProofStore | null>(null);

function useProofStore(): ProofStore {
  const proof = useContext(ProofContext);
  if (!proof) throw new Error('No proof is open.');
  return proof;
}

/** A part of the proof's state; the component renders again when it changes. */
export function useProof<T>(select: (state: ProofScreenState) => T): T {
  return useStore(useProofStore().store, select);
}

/** What a person can do with the proof. */
export function useProofActions(): ProofStore['actions'] {
  return useProofStore().actions;
}

/** The pictures of pieces; the component renders again when one came, or is of another revision. */
export function usePictures(): ProofStore['actions']['pictureOf'] {
  useProof(({ pictures }) => pictures);
  useProof(({ pieces }) => pieces);
  return useProofActions().pictureOf;
}
