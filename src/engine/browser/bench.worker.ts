import { STAGES } from '../../core/stages/stages';
import * as Comlink from 'comlink';
import type { Cut } from '../../core/cut/schema';
import type { Sample } from '../../core/stages/clear/settings';
import { createRaster, type Bytes, type Raster, type Rect } from '../../core/raster/raster';
import type { Ground, View } from '../../core/view/compose';
import type { Answer, EngineEvent, ShowRequest, StagePicture } from '../protocol';
import { createBenchEngine, type BenchEngine } from './bench-engine';
import { startHelperWorkers } from './helpers';

/** Size of a stage's small picture, in CSS pixels: twice that of the stage strip, since the overview shows it too. */
const THUMBNAIL = { width: 168, height: 92 };

let engine: BenchEngine | null = null;
let opened: (engine: BenchEngine) => void = () => undefined;
/** The engine as soon as the master is there. */
const ready = new Promise<BenchEngine>((resolve) => (opened = resolve));

const api = {
  /** Loads a master from the server and takes over the sheet. */
  async open(
    sheet: OffscreenCanvas,
    address: string,
    density: number,
    tell: (event: EngineEvent) => void,
  ): Promise<void> {
    const context = sheet.getContext('2d', { alpha: false });
    if (!context) throw new Error('This browser gives no 2D canvas to workers.');
    const master = await load(address);
    tell({ kind: 'opened', width: master.width, height: master.height });
    engine = createBenchEngine(master, {
      now: () => performance.now(),
      helpers: startHelperWorkers(master),
      pause,
      paint(pixels, width, height) {
        if (sheet.width !== width || sheet.height !== height) {
          sheet.width = width;
          sheet.height = height;
        }
        context.putImageData(new ImageData(pixels, width, height), 0, 0);
      },
      tell,
      thumbnail: (size, compose) => tell({ kind: 'thumbnail', ...thumbnails(size, density, compose) }),
      answers: (key, isOnDark, size, compose) =>
        tell({ kind: 'answers', key, pictures: answerPictures(size, density, isOnDark, compose) }),
      loadBacking,
    });
    opened(engine);
  },
  show: (request: ShowRequest) => engine?.show(request),
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
  hasManyColors: async () => (await ready).hasManyColors(),
  contrastAt: async (part: Rect) => (await ready).contrastAt(part),
  /** SHA-256, hex, of the full-size cutout's bytes: what the server must find in the file it writes. */
  async shownSha256(): Promise<string> {
    const bytes = await (await ready).finishedPixels();
    const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
    return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
  },
  close: () => engine?.close(),
};

export type BenchWorker = typeof api;

Comlink.expose(api);

async function load(address: string): Promise<{ width: number; height: number; data: Bytes }> {
  const response = await fetch(address);
  if (!response.ok) {
    const refusal = (await response.json().catch(() => null)) as { message?: string } | null;
    throw new Error(refusal?.message ?? `The picture could not be loaded (status ${response.status}).`);
  }
  const width = Number(response.headers.get('x-width'));
  const height = Number(response.headers.get('x-height'));
  return { width, height, data: await bytesOf(response, 4 * width * height) };
}

/** So many bytes of an answer; on memory that helpers can read, where there is such. */
async function bytesOf(response: Response, length: number): Promise<Bytes> {
  if (!crossOriginIsolated) return new Uint8Array(await response.arrayBuffer());
  const bytes = new Uint8Array(new SharedArrayBuffer(length));
  let at = 0;
  for (const reader = response.body!.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) break;
    bytes.set(value, at);
    at += value.length;
  }
  if (at !== length) throw new Error('The picture broke off while it was loaded. Open the piece again.');
  // Nobody asks to own the bytes of an original: they are only read.
  return bytes as unknown as Bytes;
}

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

/** A backing is kept at most so wide and high. */
const BACKING_PX = 2400;

