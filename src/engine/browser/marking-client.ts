import * as Comlink from 'comlink';
import type { Watermark } from '../../core/watermark/settings';
import type { MarkedSample, MarkingWorker, SampleMaterial } from './marking.worker';

export type { MarkedSample, SampleMaterial } from './marking.worker';

/** Marks photos for the screen, in a worker. */
export interface MarkingClient {
  load(address: string, mostPx: number): Promise<{ readonly width: number; readonly height: number }>;
  mark(address: string, watermark: Watermark, material: SampleMaterial): Promise<MarkedSample>;
  close(): void;
}

export function startMarkingClient(): MarkingClient {
  const worker = new Worker(new URL('./marking.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<MarkingWorker>(worker);
  return {
    load: (address, mostPx) => remote.load(address, mostPx),
    mark: (address, watermark, material) => remote.mark(address, watermark, material),
    close: () => worker.terminate(),
  };
}
