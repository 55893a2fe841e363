import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { crc32 } from 'node:zlib';
import type { Raster } from '../../src/core/raster/raster';

export function asSharp({ width, height, data }: Raster) {
  return sharp(data, { raw: { width, height, channels: 4 } });
}

/** Writes a file below `folder` and returns its path. */
export async function put(folder: string, name: string, bytes: Uint8Array | string): Promise<string> {
  const file = path.join(folder, name);
  await writeFile(file, bytes);
  return file;
}

/** A PNG chunk with its checksum. */
export function pngChunk(type: string, data: Uint8Array): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const chunk = Buffer.alloc(8 + body.length);
  chunk.writeUInt32BE(data.length, 0);
  body.copy(chunk, 4);
  chunk.writeUInt32BE(crc32(body), 4 + body.length);
  return chunk;
}

/** A PNG that says it has this many pixels, and holds none of them. */
export function hugePng(width: number, height: number): Buffer {
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from('\x89PNG\r\n\x1a\n', 'latin1');
  return Buffer.concat([
    signature,
    pngChunk('IHDR', header),
    pngChunk('IDAT', new Uint8Array(8)),
    pngChunk('IEND', new Uint8Array(0)),
  ]);
}

/** Makes a still PNG an animated one by the chunk that says so. */
export function animated(png: Buffer): Buffer {
  const afterHeader = 8 + 25;
  return Buffer.concat([
    png.subarray(0, afterHeader),
    pngChunk('acTL', Buffer.from([0, 0, 0, 2, 0, 0, 0, 0])),
    png.subarray(afterHeader),
  ]);
}
