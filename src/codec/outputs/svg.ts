import { readFile, writeFile } from 'node:fs/promises';
import { hexOfRgb } from '../../core/color/hex';
import type { Raster } from '../../core/raster/raster';
import { sharp } from '../picture-library';
import { failed } from './compare';
import { escaped, hasCredit } from './credit';
import { outlineOf } from './outline';
import type { Difference, FileContent, OutputCodec, OutputOf } from './output-codec';

/** SVG outlines: what is there, in one color, as a path of smooth curves (SVG 2). */
export const SVG: OutputCodec = {
  async write(content, path) {
    await writeFile(path, svgOf(content));
  },
  async verify(path, { rasters, dpi }) {
    const [expected] = rasters as [Raster];
    const text = await readFile(path);
    const { data, info } = await sharp(text, { limitInputPixels: false })
      .resize(expected.width, expected.height, { fit: 'fill' })
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    const told = { width, height, dpi, decoder: 'librsvg', independent: true };
    const differences = apart(data, expected);
    if (differences.alpha.mean > MOST_MEAN_ALPHA) throw failed('its outline is that of another picture');
    const nodes = text.toString('latin1').match(/[LC]/g)?.length ?? 0;
    return { ...told, kind: `outline of ${nodes} nodes`, ...differences };
  },
};

/** An outline that lies farther away in the mean is another one. */
const MOST_MEAN_ALPHA = 16;

const MM_PER_INCH = 25.4;

/**
 * A cutout's outline as a document that is laid out like a file of pixels: as large as it is printed where there is a resolution,
 * with a pixel of the layout as its unit.
 */
export function svgOf({ cutout, layout, output, credit }: Omit<FileContent, 'rasters' | 'dpi'>): string {
  const { width, height, from, at, dpi } = layout;
  const { path } = outlineOf(cutout, (output as OutputOf<'svg'>).errorPx);
  const inMm = (px: number) => `${Math.round((1000 * px * MM_PER_INCH) / dpi!) / 1000}mm`;
  const size = dpi
    ? `width="${inMm(width)}" height="${inMm(height)}"`
    : `width="${width}" height="${height}"`;
  const about = hasCredit(credit)
    ? `<title>${escaped(credit.description)}</title><desc>${escaped([credit.author, credit.copyright].filter(Boolean).join(', '))}</desc>`
    : '';
  const isMoved = width !== cutout.width || height !== cutout.height || from.x !== 0 || from.y !== 0;
  const move = isMoved
    ? ` transform="translate(${at.x} ${at.y}) scale(${at.width / from.width} ${at.height / from.height}) translate(${-from.x} ${-from.y})"`
    : '';
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size} viewBox="0 0 ${width} ${height}">${about}<path${move} fill="${inkOf(cutout)}" fill-rule="evenodd" d="${path}"/></svg>\n`;
}

/** The mean color of what is opaque, or of all that is seen where nothing is. */
function inkOf({ data }: Raster): string {
  for (const least of [250, 1]) {
    let count = 0;
    const sums = [0, 0, 0];
    for (let p = 0; p < data.length; p += 4) {
      if (data[p + 3]! < least) continue;
      count++;
      for (let c = 0; c < 3; c++) sums[c] = sums[c]! + data[p + c]!;
    }
    if (count > 0) return hexOfRgb(sums[0]! / count, sums[1]! / count, sums[2]! / count);
  }
  return '#000000';
}

/** How far a drawn outline lies from the pixels: what became of their colors, and of their alpha. */
function apart(
  found: Uint8Array,
  { data }: Raster,
): { readonly color: Difference; readonly alpha: Difference } {
  let largest = 0;
  let sum = 0;
  let weight = 0;
  let largestAlpha = 0;
  let sumAlpha = 0;
  for (let p = 0; p < data.length; p += 4) {
    const off = Math.abs(data[p + 3]! - found[p + 3]!);
    if (off > largestAlpha) largestAlpha = off;
    sumAlpha += off;
    const both = Math.min(data[p + 3]!, found[p + 3]!);
    if (both < 128) continue;
    weight++;
    for (let c = 0; c < 3; c++) {
      const level = Math.abs(data[p + c]! - found[p + c]!);
      if (level > largest) largest = level;
      sum += level;
    }
  }
  const color = { largest, mean: weight === 0 ? 0 : sum / weight / 3 };
  return { color, alpha: { largest: largestAlpha, mean: (4 * sumAlpha) / data.length } };
}
