import { open } from 'node:fs/promises';
import type { Metadata } from 'sharp';
import { KenosisError } from '../core/errors';
import { inputNames, isInputFormat, type InputFormat } from '../core/formats';
import { MAX_BYTES, MAX_PIXELS } from './limits';
import { sharp } from './picture-library';
import { readPngStructure } from './png-chunks';

/** What a picture file says of itself. Sizes are those after its orientation tag is obeyed. */
export interface PictureFacts {
  readonly format: InputFormat;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  /** Pixels per inch; null where the file names none, or the 72 that stands for none. */
  readonly dpi: number | null;
  /** What is wrong beside the picture itself, in sentences. */
  readonly notes: readonly string[];
}

/**
 * Reads a picture file's header and refuses what Kenosis does not take, before anything is decoded. `name` is what
 * the person calls the file. Throws `empty-file`, `too-many-bytes`, `not-a-picture`, `unsupported-format`,
 * `animated-picture` or `too-many-pixels`.
 */
export async function inspectPicture(path: string, name: string): Promise<PictureFacts> {
  const bytes = await sizeOf(path);
  if (bytes === 0)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was imported from it.`);
  if (bytes > MAX_BYTES) throw tooManyBytes(name);
  const start = await readHead(path, 12);
  const png = start.subarray(0, 8).equals(PNG_SIGNATURE) ? await readPngStructure(path) : null;
  if (png?.crowded) {
    throw new KenosisError(
      'damaged-picture',
      `"${name}" is damaged: more than 10,000 chunks stand beside its picture data. Save it anew and bring it again.`,
    );
  }
  const facts = await readMetadata(path, name, start);
  const format = knownFormat(facts, name);
  if (format === 'tiff' && (facts.pages ?? 1) > 1) {
    throw new KenosisError(
      'animated-picture',
      `"${name}" has ${facts.pages} pages. Kenosis works on single pictures: save the page you need and bring that.`,
    );
  }
  if ((facts.pages ?? 1) > 1 || png?.animated) {
    throw new KenosisError(
      'animated-picture',
      `"${name}" is animated. Kenosis works on single pictures: save one frame of it and bring that.`,
    );
  }
  const { width, height } = facts.autoOrient;
  if (width * height > MAX_PIXELS) {
    throw new KenosisError(
      'too-many-pixels',
      `"${name}" has ${width} x ${height} pixels, more than ${MAX_PIXELS / 1e6} megapixels. Reduce it and bring it again.`,
    );
  }
  return {
    format,
    bytes,
    width,
    height,
    dpi: dpiOf(facts.density, png?.hasDensity ?? false),
    notes: png?.notes ?? [],
  };
}

const PNG_SIGNATURE = Buffer.from('\x89PNG\r\n\x1a\n', 'latin1');

/** Phones and decoders fill this in where nobody measured anything; only a PNG that says so itself means it. */
const NOBODYS_DPI = 72;

function dpiOf(density: number | undefined, saidByPng: boolean): number | null {
  if (!density || !Number.isFinite(density)) return null;
  if (Math.abs(density - NOBODYS_DPI) < 0.05 && !saidByPng) return null;
  return Math.round(density * 100) / 100;
}

/** The error for a file over MAX_BYTES; also used while an upload is still coming in. */
export function tooManyBytes(name: string): KenosisError {
  return new KenosisError(
    'too-many-bytes',
    `"${name}" is larger than ${MAX_BYTES / 1e6} MB. Reduce it and bring it again.`,
  );
}

async function sizeOf(path: string): Promise<number> {
  const file = await open(path);
  try {
    return (await file.stat()).size;
  } finally {
    await file.close();
  }
}

async function readMetadata(path: string, name: string, start: Buffer): Promise<Metadata> {
  try {
    return await sharp(path, { limitInputPixels: false }).metadata();
  } catch (cause) {
    if (startsLikePicture(start)) {
      throw new KenosisError('damaged-picture', `"${name}" is damaged: its header cannot be read.`, {
        cause,
      });
    }
    throw new KenosisError(
      'not-a-picture',
      `"${name}" is not a picture that can be read. Bring a ${inputNames('or')} file.`,
      { cause },
    );
  }
}

function knownFormat(facts: Metadata, name: string): InputFormat {
  if (isInputFormat(facts.format)) return facts.format;
  throw new KenosisError(
    'unsupported-format',
    `"${name}" is a ${String(facts.format).toUpperCase()} file. Bring it as ${inputNames('or')}.`,
  );
}

function startsLikePicture(start: Buffer): boolean {
  const head = start.toString('latin1');
  const starts = ['\x89PNG', '\xff\xd8\xff', 'II*\0', 'MM\0*'];
  return starts.some((start) => head.startsWith(start)) || head.slice(8, 12) === 'WEBP';
}

async function readHead(path: string, length: number): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(length), 0, length, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}
