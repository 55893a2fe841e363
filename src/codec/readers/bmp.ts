import { open, readFile } from 'node:fs/promises';
import { createRaster, type Bytes } from '../../core/raster/raster';
import { onlyFacts, type PageFacts, type Reader } from './reader';

/**
 * Windows and OS/2 bitmaps (Microsoft, BITMAPFILEHEADER, BITMAPCOREHEADER, BITMAPINFOHEADER, BITMAPV4HEADER and BITMAPV5HEADER):
 * 1, 2, 4, 8, 16, 24 and 32 bits, run lengths of 4 and 8 bits, bit masks, either row order. Alpha is taken where a mask names
 * it and it is not 0 everywhere.
 */
export const BMP: Reader = {
  format: 'bmp',
  async facts({ path, name }, pages) {
    const file = await open(path);
    try {
      const { buffer, bytesRead } = await file.read(Buffer.alloc(FILE_HEADER + 124), 0, FILE_HEADER + 124, 0);
      return onlyFacts(name, pages, factsOf(readHeader(buffer.subarray(0, bytesRead))));
    } finally {
      await file.close();
    }
  },
  async pixels({ path }) {
    const bytes = await readFile(path);
    const header = readHeader(bytes);
    const data = header.runs ? unpackRuns(bytes, header) : unpackRows(bytes, header);
    return { raster: createRaster(header.width, header.height, data), notes: [] };
  },
};

const FILE_HEADER = 14;
const CORE_HEADER = 12;

/** Compressions, by their numbers. */
const PLAIN = 0;
const RUNS_8 = 1;
const RUNS_4 = 2;
const MASKS = 3;
const MASKS_WITH_ALPHA = 6;

interface Channel {
  readonly shift: number;
  readonly most: number;
}

interface Header {
  readonly width: number;
  readonly height: number;
  readonly topDown: boolean;
  readonly bits: number;
  readonly runs: boolean;
  /** Where the pixels begin. */
  readonly start: number;
  /** RGBA of each color of a palette. */
  readonly palette: Uint8Array | null;
  /** Red, green, blue and alpha; null where pixels are plain bytes. */
  readonly masks: readonly [Channel, Channel, Channel, Channel | null] | null;
  readonly perMeter: number;
}

function factsOf({ width, height, perMeter }: Header): PageFacts {
  const said = perMeter > 0 ? Math.round(perMeter * 2.54) / 100 : null;
  // What screens had is no resolution.
  const dpi = said !== null && [72, 96].some((screen) => Math.abs(said - screen) < 0.05) ? null : said;
  return { width, height, dpi, pages: 1, drawn: null, notes: [] };
}

function readHeader(bytes: Buffer): Header {
  const size = bytes.readUInt32LE(FILE_HEADER);
  const isCore = size === CORE_HEADER;
  const width = isCore ? bytes.readUInt16LE(18) : bytes.readInt32LE(18);
  const tall = isCore ? bytes.readUInt16LE(20) : bytes.readInt32LE(22);
  const bits = bytes.readUInt16LE(isCore ? 24 : 28);
  const compression = isCore ? PLAIN : bytes.readUInt32LE(30);
  const height = Math.abs(tall);
  if (width < 1 || height < 1) throw new Error(`a bitmap of ${width} x ${height} pixels`);
  const runs = compression === RUNS_8 || compression === RUNS_4;
  const known =
    [1, 2, 4, 8, 16, 24, 32].includes(bits) &&
    (compression === PLAIN ||
      (compression === RUNS_8 && bits === 8) ||
      (compression === RUNS_4 && bits === 4) ||
      ((compression === MASKS || compression === MASKS_WITH_ALPHA) && (bits === 16 || bits === 32)));
  if (!known) throw new Error(`a bitmap of ${bits} bits with compression ${compression}`);
  const start = bytes.readUInt32LE(10);
  return {
    width,
    height,
    topDown: tall < 0,
    bits,
    runs,
    start,
    palette: bits <= 8 ? readPalette(bytes, size, bits, start) : null,
    masks: bits === 16 || bits === 32 ? readMasks(bytes, size, bits, compression) : null,
    perMeter: isCore ? 0 : bytes.readInt32LE(38),
  };
}

/** Colors that are not there are black, as everywhere. */
function readPalette(bytes: Buffer, size: number, bits: number, start: number): Uint8Array {
  const isCore = size === CORE_HEADER;
  const told = isCore ? 0 : bytes.readUInt32LE(46);
  const count = Math.min(told === 0 ? 1 << bits : told, 1 << bits);
  const step = isCore ? 3 : 4;
  const palette = new Uint8Array(4 << bits);
  for (let k = 0; k < 1 << bits; k++) {
    const at = FILE_HEADER + size + k * step;
    palette[4 * k + 3] = 255;
    if (k >= count || at + 3 > Math.min(bytes.length, start)) continue;
    for (let c = 0; c < 3; c++) palette[4 * k + c] = bytes[at + 2 - c]!;
  }
  return palette;
}

