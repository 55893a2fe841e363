import { deflateSync } from 'node:zlib';
import { pngChunk } from './files';

/** A kind of PNG (PNG, third edition, 11.2.1): color type, bits a sample, whether it comes in passes. */
export interface PngKind {
  readonly type: 0 | 2 | 3 | 4 | 6;
  readonly depth: 1 | 2 | 4 | 8 | 16;
  readonly interlaced: boolean;
  /** A color, or palette entries, that are transparent (`tRNS`). */
  readonly clear?: boolean;
}

const CHANNELS = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 } as const;
const DEPTHS = { 0: [1, 2, 4, 8, 16], 2: [8, 16], 3: [1, 2, 4, 8], 4: [8, 16], 6: [8, 16] } as const;

/** Every kind there is. */
export const PNG_KINDS: readonly PngKind[] = ([0, 2, 3, 4, 6] as const).flatMap((type) =>
  DEPTHS[type].flatMap((depth) =>
    [false, true].flatMap((interlaced) =>
      type < 4
        ? [
            { type, depth, interlaced },
            { type, depth, interlaced, clear: true },
          ]
        : [{ type, depth, interlaced }],
    ),
  ),
);

/** Where the pixels of each pass lie: first column and row, and steps (8.2). */
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

/** A PNG of that kind, whose sample `c` at a place is `value(x, y, c)`, of the kind's depth. */
export function pngOfKind(
  width: number,
  height: number,
  { type, depth, interlaced, clear = false }: PngKind,
  value: (x: number, y: number, c: number) => number,
): Buffer {
  const channels = CHANNELS[type];
  const most = 2 ** depth;
  const rowsOf = (firstX: number, firstY: number, stepX: number, stepY: number): Buffer[] => {
    const rows: Buffer[] = [];
    const across = Math.ceil((width - firstX) / stepX);
    if (across <= 0) return rows;
    for (let y = firstY; y < height; y += stepY) {
      const row = Buffer.alloc(1 + Math.ceil((across * channels * depth) / 8));
      for (let k = 0; k < across; k++)
        for (let c = 0; c < channels; c++) {
          const sample = value(firstX + k * stepX, y, c) % most;
          const bit = (k * channels + c) * depth;
          if (depth === 16) row.writeUInt16BE(sample, 1 + bit / 8);
          else {
            const at = 1 + (bit >> 3);
            row[at] = row[at]! | (sample << (8 - depth - (bit & 7)));
          }
        }
      rows.push(row);
    }
    return rows;
  };
  const rows = interlaced
    ? PASSES.flatMap(([x, y, stepX, stepY]) => rowsOf(x, y, stepX, stepY))
    : rowsOf(0, 0, 1, 1);
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([depth, type, 0, 0, interlaced ? 1 : 0], 8);
  const palette = Buffer.from(
    Array.from({ length: type === 3 ? most : 0 }, (_, k) => [
      (k * 37) % 256,
      (k * 91) % 256,
      (k * 13) % 256,
    ]).flat(),
  );
  const clearColor = Buffer.alloc(type === 2 ? 6 : 2);
  for (let c = 0; 2 * c < clearColor.length; c++) clearColor.writeUInt16BE(value(1, 1, c) % most, 2 * c);
  const clearEntries = Buffer.from([0, 128]);
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    pngChunk('IHDR', header),
    ...(palette.length > 0 ? [pngChunk('PLTE', palette)] : []),
    ...(clear ? [pngChunk('tRNS', type === 3 ? clearEntries : clearColor)] : []),
    pngChunk('IDAT', deflateSync(Buffer.concat(rows))),
    pngChunk('IEND', Buffer.alloc(0)),
  ]);
}
