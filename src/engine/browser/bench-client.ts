import * as Comlink from 'comlink';
import type { Cut } from '../../core/cut/schema';
import type { Sample } from '../../core/stages/clear/settings';
import type { Rect } from '../../core/raster/raster';
import type { SheetCorners } from '../../core/stages/prepare/sheet';
import type { Straightening } from '../../core/stages/prepare/straighten';
import type { EngineEvent, InkFacts, Magnified, Probe, SampleStart, ShowRequest } from '../protocol';
import type { BenchWorker } from './bench.worker';

/** The bench's line to its engine. Only messages cross it; no pixel is touched on this side. */
export interface BenchClient {
  open(
    sheet: HTMLCanvasElement,
    address: string,
    density: number,
    tell: (event: EngineEvent) => void,
  ): Promise<void>;
  show(request: ShowRequest): void;
  rest(): void;
  probe(x: number, y: number): Promise<Probe | null>;
  magnify(x: number, y: number, scale: number, side: number): Promise<Magnified | null>;
  startOf(sample: Sample, cut: Cut): Promise<SampleStart>;
  inkFacts(cut: Cut): Promise<InkFacts>;
  straightening(cut: Cut): Promise<Straightening>;
  corners(): Promise<SheetCorners | null>;
  contentBox(): Promise<Rect | null>;
  hasManyColors(): Promise<boolean>;
  contrastAt(part: Rect): Promise<string | null>;
  shownSha256(): Promise<string>;
  close(): void;
}

/** Starts a worker for one open piece. */
export function startBenchClient(): BenchClient {
  const worker = new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<BenchWorker>(worker);
  return {
    async open(sheet, address, density, tell) {
      const offscreen = sheet.transferControlToOffscreen();
      await remote.open(Comlink.transfer(offscreen, [offscreen]), address, density, Comlink.proxy(tell));
    },
    show: (request) => void remote.show(request),
    rest: () => void remote.rest(),
    probe: (x, y) => remote.probe(x, y),
    magnify: (x, y, scale, side) => remote.magnify(x, y, scale, side),
    startOf: (sample, cut) => remote.startOf(sample, cut),
    inkFacts: (cut) => remote.inkFacts(cut),
    straightening: (cut) => remote.straightening(cut),
    corners: () => remote.corners(),
    contentBox: () => remote.contentBox(),
    hasManyColors: () => remote.hasManyColors(),
    contrastAt: (part) => remote.contrastAt(part),
    shownSha256: () => remote.shownSha256(),
    close: () => worker.terminate(),
  };
}
