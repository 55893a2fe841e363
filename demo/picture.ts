import sharp from 'sharp';
import { bytesOf } from '../src/codec/picture-library';
import { halve } from '../src/core/raster/reduce';
import { createRaster, type Raster } from '../src/core/raster/raster';

/** A color for every pixel, channels 0 to 255. */
export type Backdrop = (x: number, y: number) => readonly [number, number, number];

/**
 * Draws the body of an SVG of `width` x `height` units at four times that size and averages it down, so that every
 * alpha is the exact share of the pixel that the subject covers.
 */
export async function drawSubject(body: string, width: number, height: number): Promise<Raster> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${4 * width}" height="${4 * height}" viewBox="0 0 ${width} ${height}">${body}</svg>`;
  const { data, info } = await sharp(Buffer.from(svg), { limitInputPixels: false })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return halve(halve(createRaster(info.width, info.height, bytesOf(data))));
}

/** Lays a subject on a backdrop in encoded sRGB, as ordinary software does, and rounds to 8 bits. */
export function layOn(subject: Raster, backdrop: Backdrop): Raster {
  const out = createRaster(subject.width, subject.height);
  for (let y = 0, p = 0; y < subject.height; y++) {
    for (let x = 0; x < subject.width; x++, p += 4) {
      const alpha = subject.data[p + 3]! / 255;
      const color = backdrop(x, y);
      for (let c = 0; c < 3; c++) {
        const mixed = subject.data[p + c]! * alpha + color[c]! * (1 - alpha);
        out.data[p + c] = Math.round(Math.min(255, Math.max(0, mixed)));
      }
      out.data[p + 3] = 255;
    }
  }
  return out;
}

/** A raster as a sharp picture, ready to be encoded. */
export function asPicture({ width, height, data }: Raster) {
  return sharp(data, { raw: { width, height, channels: 4 } });
}

/** Adds the grain of a camera to a picture, in place; `spread` is about its standard deviation, encoded. */
export function addGrain({ data }: Raster, spread: number, random: () => number): void {
  for (let p = 0; p < data.length; p += 4) {
    for (let c = 0; c < 3; c++) {
      const grain = (random() + random() + random() - 1.5) * 2 * spread;
      data[p + c] = Math.round(Math.min(255, Math.max(0, data[p + c]! + grain)));
    }
  }
}

/** A subject in a light of that strength at each place. */
export function litBy(subject: Raster, light: (x: number, y: number) => number): Raster {
  const { width, height, data } = subject;
  const out = createRaster(width, height, data.slice());
  for (let i = 0; i < width * height; i++) {
    const strength = light(i % width, Math.floor(i / width));
    for (let c = 0; c < 3; c++) out.data[i * 4 + c] = Math.round(data[i * 4 + c]! * strength);
  }
  return out;
}
