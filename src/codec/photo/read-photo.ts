import { readFile } from 'node:fs/promises';
import type { Metadata, Sharp } from 'sharp';
import { KenosisError } from '../../core/errors';
import type { InputFormat } from '../../core/formats';
import { MAX_PIXELS } from '../../core/intake-limits';
import type { Marked } from '../../core/watermark/settings';
import { isDamage, decodeMaster } from '../decode';
import { inspectPicture } from '../inspect';
import { bytesOf, sharp } from '../picture-library';
import { exifOf, exifOfTiff, takenOn } from './exif';
import type { PhotoSays } from './embed';
import { xmpInJpeg } from './jpeg-parts';

/** Formats that come out as they came in. */
export const PHOTO_FORMATS = ['jpeg', 'png', 'webp', 'tiff'] as const;

export type PhotoFormat = (typeof PHOTO_FORMATS)[number];

/** A photo before it is marked. */
export interface Photo {
  readonly format: InputFormat;
  /** Pixels as they are stored, in the photo's own color space. */
  readonly pixels: Uint8Array;
  readonly width: number;
  readonly height: number;
  readonly channels: 3 | 4;
  /** How they are to be seen (Exif, 1 to 8). */
  readonly orientation: number;
  readonly says: PhotoSays;
  /** The day it was taken; null where it says none. */
  readonly taken: string | null;
  readonly isResized: boolean;
  /** What was done to its colors, in sentences. */
  readonly notes: readonly string[];
}

/** What a photo says of itself, before it is decoded. */
export interface PhotoHead {
  readonly format: InputFormat;
  readonly metadata: Metadata | null;
  readonly exif: Buffer | null;
}

/** Reads the head of a photo. Throws what refusing a picture throws, and `several-pictures`. */
export async function readPhotoHead(path: string, name: string): Promise<PhotoHead> {
  const { format, pages, drawn } = await inspectPicture(path, name);
  if (drawn)
    throw new KenosisError(
      'unsupported-format',
      `"${name}" is a drawing, and marks are put on photos. Bring a picture with pixels.`,
    );
  if (pages > 1)
    throw new KenosisError(
      'several-pictures',
      `"${name}" holds ${pages} pictures, and marks are put on files of one. Save the one you mean as a file of its own.`,
    );
  if (!(PHOTO_FORMATS as readonly string[]).includes(format)) return { format, metadata: null, exif: null };
  const metadata = await sharp(path, { limitInputPixels: MAX_PIXELS }).metadata();
  const exif = format === 'tiff' ? exifOfTiff(await readFile(path)) : exifOf(metadata.exif);
  return { format, metadata, exif };
}

const NOTHING: PhotoSays = { exif: null, xmp: null, extendedXmp: null, icc: null, iptc: null, dpi: null };

/**
 * Decodes a photo, made smaller where that is wished. What is RGB of 8 bits keeps its own color space and stands as it is stored;
 * all else becomes sRGB of 8 bits, which a note says. Throws `damaged-picture`.
 */
