import { readFile } from 'node:fs/promises';
import { createRaster } from '../../core/raster/raster';
import { convertedFrom } from '../color-notes';
import { displayP3, toSrgb8 } from '../deep-color';
import { readShaper } from '../icc-shaper';
import { sharp } from '../picture-library';
import { assertPage } from './pages';
import type { PageFacts, Reader } from './reader';

/** Pictures of phones (ISO/IEC 23008-12): HEVC inside a HEIF file. Turns and mirrors that the file names are obeyed. */
export const HEIC: Reader = {
  format: 'heic',
  async facts({ path, name }, wanted) {
    const { width, height, pages = 1 } = await sharp(path, { limitInputPixels: false }).metadata();
    const facts: PageFacts[] = [];
    for (const page of wanted) {
      assertPage(name, page, pages);
      const own =
        page.number === 1
          ? { width, height }
          : await sharp(path, { page: page.number - 1, limitInputPixels: false }).metadata();
      facts.push({ width: own.width, height: own.height, dpi: null, pages, drawn: null, notes: [] });
    }
    return facts;
  },
  async pixels({ path }, page) {
    const { icc } = await sharp(path, { limitInputPixels: false }).metadata();
    // Loaded when it is first needed: it takes longer to start than all else together.
    const { default: decodeHeic } = await import('heic-decode');
    const images = await decodeHeic.all({ buffer: await readFile(path) });
    try {
      const image = images[page.number - 1];
      if (!image) throw new Error('a picture that is not there');
      const { width, height, data } = await image.decode();
      const bytes = new Uint8Array(data.buffer as ArrayBuffer, data.byteOffset, data.length);
      const { name, isSrgb } = convertedFrom(icc);
      if (!icc || isSrgb) return { raster: createRaster(width, height, bytes), notes: [] };
      // From 8 bits to the middle of 16, and back to 8 once.
      const samples = Uint16Array.from(bytes, (value) => value * 257);
      const converted = toSrgb8(samples, 4, readShaper(icc, 3) ?? displayP3());
      return {
        raster: createRaster(width, height, converted),
        notes: [`Its colors were converted from ${name} to sRGB.`],
      };
    } finally {
      images.dispose();
    }
  },
};
