import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import { KenosisError } from '../../core/errors';
import { createRaster } from '../../core/raster/raster';
import { MAX_DRAWING_BYTES, MAX_PIXELS } from '../../core/intake-limits';
import { bytesOf, sharp } from '../picture-library';
import { assertPage } from './pages';
import { drawnFacts, type DrawnPage, type Reader } from './reader';

/** Drawings (SVG 2), plain or compressed. What refers to anything outside of the file is refused; scripts never run. */
export const SVG: Reader = {
  format: 'svg',
  async facts({ path, name }, pages) {
    const { drawn } = await read(path, name);
    return pages.map((page) => {
      assertPage(name, page, 1);
      return drawnFacts(drawn, page, 1);
    });
  },
  async pixels({ path, name }, page) {
    const { text, drawn, hasText } = await read(path, name);
    const { width, height } = drawnFacts(drawn, page, 1);
    const density = (LIBRARY_DPI * width) / (drawn.widthIn * UNITS_PER_INCH);
    const { data, info } = await sharp(text, { density, limitInputPixels: MAX_PIXELS + 2e5 })
      .resize(width, height, { fit: 'fill' })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const notes = hasText
      ? ['It has text, which is drawn with the fonts of this machine: turn it into outlines to be sure.']
      : [];
    return { raster: createRaster(info.width, info.height, bytesOf(data)), notes };
  },
};

/** The library's own pixels per inch: at this density a unit of a drawing is a pixel. */
const LIBRARY_DPI = 72;

/** Units of a drawing in an inch (CSS Values 4, 6.2). */
const UNITS_PER_INCH = 96;

interface Drawing {
  readonly text: Buffer;
  readonly drawn: DrawnPage;
  readonly hasText: boolean;
}

async function read(path: string, name: string): Promise<Drawing> {
  const text = await plainText(await readFile(path), name);
  const { outside, hasText } = await look(text.toString('utf8'), name);
  if (outside !== null)
    throw new KenosisError(
      'unsupported-format',
      `"${name}" refers to something outside of itself (${outside.slice(0, 80)}), which Kenosis never fetches. Embed it or remove it, and bring the file again.`,
    );
  const { width, height } = await sharp(text, { limitInputPixels: false }).metadata();
  return {
    text,
    drawn: { widthIn: width / UNITS_PER_INCH, aspect: height / width, scanWidthPx: null },
    hasText,
  };
}

async function plainText(bytes: Buffer, name: string): Promise<Buffer> {
  const isPacked = bytes[0] === 0x1f && bytes[1] === 0x8b;
  const text = isPacked
    ? await promisify(gunzip)(bytes, { maxOutputLength: MAX_DRAWING_BYTES }).catch(() => null)
    : bytes;
  if (text && text.length <= MAX_DRAWING_BYTES) return text;
  throw new KenosisError(
    'too-many-bytes',
    `"${name}" is a drawing of more than ${MAX_DRAWING_BYTES / 1e6} MB, or is damaged. Simplify it and bring it again.`,
  );
}

/** Elements whose addresses are for a reader to follow, and draw nothing. */
const LINKS = new Set(['a']);

/** Elements that draw text. */
const TEXTS = new Set(['text', 'tspan', 'textPath']);

/** Looks through a drawing for what lies outside of it, and for text. Throws `damaged-picture` where it is no XML. */
async function look(text: string, name: string): Promise<{ outside: string | null; hasText: boolean }> {
  const { SaxesParser } = await import('saxes');
  let outside: string | null = null;
  let hasText = false;
  const parser = new SaxesParser();
  const refer = (address: string) => {
    const at = address.trim();
    if (at === '' || at.startsWith('#') || /^data:image\/(png|jpeg|jpg|gif|webp)[;,]/i.test(at)) return;
    outside ??= at;
  };
  const style = (css: string) => {
    for (const [, address] of css.matchAll(/url\(\s*['"]?([^'")]*)/gi)) refer(address!);
    if (/@import/i.test(css)) outside ??= '@import';
  };
  parser.on('error', (cause) => {
    throw new KenosisError('damaged-picture', `"${name}" is damaged: it is no complete SVG document.`, {
      cause,
    });
  });
  // Entities multiply, and name files.
  parser.on('doctype', (doctype) => {
    if (/<!ENTITY/i.test(doctype)) outside ??= 'an entity of its document type';
  });
  parser.on('processinginstruction', ({ target }) => {
    if (target === 'xml-stylesheet') outside ??= 'a style sheet';
  });
  parser.on('opentag', (tag) => {
    const element = tag.name.replace(/^.*:/, '');
    if (TEXTS.has(element)) hasText = true;
    for (const [attribute, value] of Object.entries(tag.attributes)) {
      const plain = attribute.replace(/^.*:/, '');
      if ((plain === 'href' || plain === 'src') && !LINKS.has(element)) refer(value);
      else if (plain !== 'href') style(value);
    }
  });
  parser.on('text', style);
  parser.on('cdata', style);
  parser.write(text).close();
  return { outside, hasText };
}
