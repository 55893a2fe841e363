import { badArgument } from './errors';
import { headBytes, readHead } from './numeric/head-bytes';
import { createRaster, wordsOf, type Raster, type Rect } from './raster/raster';
import type { Cutout } from './render';

/**
 * A cutout written down beside the picture it was cut from: runs of pixels that are clear, that are the picture's own, and
 * that are neither, whose four bytes follow. A run is a number, its length four-fold and its kind, in groups of seven bits,
 * the lowest first. Before the runs stands what is known of the cutout, as JSON, and before that its length in four bytes,
 * the lowest first. Most of a cutout is clear or as it was, so that little is left to write.
 */
const CLEAR = 0;
const SAME = 1;
const OTHER = 2;

/** A cutout that would be written in more bytes a pixel than this is not worth keeping: it is mostly recolored. */
const MOST_BYTES_A_PIXEL = 1.5;

/** The longest number in groups of seven bits that is written: four times the pixels of any picture fit into it. */
const MOST_GROUPS = 6;

type Head = Pick<Cutout, 'alpha' | 'alike'> & { readonly width: number; readonly height: number };

/**
 * Writes down a cutout of the part `window` of a picture, RGBA, sRGB; null where that is not worth it.
 */
export function packCutout(
  { raster, alpha, alike }: Cutout,
  picture: Raster,
  window: Rect,
): Uint8Array | null {
  const { width, height } = raster;
  const known: Head = { width, height, alpha, alike };
  const head = headBytes(known);
  const pixels = width * height;
  const out = new Uint8Array(head.length + Math.ceil(pixels * MOST_BYTES_A_PIXEL) + 64);
  out.set(head);
  const { words } = wordsOf(raster);
  const { words: own } = wordsOf(picture);
  const most = out.length - 16;
  let at = head.length;
  let kind = CLEAR;
  let start = 0;
  /** Writes the run from `start` up to `end`; says whether there was room. */
  const write = (end: number): boolean => {
    const bytes = kind === OTHER ? 4 * (end - start) : 0;
    if (at + bytes > most) return false;
    let rest = (end - start) * 4 + kind;
    for (; rest >= 128; rest = Math.floor(rest / 128)) out[at++] = (rest % 128) + 128;
    out[at++] = rest;
    out.set(raster.data.subarray(4 * start, 4 * start + bytes), at);
    at += bytes;
    start = end;
    return true;
  };
  for (let y = 0, i = 0; y < height; y++)
    for (let p = (window.y + y) * picture.width + window.x, end = i + width; i < end; i++, p++) {
      const word = words[i]!;
      const next = word === 0 ? CLEAR : word === own[p] ? SAME : OTHER;
      if (next === kind) continue;
      if (i > start && !write(i)) return null;
      kind = next;
    }
  return pixels > start && !write(pixels) ? null : out.slice(0, at);
}

/**
 * The cutout that was written down beside the same part of the same picture. Throws `bad-argument` where the bytes are not
 * those of a cutout of that size.
 */
export function unpackCutout(bytes: Uint8Array, picture: Raster, window: Rect): Cutout {
  const { head, end: start } = headOf(bytes);
  const { width, height } = window;
  if (head.width !== width || head.height !== height)
    throw badArgument('kept cutout', `${width} x ${height} pixels`, `${head.width} x ${head.height}`);
  const raster = createRaster(width, height);
  const { data } = raster;
  const pixels = width * height;
  let at = start;
  let i = 0;
  while (at < bytes.length) {
    let number = 0;
    let unit = 1;
    for (let groups = 0; ; groups++, unit *= 128) {
      const byte = bytes[at++];
      if (byte === undefined || groups === MOST_GROUPS)
        throw badArgument('kept cutout', 'whole runs', 'a part of one');
      number += (byte & 127) * unit;
      if (byte < 128) break;
    }
    const kind = number % 4;
    const end = i + Math.floor(number / 4);
    if (kind > OTHER || end > pixels)
      throw badArgument('kept cutout', 'runs of its size', `${kind} to ${end}`);
    if (kind === SAME) copyRun(picture, window, i, end, data);
    else if (kind === OTHER) {
      if (at + 4 * (end - i) > bytes.length) throw badArgument('kept cutout', 'all pixels of a run', 'fewer');
      data.set(bytes.subarray(at, at + 4 * (end - i)), 4 * i);
      at += 4 * (end - i);
    }
    i = end;
  }
  const { transparent, partly, opaque } = head.alpha;
  if (i !== pixels || transparent + partly + opaque !== pixels)
    throw badArgument('kept cutout', `${pixels} pixels`, i);
  return { raster, alpha: head.alpha, alike: head.alike };
}

function headOf(bytes: Uint8Array): { readonly head: Head; readonly end: number } {
  const { head, end } = readHead(bytes, 'kept cutout');
  const read = head as Partial<Head> | null;
  if (read?.alpha && Array.isArray(read.alike)) return { head: read as Head, end };
  throw badArgument('kept cutout', 'what is known of it', 'other bytes');
}

/** Copies the pixels from `from` up to `to` of a part of a picture, counted along its rows. */
function copyRun(picture: Raster, window: Rect, from: number, to: number, data: Uint8Array): void {
  for (let i = from; i < to;) {
    const x = i % window.width;
    const count = Math.min(to - i, window.width - x);
    const p = ((window.y + (i - x) / window.width) * picture.width + window.x + x) * 4;
    data.set(picture.data.subarray(p, p + 4 * count), 4 * i);
    i += count;
  }
}
