import { open, readFile } from 'node:fs/promises';
import type openJpeg from '@cornerstonejs/codec-openjpeg/decodewasmjs';
import { createRaster } from '../../core/raster/raster';
import { convertedFrom } from '../color-notes';
import { toSrgb8 } from '../deep-color';
import { readShaper } from '../icc-shaper';
import { onlyFacts, type Reader } from './reader';

/**
 * JPEG 2000, bare (ISO/IEC 15444-1, annex A) or in a JP2 file (annex I): gray or RGB, with or without alpha, up to 16 bits.
 */
export const JPEG_2000: Reader = {
  format: 'jp2',
  async facts({ path, name }, pages) {
    const file = await open(path);
    try {
      const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
      const { width, height } = readSize(buffer.subarray(0, bytesRead));
      return onlyFacts(name, pages, { width, height, dpi: null, pages: 1, drawn: null, notes: [] });
    } finally {
      await file.close();
    }
  },
  async pixels({ path }) {
    const bytes = await readFile(path);
    const { J2KDecoder } = await loaded();
    const decoder = new J2KDecoder();
    try {
      decoder.getEncodedBuffer(bytes.length).set(bytes);
      decoder.decode();
      const { width, height, bitsPerSample, componentCount, isSigned } = decoder.getFrameInfo();
      if (isSigned || bitsPerSample > 16 || componentCount < 1 || componentCount > 4)
        throw new Error(`${componentCount} components of ${bitsPerSample} bits`);
      const samples = widened(decoder.getDecodedBuffer(), width * height * componentCount, bitsPerSample);
      const icc = profileIn(bytes.subarray(0, HEAD));
      const { name, isSrgb } = convertedFrom(icc);
      const shaper = icc && !isSrgb ? readShaper(icc, componentCount < 3 ? 1 : 3) : null;
      return {
        raster: createRaster(width, height, toSrgb8(samples, componentCount, shaper)),
        notes: shaper ? [`Its colors were converted from ${name} to sRGB.`] : [],
      };
    } finally {
      decoder.delete();
    }
  },
};

/** Sizes and profiles stand this far ahead. */
const HEAD = 4_000_000;

/** The marker of sizes, SIZ, behind the start of a codestream. */
const SIZES = Buffer.from([0xff, 0x4f, 0xff, 0x51]);

function readSize(head: Buffer): { width: number; height: number } {
  const at = head.indexOf(SIZES);
  if (at < 0) throw new Error('no sizes');
  const width = head.readUInt32BE(at + 8) - head.readUInt32BE(at + 16);
  const height = head.readUInt32BE(at + 12) - head.readUInt32BE(at + 20);
  if (width < 1 || height < 1) throw new Error(`${width} x ${height} pixels`);
  return { width, height };
}

/** The profile of a `colr` box with method 2 (annex I.5.3.3). */
function profileIn(head: Buffer): Buffer | undefined {
  const at = head.indexOf('colr', 0, 'latin1');
  if (at < 4 || head[at + 4] !== 2) return undefined;
  return head.subarray(at + 7, at - 4 + head.readUInt32BE(at - 4));
}

/** Samples of any depth as 16 bits. */
function widened(decoded: Uint8Array, count: number, bits: number): Uint16Array {
  const most = 2 ** bits - 1;
  const wide = bits > 8;
  if (decoded.length < count * (wide ? 2 : 1)) throw new Error('too few samples');
  const bytes = new DataView(decoded.buffer, decoded.byteOffset, decoded.byteLength);
  return Uint16Array.from({ length: count }, (_, k) =>
    Math.round((65_535 * (wide ? bytes.getUint16(2 * k, true) : decoded[k]!)) / most),
  );
}

let loading: ReturnType<typeof openJpeg> | null = null;

function loaded(): ReturnType<typeof openJpeg> {
  const quiet = () => undefined;
  return (loading ??= import('@cornerstonejs/codec-openjpeg/decodewasmjs').then(({ default: load }) =>
    load({ print: quiet, printErr: quiet }),
  ));
}