function readMasks(bytes: Buffer, size: number, bits: number, compression: number): Header['masks'] {
  const isMasked = compression === MASKS || compression === MASKS_WITH_ALPHA;
  if (!isMasked) {
    if (bits === 32) return null;
    return [channelOf(0x7c00), channelOf(0x3e0), channelOf(0x1f), null] as never;
  }
  const at = FILE_HEADER + 40;
  const [red, green, blue] = [0, 4, 8].map((k) => channelOf(bytes.readUInt32LE(at + k)));
  const hasAlpha = size >= 56 || compression === MASKS_WITH_ALPHA;
  if (!red || !green || !blue) throw new Error('a bitmap with an empty mask');
  return [red, green, blue, hasAlpha ? channelOf(bytes.readUInt32LE(at + 12)) : null];
}

/** A run of bits; null where the mask is empty. */
function channelOf(mask: number): Channel | null {
  if (mask === 0) return null;
  let shift = 0;
  while (((mask >>> shift) & 1) === 0) shift++;
  const most = mask >>> shift;
  if ((most & (most + 1)) !== 0) throw new Error('a bitmap with a mask of several runs');
  return { shift, most };
}

function unpackRows(bytes: Buffer, header: Header): Bytes {
  const { width, height, topDown, bits, start, palette, masks } = header;
  const stride = Math.ceil((width * bits) / 32) * 4;
  // The last row may lack its padding.
  const needed = start + stride * (height - 1) + Math.ceil((width * bits) / 8);
  if (needed > bytes.length) throw new Error(`a bitmap of ${bytes.length} bytes where ${needed} are told`);
  const out = new Uint8Array(width * height * 4);
  let anyAlpha = false;
  for (let y = 0; y < height; y++) {
    const row = start + stride * (topDown ? y : height - 1 - y);
    let p = y * width * 4;
    for (let x = 0; x < width; x++, p += 4) {
      if (palette) copyColor(palette, indexAt(bytes, row, x, bits), out, p);
      else if (masks) {
        const value = bits === 16 ? bytes.readUInt16LE(row + 2 * x) : bytes.readUInt32LE(row + 4 * x);
        for (let c = 0; c < 3; c++) out[p + c] = levelOf(value, masks[c]!);
        out[p + 3] = masks[3] ? levelOf(value, masks[3]) : 255;
        if (masks[3] && out[p + 3] !== 0) anyAlpha = true;
      } else {
        const at = row + x * (bits >> 3);
        out[p] = bytes[at + 2]!;
        out[p + 1] = bytes[at + 1]!;
        out[p + 2] = bytes[at]!;
        out[p + 3] = 255;
      }
    }
  }
  // Many programs leave the alpha they announce at 0.
  if (masks?.[3] && !anyAlpha) for (let p = 3; p < out.length; p += 4) out[p] = 255;
  return out;
}

function indexAt(bytes: Buffer, row: number, x: number, bits: number): number {
  if (bits === 8) return bytes[row + x]!;
  const perByte = 8 / bits;
  const byte = bytes[row + Math.floor(x / perByte)]!;
  return (byte >> (8 - bits * ((x % perByte) + 1))) & ((1 << bits) - 1);
}

function levelOf(value: number, { shift, most }: Channel): number {
  return Math.round((255 * ((value >>> shift) & most)) / most);
}

function copyColor(palette: Uint8Array, index: number, out: Uint8Array, p: number): void {
  out[p] = palette[4 * index]!;
  out[p + 1] = palette[4 * index + 1]!;
  out[p + 2] = palette[4 * index + 2]!;
  out[p + 3] = palette[4 * index + 3]!;
}

const END_OF_ROW = 0;
const END_OF_PICTURE = 1;
const MOVE = 2;

/** Run lengths; pixels that are passed over are transparent. */
function unpackRuns(bytes: Buffer, { width, height, topDown, bits, start, palette }: Header): Bytes {
  const out = new Uint8Array(width * height * 4);
  let x = 0;
  let y = 0;
  const put = (index: number) => {
    if (x < width && y < height)
      copyColor(palette!, index, out, ((topDown ? y : height - 1 - y) * width + x) * 4);
    x++;
  };
  const half = bits === 4;
  for (let at = start; at + 1 < bytes.length;) {
    const count = bytes[at++]!;
    const value = bytes[at++]!;
    if (count > 0) {
      for (let k = 0; k < count; k++) put(half ? (k % 2 === 0 ? value >> 4 : value & 15) : value);
    } else if (value === END_OF_ROW) {
      x = 0;
      y++;
    } else if (value === END_OF_PICTURE) {
      return out;
    } else if (value === MOVE) {
      x += bytes[at++] ?? 0;
      y += bytes[at++] ?? 0;
    } else {
      const taken = half ? (value + 1) >> 1 : value;
      if (at + taken > bytes.length) break;
      for (let k = 0; k < value; k++) {
        const byte = bytes[at + (half ? k >> 1 : k)]!;
        put(half ? (k % 2 === 0 ? byte >> 4 : byte & 15) : byte);
      }
      at += taken + (taken & 1);
    }
  }
  throw new Error('a bitmap whose run lengths break off');
}
