import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import type { WatermarkScreenState, WatermarkStore } from '../../bench/watermark-store';

export const WatermarkContext = createContext<WatermarkStore | null>(null);

function useWatermarkStore(): WatermarkStore {
  const watermark = useContext(WatermarkContext);
  if (!watermark) throw new Error('No watermark is open.');
  return watermark;
}

/** A part of the watermark's state; the component renders again when it changes. */
export function useWatermark<T>(select: (state: WatermarkScreenState) => T): T {
  return useStore(useWatermarkStore().store, select);
}

/** What a person can do with the watermark. */
export function useWatermarkActions(): WatermarkStore['actions'] {
  return useWatermarkStore().actions;
}
