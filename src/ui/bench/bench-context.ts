import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { BenchState } from '../../bench/bench-state';
import type { BenchStore } from '../../bench/bench-store';

export const BenchContext = createContext<BenchStore | null>(null);

function useBenchStore(): BenchStore {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error('The bench is not open.');
  return bench;
}

/** A part of the bench's state; the component renders again when it changes. */
export function useBench<T>(select: (state: BenchState) => T): T {
  return useStore(useBenchStore().store, select);
}

/** What a person can do on the bench. */
export function useBenchActions(): BenchStore['actions'] {
  return useBenchStore().actions;
}

/** The whole store, for code that reads it outside of rendering. */
export { useBenchStore };