/** The first picture of these addresses that the browser can decode; null where it can none. */
async function loadBacking(addresses: readonly string[]): Promise<Raster | null> {
  for (const address of addresses) {
    const picture = await decoded(address);
    if (!picture) continue;
    const times = Math.min(1, BACKING_PX / Math.max(picture.width, picture.height));
    const width = Math.max(1, Math.round(picture.width * times));
    const height = Math.max(1, Math.round(picture.height * times));
    const context = new OffscreenCanvas(width, height).getContext('2d')!;
    context.drawImage(picture, 0, 0, width, height);
    const { data } = context.getImageData(0, 0, width, height);
    return createRaster(width, height, new Uint8Array(data.buffer));
  }
  return null;
}

async function decoded(address: string): Promise<ImageBitmap | null> {
  try {
    const response = await fetch(address);
    return response.ok ? await createImageBitmap(await response.blob()) : null;
  } catch {
    return null;
  }
}

/** The longer side of an answer's picture, in CSS pixels: twice what is shown. */
const ANSWER = 176;

/** The checkerboard behind pale areas. */
const DARK = { light: 0x6e6e6e, dark: 0x5a5a5a } as const;

/** A view that holds a whole picture in the middle, and the checkerboard behind it. */
function smallView(
  size: { readonly width: number; readonly height: number },
  width: number,
  height: number,
  density: number,
): { view: View; ground: Ground } {
  const scale = Math.min(width / size.width, height / size.height);
  const view = {
    scale,
    left: Math.round((width - size.width * scale) / 2),
    top: Math.round((height - size.height * scale) / 2),
    width,
    height,
  };
  const ground = { light: 0xf2f2f2, dark: 0xd9d9d9, around: 0xe6e6e6, cellPx: Math.round(12 * density) };
  return { view, ground };
}

/** A picture over the checkerboard for each answer, as large as the piece's shape allows. */
function answerPictures(
  size: { readonly width: number; readonly height: number },
  density: number,
  isOnDark: boolean,
  compose: (what: Answer, view: View, ground: Ground, out: Uint8ClampedArray) => void,
): Record<Answer, ImageBitmap> {
  const longer = Math.max(size.width, size.height);
  const side = (own: number) => Math.max(1, Math.round((ANSWER * density * own) / longer));
  const { view, ground } = smallView(size, side(size.width), side(size.height), density);
  const behind = isOnDark ? { ...ground, ...DARK } : ground;
  const pictureOf = (what: Answer) => {
    const seen = new Uint8ClampedArray(view.width * view.height * 4);
    compose(what, view, behind, seen);
    return bitmapOf(seen, view.width, view.height);
  };
  return { keep: pictureOf('keep'), clear: pictureOf('clear') };
}

/** Small pictures over the checkerboard, one after each stage, and the alpha of the last alone. */
function thumbnails(
  size: { readonly width: number; readonly height: number },
  density: number,
  compose: (what: StagePicture | 'alpha', view: View, ground: Ground, out: Uint8ClampedArray) => void,
): { pictures: Record<StagePicture, ImageBitmap>; silhouette: ImageBitmap } {
  const width = Math.round(THUMBNAIL.width * density);
  const height = Math.round(THUMBNAIL.height * density);
  const { view, ground } = smallView(size, width, height, density);
  const pictures = Object.fromEntries(
    STAGES.map(({ key: stage }) => {
      const seen = new Uint8ClampedArray(width * height * 4);
      compose(stage, view, ground, seen);
      return [stage, bitmapOf(seen, width, height)];
    }),
  ) as Record<StagePicture, ImageBitmap>;
  const gray = new Uint8ClampedArray(width * height * 4);
  compose('alpha', view, { ...ground, around: 0 }, gray);
  const silhouette = new Uint8ClampedArray(gray.length);
  for (let p = 0; p < gray.length; p += 4) silhouette[p + 3] = gray[p]!;
  return { pictures, silhouette: bitmapOf(silhouette, width, height) };
}

function bitmapOf(pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
  return canvas.transferToImageBitmap();
}
