import { readFile, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { decode } from 'fast-png';
import { wordsOf, type Raster } from '../../core/raster/raster';
import type { Credit } from '../../core/stages/deliver/settings';
import { sharp } from '../picture-library';
import { crc32 } from '../png-chunks';
import { assertExact, failed, NO_DIFFERENCE, type ReadPixels } from './compare';
import { hasCredit, xmpOf } from './credit';
import type { FileContent, OutputCodec } from './output-codec';

/** PNG of 8 bits (PNG, third edition): RGBA, or with fewer channels or a palette where that holds the same pixels in less. */
export const PNG: OutputCodec = {
  write: async ({ rasters, dpi, credit }, path) =>
    writeFile(path, await smallestPng(rasters[0]!, dpi, credit)),
  async verify(path, content) {
    const expected = content.rasters[0]!;
    const bytes = await readFile(path);
    const { pixels, kind } = pngPixels(bytes);
    assertExact(pixels, expected);
    const { density } = await sharp(bytes).metadata();
    assertDpi(density, content);
    return {
      width: pixels.width,
      height: pixels.height,
      dpi: content.dpi === null ? null : (density ?? null),
      kind,
      decoder: 'fast-png',
      independent: true,
      color: NO_DIFFERENCE,
      alpha: NO_DIFFERENCE,
    };
  },
};

/** Resolutions are stored per meter, in whole numbers. */
const DPI_ROUNDING = 0.02;

/** Throws `verification-failed` where a file's resolution is not the one that was to be written. */
export function assertDpi(found: number | undefined, { dpi }: FileContent): void {
  if (dpi !== null && Math.abs((found ?? 0) - dpi) > Math.max(DPI_ROUNDING, dpi / 1000) + 0.5)
    throw failed(`its resolution is ${found ?? 'none'} instead of ${dpi} dpi`);
}

/** What all pixels of a raster have in common. */
interface Common {
  readonly isGray: boolean;
  readonly isOpaque: boolean;
  /** The colors with alpha that there are; null where they are more than a palette holds. */
  readonly colors: ReadonlyMap<number, number> | null;
}

const MOST_COLORS = 256;

function commonOf(raster: Raster): Common {
  const { words } = wordsOf(raster);
  const colors = new Map<number, number>();
  let isGray = true;
  let isOpaque = true;
  let few = true;
  let before = -1;
  for (const word of words) {
    if (word === before) continue;
    before = word;
    if (word >>> 24 !== 255) isOpaque = false;
    if (isGray && ((word ^ (word >>> 8)) & 0xffff) !== 0) isGray = false;
    if (few && !colors.has(word)) {
      if (colors.size === MOST_COLORS) few = false;
      else colors.set(word, colors.size);
    }
    if (!few && !isGray && !isOpaque) break;
  }
  return { isGray, isOpaque, colors: few ? colors : null };
}

/** The smallest of the ways in which a PNG holds these pixels exactly. */
export async function smallestPng(raster: Raster, dpi: number | null, credit: Credit): Promise<Buffer> {
  const common = commonOf(raster);
  const plain = () => channelPng(raster, common, dpi, credit);
  if (!common.colors) return plain();
  const palette = await palettePng(raster, common.colors, dpi, credit);
  // Many small colors in a photo may be smaller as channels; a palette of few never is.
  if (common.colors.size <= 16) return palette;
  const other = await plain();
  return palette.length <= other.length ? palette : other;
}

/** RGBA, or what of it says something: gray for colors that are, no alpha where all is opaque. */
async function channelPng(
  { width, height, data }: Raster,
  { isGray, isOpaque }: Common,
  dpi: number | null,
  credit: Credit,
): Promise<Buffer> {
  const channels = ((isGray ? 1 : 3) + (isOpaque ? 0 : 1)) as 1 | 2 | 3 | 4;
  const samples = channels === 4 ? data : fewer(data, isGray, isOpaque, channels);
  const raw = sharp(samples, { raw: { width, height, channels }, limitInputPixels: false });
  const bare = await (isGray ? raw.toColourspace('b-w') : raw)
    .png({ compressionLevel: 6, adaptiveFiltering: true, palette: false })
    .toBuffer();
  // The library writes a resolution of its own making.
  const [header, ...rest] = chunksOf(bare).filter((one) => !one.subarray(4, 8).equals(PHYS));
  return Buffer.concat([SIGNATURE, header!, ...aboutChunks(dpi, credit), ...rest]);
}

const PHYS = Buffer.from('pHYs', 'latin1');

/** The chunks of a PNG, each whole. */
function chunksOf(png: Buffer): Buffer[] {
  const chunks: Buffer[] = [];
  for (let at = SIGNATURE.length; at < png.length;) {
    const end = at + 12 + png.readUInt32BE(at);
    chunks.push(png.subarray(at, end));
    at = end;
  }
  return chunks;
}

/** What is told beside the pixels. */
function aboutChunks(dpi: number | null, credit: Credit): Buffer[] {
  return [
    ...(dpi ? [chunk('pHYs', density(dpi))] : []),
    ...(hasCredit(credit) ? [chunk('iTXt', xmpText(credit))] : []),
  ];
}

function fewer(data: Uint8Array, isGray: boolean, isOpaque: boolean, channels: number): Uint8Array {
  const out = new Uint8Array((data.length / 4) * channels);
  for (let p = 0, q = 0; p < data.length; p += 4) {
    out[q++] = data[p]!;
    if (!isGray) {
      out[q++] = data[p + 1]!;
      out[q++] = data[p + 2]!;
    }
    if (!isOpaque) out[q++] = data[p + 3]!;
  }
  return out;
}

const SIGNATURE = Buffer.from('\x89PNG\r\n\x1a\n', 'latin1');
const PALETTE_TYPE = 3;
const METERS_PER_INCH = 0.0254;

/** Indexes of 1, 2, 4 or 8 bits into the colors that there are; those with alpha first, so that `tRNS` is short. */
async function palettePng(
  raster: Raster,
  colors: ReadonlyMap<number, number>,
  dpi: number | null,
  credit: Credit,
): Promise<Buffer> {
  const { width, height } = raster;
  const sorted = [...colors.keys()].sort((a, b) => (a >>> 24) - (b >>> 24));
  const places = new Map(sorted.map((word, place) => [word, place]));
  const bits = sorted.length <= 2 ? 1 : sorted.length <= 4 ? 2 : sorted.length <= 16 ? 4 : 8;
  const stride = Math.ceil((width * bits) / 8) + 1;
  const rows = Buffer.alloc(stride * height);
  const { words } = wordsOf(raster);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const at = y * stride + 1 + Math.floor((x * bits) / 8);
      rows[at] = rows[at]! | (places.get(words[i]!)! << (8 - bits - ((x * bits) % 8)));
    }
  }
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([bits, PALETTE_TYPE, 0, 0, 0], 8);
  const alphas = sorted.filter((word) => word >>> 24 < 255).map((word) => word >>> 24);
  return Buffer.concat([
    SIGNATURE,
    chunk('IHDR', header),
    ...aboutChunks(dpi, credit),
    chunk(
      'PLTE',
      Buffer.from(sorted.flatMap((word) => [word & 255, (word >>> 8) & 255, (word >>> 16) & 255])),
    ),
    ...(alphas.length > 0 ? [chunk('tRNS', Buffer.from(alphas))] : []),
    chunk('IDAT', await promisify(deflate)(rows, { level: 9 })),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

function chunk(type: string, data: Buffer): Buffer {
  const typed = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(8);
  out.writeUInt32BE(data.length, 0);
  out.writeUInt32BE(crc32(typed), 4);
  return Buffer.concat([out.subarray(0, 4), typed, out.subarray(4)]);
}

function density(dpi: number): Buffer {
  const data = Buffer.alloc(9);
  const perMeter = Math.round(dpi / METERS_PER_INCH);
  data.writeUInt32BE(perMeter, 0);
  data.writeUInt32BE(perMeter, 4);
  data[8] = 1;
  return data;
}

/** XMP as readers look for it: a keyword, no compression, no language. */
function xmpText(credit: Credit): Buffer {
  return Buffer.concat([Buffer.from('XML:com.adobe.xmp\0\0\0\0\0', 'latin1'), Buffer.from(xmpOf(credit))]);
}

/** Decodes a PNG of any kind that is written here, with another decoder than its encoder's. */
export function pngPixels(bytes: Uint8Array): { readonly pixels: ReadPixels; readonly kind: string } {
  const { width, height, data, channels, depth, palette } = decode(bytes, { checkCrc: true });
  const out = new Uint8Array(width * height * 4);
  if (palette) {
    const colors = new Uint8Array(4 * palette.length);
    palette.forEach((color, k) => colors.set([color[0]!, color[1]!, color[2]!, color[3] ?? 255], 4 * k));
    const words = new Uint32Array(colors.buffer);
    const pixels = new Uint32Array(out.buffer);
    const stride = Math.ceil((width * depth) / 8);
    const mask = (1 << depth) - 1;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const byte = data[y * stride + ((x * depth) >> 3)]!;
        pixels[i] = words[(byte >> (8 - depth - ((x * depth) & 7))) & mask]!;
      }
    return { pixels: { width, height, data: out }, kind: `palette of ${palette.length} colors` };
  }
  if (depth !== 8) throw failed(`it has ${depth} bits a channel`);
  if (channels === 4) return { pixels: { width, height, data: data as Uint8Array }, kind: 'RGBA' };
  const colors = channels < 3 ? 1 : 3;
  for (let p = 0, s = 0; p < out.length; p += 4, s += channels) {
    for (let c = 0; c < 3; c++) out[p + c] = data[s + (colors === 1 ? 0 : c)]!;
    out[p + 3] = channels === colors ? 255 : data[s + colors]!;
  }
  const kind = colors === 1 ? (channels === 1 ? 'gray' : 'gray with alpha') : 'RGB';
  return { pixels: { width, height, data: out }, kind };
}
