import { deflateSync } from 'node:zlib';
import { pngChunk } from './files';

/** Samples of a small picture: `channels` interleaved, whole numbers of 8 or 16 bits. */
export interface Samples {
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  readonly depth: 8 | 16;
  readonly values: readonly number[];
}

const PNG_TYPES: Readonly<Record<number, number>> = { 1: 0, 2: 4, 3: 2, 4: 6 };

/** A PNG of these very samples, with a profile. */
export function pngOf({ width, height, channels, depth, values }: Samples, icc: Buffer | null): Buffer {
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([depth, PNG_TYPES[channels]!, 0, 0, 0], 8);
  const row = width * channels;
  const rows = Array.from({ length: height }, (_, y) =>
    Buffer.concat([Buffer.from([0]), bigEndian(values.slice(y * row, (y + 1) * row), depth)]),
  );
  const profile = icc && Buffer.concat([Buffer.from('p\0\0', 'latin1'), deflateSync(icc)]);
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    pngChunk('IHDR', header),
    ...(profile ? [pngChunk('iCCP', profile)] : []),
    pngChunk('IDAT', deflateSync(Buffer.concat(rows))),
    pngChunk('IEND', Buffer.alloc(0)),
  ]);
}

/** A TIFF of these very samples, uncompressed; `photometric` is 1 for gray, 2 for RGB, 5 for CMYK. */
export function tiffOf(
  { width, height, channels, depth, values }: Samples,
  photometric: 1 | 2 | 5,
  icc: Buffer | null,
): Buffer {
  const pixels = bigEndian(values, depth);
  const bits = bigEndian(
    Array.from({ length: channels }, () => depth),
    16,
  );
  const tags: [tag: number, type: number, count: number, value: number | Buffer][] = [
    [256, 4, 1, width],
    [257, 4, 1, height],
    [258, 3, channels, channels === 1 ? depth << 16 : bits],
    [259, 3, 1, 1 << 16],
    [262, 3, 1, photometric << 16],
    [273, 4, 1, pixels],
    [277, 3, 1, channels << 16],
    [278, 4, 1, height],
    [279, 4, 1, pixels.length],
    [284, 3, 1, 1 << 16],
    ...(icc ? [[34_675, 7, icc.length, icc] as [number, number, number, Buffer]] : []),
  ];
  const directory = Buffer.alloc(2 + 12 * tags.length + 4);
  directory.writeUInt16BE(tags.length, 0);
  const parts: Buffer[] = [];
  let offset = 8 + directory.length;
  tags.forEach(([tag, type, count, value], k) => {
    const at = 2 + 12 * k;
    directory.writeUInt16BE(tag, at);
    directory.writeUInt16BE(type, at + 2);
    directory.writeUInt32BE(count, at + 4);
    if (typeof value === 'number') directory.writeUInt32BE(value, at + 8);
    else if (value.length <= 4) value.copy(directory, at + 8);
    else {
      directory.writeUInt32BE(offset, at + 8);
      parts.push(value);
      offset += value.length;
    }
  });
  const head = Buffer.from('MM\0*\0\0\0\x08', 'latin1');
  return Buffer.concat([head, directory, ...parts]);
}

/** A JPEG with a profile put into it (APP2, as ICC.1:2022, B.4 has it). */
export function jpegWith(jpeg: Buffer, icc: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from('ICC_PROFILE\0\x01\x01', 'latin1'), icc]);
  const head = Buffer.from([0xff, 0xe2, 0, 0]);
  head.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([jpeg.subarray(0, 2), head, body, jpeg.subarray(2)]);
}

function bigEndian(values: readonly number[], depth: 8 | 16): Buffer {
  if (depth === 8) return Buffer.from(values);
  const out = Buffer.alloc(values.length * 2);
  values.forEach((value, k) => out.writeUInt16BE(value, 2 * k));
  return out;
}
