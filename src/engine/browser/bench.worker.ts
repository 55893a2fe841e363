import * as Comlink from 'comlink';
import type { Cut } from '../../core/cut/schema';
import type { Sample } from '../../core/stages/clear/settings';
import type { Point } from '../../core/numeric/matrix3';
import type { Rect } from '../../core/raster/raster';
import type { HandStroke } from '../../core/stages/touch-up/settings';
import type { EngineEvent, Opening, ShowRequest } from '../protocol';
import { createBenchEngine, type BenchEngine } from './bench-engine';
import type { EngineHost } from './engine-host';
import { startHelperWorkers } from './helpers';
import { KeptCutouts } from './kept-cutouts';
import { loadDecisions, loadMaster, loadPicture } from './loading';
import { previewOf } from './preview';
import { answerPictures, bitmapOfRaster, thumbnails } from './small-pictures';

let engine: BenchEngine | null = null;
let opened: (engine: BenchEngine) => void = () => undefined;
/** The engine as soon as the master is there. */
const ready = new Promise<BenchEngine>((resolve) => (opened = resolve));

/** The newest request that came before the engine, and what answers it until then. */
let early: ShowRequest | null = null;
let preview: ((request: ShowRequest) => void) | null = null;

const keptCutouts = new KeptCutouts();

const api = {
  /** Loads a master from the server, and the full-size cutout that is kept of its cut, and takes over the sheet. */
  async open(
    sheet: OffscreenCanvas,
    opening: Opening,
    density: number,
    tell: (event: EngineEvent) => void,
  ): Promise<void> {
    const context = sheet.getContext('2d', { alpha: false });
    if (!context) throw new Error('This browser gives no 2D canvas to workers.');
    const paint: EngineHost['paint'] = (pixels, width, height, part) => {
      if (sheet.width !== width || sheet.height !== height) {
        sheet.width = width;
        sheet.height = height;
      }
      const image = new ImageData(pixels, width, height);
      if (!part) context.putImageData(image, 0, 0);
      else if (part.width > 0 && part.height > 0)
        context.putImageData(image, 0, 0, part.x, part.y, part.width, part.height);
    };
    const until = new AbortController();
    void loadPicture([opening.small], until.signal).then((picture) => {
      if (!picture || engine) return;
      preview = previewOf(picture, opening, { paint, tell });
      if (early) preview(early);
    });
    const { cut } = opening;
    const [master, packed, decisions] = await Promise.all([
      loadMaster(opening.master),
      keptCutouts.load(opening.cutout),
      loadDecisions(opening.decisions),
    ]);
    until.abort();
    engine = createBenchEngine(
      master,
      {
        now: () => performance.now(),
        helpers: startHelperWorkers(master),
        pause,
        paint,
        tell,
        thumbnail: (size, compose) => tell({ kind: 'thumbnail', ...thumbnails(size, density, compose) }),
        answers: (key, isOnDark, size, compose) =>
          tell({ kind: 'answers', key, pictures: answerPictures(size, density, isOnDark, compose) }),
        tried: (pictures) =>
          tell({
            kind: 'tried',
            pictures: pictures.map(({ raster, ...one }) => ({ ...one, bitmap: bitmapOfRaster(raster) })),
          }),
        loadBacking: (addresses) => loadPicture(addresses),
      },
      packed && { cut, packed },
      decisions,
    );
    if (early) engine.show(early);
    early = null;
    opened(engine);
  },
  show(request: ShowRequest): void {
    if (engine) return engine.show(request);
    early = request;
    preview?.(request);
  },
  rest: () => engine?.rest(),
  probe: (x: number, y: number) => engine?.probe(x, y) ?? null,
  magnify(x: number, y: number, scale: number, side: number) {
    const found = engine?.magnify(x, y, scale, side) ?? null;
    return found && Comlink.transfer(found, [found.original.buffer, found.result.buffer]);
  },
  startOf: async (sample: Sample, cut: Cut) => (await ready).startOf(sample, cut),
  inkFacts: async (cut: Cut) => (await ready).inkFacts(cut),
  straightening: async (cut: Cut) => (await ready).straightening(cut),
  corners: async () => (await ready).corners(),
  contentBox: async () => (await ready).contentBox(),
  piecesLeft: async () => (await ready).piecesLeft(),
  hasManyColors: async () => (await ready).hasManyColors(),
  contrastAt: async (part: Rect) => (await ready).contrastAt(part),
  borderBetween: async (from: Point, to: Point) => (await ready).borderBetween(from, to),
  alikeUnder: (stroke: HandStroke) => engine?.alikeUnder(stroke) ?? null,
  lineEnds: async (from: Point, to: Point) => (await ready).lineEnds(from, to),
  /** SHA-256, hex, of the full-size cutout's bytes: what the server must find in the file it writes. */
  async shownSha256(): Promise<string> {
    const bytes = await (await ready).finishedPixels();
    const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
    return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
  },
  /** Leaves the full-size cutout of a cut with the server, for the next time the piece is opened. */
  async keepCutout(address: string, cut: Cut): Promise<void> {
    const made = await ready;
    await keptCutouts.keep(address, () => made.packed(cut));
  },
  close: () => engine?.close(),
};

export type BenchWorker = typeof api;

Comlink.expose(api);

const channel = new MessageChannel();
let resume: () => void = () => undefined;
channel.port1.onmessage = () => resume();

/** Comes back after the messages that wait now. */
function pause(): Promise<void> {
  return new Promise((resolve) => {
    resume = resolve;
    channel.port2.postMessage(null);
  });
}
