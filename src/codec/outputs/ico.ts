import { readFile, writeFile } from 'node:fs/promises';
import { assertExact, failed, NO_DIFFERENCE } from './compare';
import type { OutputCodec } from './output-codec';
import { pngPixels, smallestPng } from './png';

/** Icons of sites: several squares, each as PNG, behind a directory (ICONDIR, ICONDIRENTRY). */
export const ICO: OutputCodec = {
  async write({ rasters, credit }, path) {
    const none = { ...credit, author: '', copyright: '', description: '' };
    const pictures = await Promise.all(rasters.map((raster) => smallestPng(raster, null, none)));
    const directory = Buffer.alloc(HEADER + ENTRY * pictures.length);
    directory.writeUInt16LE(ICON_TYPE, 2);
    directory.writeUInt16LE(pictures.length, 4);
    let at = directory.length;
    pictures.forEach((picture, k) => {
      const { width, height } = rasters[k]!;
      const entry = HEADER + ENTRY * k;
      // A side of 256 is written as 0.
      directory.set([width % 256, height % 256, 0, 0], entry);
      directory.writeUInt16LE(1, entry + 4);
      directory.writeUInt16LE(32, entry + 6);
      directory.writeUInt32LE(picture.length, entry + 8);
      directory.writeUInt32LE(at, entry + 12);
      at += picture.length;
    });
    await writeFile(path, Buffer.concat([directory, ...pictures]));
  },
  async verify(path, { rasters }) {
    const bytes = await readFile(path);
    if (bytes.readUInt16LE(2) !== ICON_TYPE || bytes.readUInt16LE(4) !== rasters.length)
      throw failed('its directory is wrong');
    rasters.forEach((raster, k) => {
      const entry = HEADER + ENTRY * k;
      const start = bytes.readUInt32LE(entry + 12);
      const { pixels } = pngPixels(bytes.subarray(start, start + bytes.readUInt32LE(entry + 8)));
      if (bytes[entry] !== raster.width % 256) throw failed('its directory is wrong');
      assertExact(pixels, raster);
    });
    const largest = Math.max(...rasters.map(({ width }) => width));
    const kind = rasters.length === 1 ? '1 square' : `${rasters.length} squares`;
    const told = { width: largest, height: largest, dpi: null, kind, decoder: 'fast-png', independent: true };
    return { ...told, color: NO_DIFFERENCE, alpha: NO_DIFFERENCE };
  },
};

const HEADER = 6;
const ENTRY = 16;
const ICON_TYPE = 1;