export async function readPhoto(
  path: string,
  name: string,
  head: PhotoHead,
  resize: Marked['resize'],
): Promise<Photo> {
  const { format, metadata, exif } = head;
  const taken = takenOn(exif);
  if (!metadata) return fromMaster(path, name, format, resize);
  const { space, channels, icc, iptc, xmp, density, depth } = metadata;
  const dpi = density && Number.isFinite(density) && density > 0 ? density : null;
  const isOwn =
    (space === 'srgb' || space === 'rgb' || space === 'rgb16') && (channels === 3 || channels === 4);
  const says: PhotoSays = {
    exif,
    ...(format === 'jpeg' ? saidInJpeg(await readFile(path)) : { xmp: xmp ?? null, extendedXmp: null }),
    icc: isOwn ? (icc ?? null) : null,
    iptc: iptc ?? null,
    dpi,
  };
  const notes: string[] = [];
  if (space === 'cmyk') notes.push('Its inks (CMYK) were converted to sRGB: colors may look different.');
  if (depth !== 'uchar') notes.push('It had more than 8 bits a channel, and has 8 now.');
  const size = sizeFor(metadata, resize);
  const own = { limitInputPixels: MAX_PIXELS, ignoreIcc: isOwn };
  const decode = (failOn: 'warning' | 'error') => {
    const picture = sharp(path, { ...own, failOn });
    const resized: Sharp = size ? picture.resize(size.width, size.height, { fit: 'fill' }) : picture;
    return resized.toColourspace('srgb').raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  };
  try {
    const { data, info } = await decode('warning').catch((cause: unknown) => {
      if (isDamage(cause)) throw cause;
      return decode('error');
    });
    return {
      format,
      ...(info.channels === 3 || info.channels === 4
        ? { pixels: bytesOf(data), channels: info.channels }
        : spread(bytesOf(data), info.channels)),
      width: info.width,
      height: info.height,
      orientation: metadata.orientation ?? 1,
      says,
      taken,
      isResized: size !== null,
      notes,
    };
  } catch (cause) {
    throw new KenosisError(
      'damaged-picture',
      `"${name}" is damaged: its picture data break off or contradict themselves. Nothing was made of it; the file is as it was. Save it anew and bring it again.`,
      { cause },
    );
  }
}

function saidInJpeg(file: Buffer): Pick<PhotoSays, 'xmp' | 'extendedXmp'> {
  const { packet, extended } = xmpInJpeg(file);
  return { xmp: packet === null ? null : Buffer.from(packet, 'utf8'), extendedXmp: extended };
}

/** Pictures of other formats, upright and in sRGB. */
async function fromMaster(
  path: string,
  name: string,
  format: InputFormat,
  resize: Marked['resize'],
): Promise<Photo> {
  const master = await decodeMaster(path, name);
  const size = sizeFor(master, resize);
  const raw = sharp(master.data, { raw: { width: master.width, height: master.height, channels: 4 } });
  const made = size
    ? await raw.resize(size.width, size.height, { fit: 'fill' }).raw().toBuffer()
    : Buffer.from(master.data.buffer, master.data.byteOffset, master.data.byteLength);
  const pixels = bytesOf(made);
  const isOpaque = pixels.every((value, p) => p % 4 !== 3 || value === 255);
  const { width, height } = size ?? master;
  const about = {
    format,
    width,
    height,
    orientation: 1,
    says: NOTHING,
    taken: null,
    isResized: size !== null,
  };
  const notes = ['It came as a format that is not written: what it says beside its pixels was left behind.'];
  if (!isOpaque) return { ...about, pixels, channels: 4, notes };
  return { ...about, pixels: withoutAlpha(pixels), channels: 3, notes };
}

function withoutAlpha(rgba: Uint8Array): Uint8Array {
  const out = new Uint8Array((rgba.length / 4) * 3);
  for (let p = 0, q = 0; p < rgba.length; p += 4, q += 3) {
    out[q] = rgba[p]!;
    out[q + 1] = rgba[p + 1]!;
    out[q + 2] = rgba[p + 2]!;
  }
  return out;
}

/** Gray as red, green and blue. */
function spread(
  gray: Uint8Array,
  channels: number,
): { readonly pixels: Uint8Array; readonly channels: 3 | 4 } {
  const to = channels === 2 ? 4 : 3;
  const out = new Uint8Array((gray.length / channels) * to);
  for (let p = 0, q = 0; p < gray.length; p += channels, q += to) {
    out[q] = out[q + 1] = out[q + 2] = gray[p]!;
    if (to === 4) out[q + 3] = gray[p + 1]!;
  }
  return { pixels: out, channels: to };
}

/** The size a photo is made; null where it stays as large as it is. */
export function sizeFor(
  { width, height }: { readonly width: number; readonly height: number },
  resize: Marked['resize'],
): { readonly width: number; readonly height: number } | null {
  const scale =
    resize.kind === 'own'
      ? 1
      : resize.kind === 'long'
        ? resize.px / Math.max(width, height)
        : Math.sqrt((resize.megapixels * 1e6) / (width * height));
  if (scale >= 1) return null;
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}
