import * as Comlink from 'comlink';
import type { Cut } from '../../core/cut/schema';
import type { Sample } from '../../core/stages/clear/settings';
import type { Rect } from '../../core/raster/raster';
import type { Point } from '../../core/numeric/matrix3';
import type { HandStroke } from '../../core/stages/touch-up/settings';
import type { PieceLeft } from '../../core/stages/touch-up/islands-left';
import type { LineEnds } from '../../core/stages/touch-up/line-ends';
import type { SheetCorners } from '../../core/stages/prepare/sheet';
import type { Straightening } from '../../core/stages/prepare/straighten';
import type {
  AlikeUnder,
  EngineEvent,
  InkFacts,
  Magnified,
  Opening,
  Probe,
  SampleStart,
  ShowRequest,
} from '../protocol';
import type { BenchWorker } from './bench.worker';

/** The bench's line to its engine. Only messages cross it; no pixel is touched on this side. */
export interface BenchClient {
  open(
    sheet: HTMLCanvasElement,
    opening: Opening,
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
  piecesLeft(): Promise<PieceLeft[]>;
  hasManyColors(): Promise<boolean>;
  contrastAt(part: Rect): Promise<string | null>;
  borderBetween(from: Point, to: Point): Promise<readonly (readonly [number, number])[]>;
  alikeUnder(stroke: HandStroke): Promise<AlikeUnder | null>;
  lineEnds(from: Point, to: Point): Promise<LineEnds | null>;
  shownSha256(): Promise<string>;
  keepCutout(address: string, cut: Cut): Promise<void>;
  close(): void;
}

/** Starts a worker for one open piece. */
export function startBenchClient(): BenchClient {
  const worker = new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<BenchWorker>(worker);
  return {
    async open(sheet, opening, density, tell) {
      const offscreen = sheet.transferControlToOffscreen();
      await remote.open(Comlink.transfer(offscreen, [offscreen]), opening, density, Comlink.proxy(tell));
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
    piecesLeft: () => remote.piecesLeft(),
    hasManyColors: () => remote.hasManyColors(),
    contrastAt: (part) => remote.contrastAt(part),
    borderBetween: (from, to) => remote.borderBetween(from, to),
    alikeUnder: (stroke) => remote.alikeUnder(stroke),
    lineEnds: (from, to) => remote.lineEnds(from, to),
    shownSha256: () => remote.shownSha256(),
    keepCutout: (address, cut) => remote.keepCutout(address, cut),
    close: () => worker.terminate(),
  };
}
