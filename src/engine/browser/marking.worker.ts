import * as Comlink from 'comlink';
import { convertIndexedToRgb, decode, type DecodedPng } from 'fast-png';
import { isKenosisError } from '../../core/errors';
import { createRaster, type Bytes, type Raster } from '../../core/raster/raster';
import { markPhoto, type MarkReport } from '../../core/watermark/mark-photo';
import { viewOf } from '../../core/watermark/photo-view';
import type { Watermark } from '../../core/watermark/settings';
import type { ShapedLine } from '../../core/watermark/shaped';

/** A photo with its mark on it, or why it has none. */
export type MarkedSample =
  { readonly bitmap: ImageBitmap; readonly report: MarkReport } | { readonly trouble: string };

/** What a mark is made of, as it travels to the worker. */
export interface SampleMaterial {
  readonly lines: readonly (readonly [string, readonly ShapedLine[]])[];
  /** Of each cutout part where its picture is. */
  readonly cutouts: readonly (readonly [string, string])[];
}

const photos = new Map<string, Raster>();
const cutouts = new Map<string, Promise<Raster>>();

const api = {
  /** Fetches a photo to mark; its longer side is made at most `mostPx`. */
  async load(address: string, mostPx: number): Promise<{ readonly width: number; readonly height: number }> {
    const response = await fetch(address);
    if (!response.ok) throw new Error('This photo could not be fetched.');
    const whole = await createImageBitmap(await response.blob());
    const scale = Math.min(1, mostPx / Math.max(whole.width, whole.height));
    const width = Math.max(1, Math.round(whole.width * scale));
    const height = Math.max(1, Math.round(whole.height * scale));
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.drawImage(whole, 0, 0, width, height);
    const { data } = context.getImageData(0, 0, width, height);
    photos.set(address, createRaster(width, height, new Uint8Array(data.buffer)));
    return { width, height };
  },
  /** Marks a photo that was loaded. */
  async mark(address: string, watermark: Watermark, material: SampleMaterial): Promise<MarkedSample> {
    const photo = photos.get(address);
    if (!photo) return { trouble: 'This photo is not there.' };
    try {
      const own = await Promise.all(
        material.cutouts.map(async ([id, place]) => [id, await cutoutAt(place)] as const),
      );
      const copy = createRaster(photo.width, photo.height, new Uint8Array(photo.data));
      const report = markPhoto(viewOf(copy), watermark, {
        lines: new Map(material.lines),
        cutouts: new Map(own),
      });
      const canvas = new OffscreenCanvas(copy.width, copy.height);
      const image = new ImageData(new Uint8ClampedArray(copy.data.buffer), copy.width, copy.height);
      canvas.getContext('2d')!.putImageData(image, 0, 0);
      const bitmap = canvas.transferToImageBitmap();
      return Comlink.transfer({ bitmap, report }, [bitmap]);
    } catch (error) {
      if (isKenosisError(error)) return { trouble: error.message };
      throw error;
    }
  },
};

export type MarkingWorker = typeof api;

function cutoutAt(address: string): Promise<Raster> {
  const known = cutouts.get(address);
  if (known) return known;
  const loaded = loadCutout(address);
  loaded.catch(() => cutouts.delete(address));
  cutouts.set(address, loaded);
  return loaded;
}

async function loadCutout(address: string): Promise<Raster> {
  const response = await fetch(address);
  if (!response.ok) throw new Error('A cutout of this watermark could not be fetched.');
  const png = decode(new Uint8Array(await response.arrayBuffer()));
  return createRaster(png.width, png.height, rgbaOf(png));
}

/** The pixels of a PNG as RGBA; canvases would lose color under partial alpha. */
function rgbaOf(png: DecodedPng): Bytes {
  const data = png.palette ? convertIndexedToRgb(png) : png.data;
  const channels = png.palette ? data.length / (png.width * png.height) : png.channels;
  const out = new Uint8Array(png.width * png.height * 4);
  for (let p = 0, q = 0; p < out.length; p += 4, q += channels) {
    const isGray = channels < 3;
    out[p] = data[q]!;
    out[p + 1] = data[q + (isGray ? 0 : 1)]!;
    out[p + 2] = data[q + (isGray ? 0 : 2)]!;
    out[p + 3] = channels % 2 === 0 ? data[q + channels - 1]! : 255;
  }
  return out;
}

Comlink.expose(api);
