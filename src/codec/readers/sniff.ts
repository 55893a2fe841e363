import { gunzipSync } from 'node:zlib';
import type { InputFormat } from '../../core/formats';

/** Bytes of a file's start by which its kind is told. */
export const HEAD_BYTES = 4096;

/** Sizes of the headers that bitmaps have. */
const BITMAP_HEADERS = new Set([12, 16, 40, 52, 56, 64, 108, 124]);

/** The format of a file, by how it starts; null where it is none of those that are read. */
export function formatOf(head: Buffer): InputFormat | null {
  const text = head.toString('latin1');
  if (text.startsWith('\x89PNG\r\n\x1a\n')) return 'png';
  if (text.startsWith('\xff\xd8\xff')) return 'jpeg';
  if (text.startsWith('RIFF') && text.slice(8, 12) === 'WEBP') return 'webp';
  if (/^(II[*+]\0|MM\0[*+])/.test(text) && !isRaw(text)) return 'tiff';
  if (/^GIF8[79]a/.test(text)) return 'gif';
  if (text.startsWith('BM') && head.length > 18 && BITMAP_HEADERS.has(head.readUInt32LE(14))) return 'bmp';
  if (text.slice(4, 8) === 'ftyp') return heifKind(text);
  if (text.startsWith('\0\0\0\x0cjP  \r\n\x87\n') || text.startsWith('\xff\x4f\xff\x51')) return 'jp2';
  if (text.slice(0, 1024).includes('%PDF-')) return 'pdf';
  return isDrawing(head) ? 'svg' : null;
}

/** By its brands (ISO/IEC 14496-12, 4.3): AV1 where one says so, HEVC for the others of pictures. */
function heifKind(text: string): InputFormat | null {
  const brands = text.slice(8, 8 + 64);
  if (/avi[fs]/.test(brands)) return 'avif';
  return /he[iv][cxms]|mif1|msf1/.test(brands) ? 'heic' : null;
}

/** Raw files of cameras are built like TIFF. */
function isRaw(text: string): boolean {
  return text.slice(8, 10) === 'CR' || /^(NIKON|SONY|PENTAX|OLYMPUS)/.test(text.slice(8, 40));
}

function isDrawing(head: Buffer): boolean {
  let text = head.toString('utf8');
  if (head[0] === 0x1f && head[1] === 0x8b)
    try {
      // The start of what is packed is enough, and its end is missing here.
      text = gunzipSync(head, { finishFlush: 2, maxOutputLength: 1e6 }).toString('utf8');
    } catch {
      return false;
    }
  const start = text.replace(/^\uFEFF/, '').trimStart();
  return start.startsWith('<') && /<(\w+:)?svg[\s>]/.test(start);
}

/** Other files that people bring, what they are, and what would work. */
const OTHERS: readonly (readonly [RegExp, string])[] = [
  [/^8BPS/, 'is a layered picture (PSD). Export it as PNG or TIFF and bring that'],
  [/^(\xff\x0a|\0\0\0\x0cJXL )/, 'is a JPEG XL picture. Save it as PNG and bring that'],
  [/^(%!PS|\xc5\xd0\xd3\xc6)/, 'is a PostScript drawing (EPS). Save it as PDF or SVG and bring that'],
  [/^.{4} xcf/, 'is a layered picture (XCF). Export it as PNG or TIFF and bring that'],
  [/^\0\0\x01\0/, 'is an icon file (ICO). Save its largest picture as PNG and bring that'],
  [/^....ftyp(qt|isom|mp4|M4V|avc1|3gp)/s, 'is a film. Save one frame of it as PNG and bring that'],
  [/^(II[*+]\0|MM\0[*+]|FUJIFILM)/, 'is a raw file of a camera. Develop it to TIFF or JPEG and bring that'],
  [/^PK\x03\x04/, 'is an archive or a document. Bring the pictures in it'],
  [/^\xd0\xcf\x11\xe0/, 'is an office document. Bring the pictures in it, or save it as PDF'],
  [/^(Rar!|7z\xbc\xaf)/, 'is an archive. Unpack it, or bring a ZIP'],
];

/** What a file is that is not read, as the end of a sentence; null where that is not known either. */
export function otherKind(head: Buffer): string | null {
  const text = head.toString('latin1');
  return OTHERS.find(([start]) => start.test(text))?.[1] ?? null;
}
