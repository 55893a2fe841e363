import { open } from 'node:fs/promises';
import type { Metadata } from 'sharp';
import { ONLY_PAGE, type Page } from '../core/cut/page';
import { isKenosisError, KenosisError } from '../core/errors';
import { inputNames, type InputFormat } from '../core/formats';
import { MAX_BYTES, MAX_PIXELS } from '../core/intake-limits';
import { sharp } from './picture-library';
import { readPngStructure } from './png-chunks';
import { assertPage } from './readers/pages';
import type { PageFacts } from './readers/reader';
import { readerOf } from './readers/readers';
import { formatOf, HEAD_BYTES, otherKind } from './readers/sniff';

/** What a picture file says of itself, and of one of its pages. */
export interface PictureFacts extends PageFacts {
  readonly format: InputFormat;
  readonly bytes: number;
}

/**
 * Reads a picture file's header and refuses what Kenosis does not take, before anything is decoded. `name` is what
 * the person calls the file. Throws `empty-file`, `too-many-bytes`, `not-a-picture`, `unsupported-format`, `damaged-picture`,
 * `too-many-pixels`, and `bad-argument` for a page that is not there.
 */
export async function inspectPicture(
  path: string,
  name: string,
  page: Page = ONLY_PAGE,
): Promise<PictureFacts> {
  const [facts] = await inspectPages(path, name, [page]);
  return facts!;
}

/** The same of several pages of a file, which is opened once. */
export async function inspectPages(
  path: string,
  name: string,
  pages: readonly Page[],
): Promise<PictureFacts[]> {
  const { bytes, head } = await startOf(path);
  if (bytes === 0)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was imported from it.`);
  if (bytes > MAX_BYTES) throw tooManyBytes(name);
  const format = formatOf(head);
  if (!format) throw notRead(name, head);
  const reader = readerOf(format);
  const facts = reader
    ? await readFacts(reader.facts({ path, name }, pages), name)
    : await libraryFacts(path, name, format, pages);
  for (const one of facts) assertPixels(name, one);
  return facts.map((one) => ({ ...one, format, bytes }));
}

function assertPixels(name: string, { width, height, drawn }: PageFacts): void {
  if (width * height <= MAX_PIXELS) return;
  throw new KenosisError(
    'too-many-pixels',
    `"${name}" has ${width} x ${height} pixels, more than ${MAX_PIXELS / 1e6} megapixels. ${drawn ? 'Read it smaller.' : 'Reduce it and bring it again.'}`,
  );
}

/** The format that a file starts like; null where it is none of those that are read. */
export async function formatAt(path: string): Promise<InputFormat | null> {
  return formatOf((await startOf(path)).head);
}

function notRead(name: string, head: Buffer): KenosisError {
  const kind = otherKind(head);
  return kind === null
    ? new KenosisError(
        'not-a-picture',
        `"${name}" is not a picture that can be read. Bring a ${inputNames('or')} file.`,
      )
    : new KenosisError('unsupported-format', `"${name}" ${kind}.`);
}

/** What a reader says; where it stumbles the file is damaged. */
async function readFacts(facts: Promise<PageFacts[]>, name: string): Promise<PageFacts[]> {
  try {
    return await facts;
  } catch (cause) {
    if (isKenosisError(cause)) throw cause;
    throw damagedHeader(name, cause);
  }
}

async function libraryFacts(
  path: string,
  name: string,
  format: InputFormat,
  wanted: readonly Page[],
): Promise<PageFacts[]> {
  const png = format === 'png' ? await readPngStructure(path) : null;
  if (png?.crowded) {
    throw new KenosisError(
      'damaged-picture',
      `"${name}" is damaged: more than 10,000 chunks stand beside its picture data. Save it anew and bring it again.`,
    );
  }
  const all = await metadataOf(path, name, 0);
  const pages = all.pages ?? 1;
  const notes = [...(png?.notes ?? []), ...(png?.animated ? [ONLY_FIRST] : [])];
  const facts: PageFacts[] = [];
  for (const page of wanted) {
    assertPage(name, page, pages);
    const own = page.number === 1 ? all : await metadataOf(path, name, page.number - 1);
    const { width, height } = own.autoOrient;
    const dpi = dpiOf(own.density, png?.hasDensity ?? false);
    facts.push({ width, height, dpi, pages, drawn: null, notes });
  }
  return facts;
}

const ONLY_FIRST = 'It is animated: only the picture that stands for it was taken.';

/** Phones and decoders fill this in where nobody measured anything; only a PNG that says so itself means it. */
const NOBODYS_DPI = 72;

function dpiOf(density: number | undefined, saidByPng: boolean): number | null {
  if (!density || !Number.isFinite(density)) return null;
  if (Math.abs(density - NOBODYS_DPI) < 0.05 && !saidByPng) return null;
  return Math.round(density * 100) / 100;
}

/** The error for a file over MAX_BYTES; also used while an upload is still coming in. */
export function tooManyBytes(name: string, mostBytes = MAX_BYTES): KenosisError {
  return new KenosisError(
    'too-many-bytes',
    `"${name}" is larger than ${mostBytes / 1e6} MB. Reduce it and bring it again.`,
  );
}

function damagedHeader(name: string, cause: unknown): KenosisError {
  return new KenosisError('damaged-picture', `"${name}" is damaged: its header cannot be read.`, { cause });
}

async function metadataOf(path: string, name: string, page: number): Promise<Metadata> {
  try {
    // Animated pictures are one tall strip to the library unless a page is named.
    return await sharp(path, { limitInputPixels: false, ...(page > 0 ? { page } : {}) }).metadata();
  } catch (cause) {
    throw damagedHeader(name, cause);
  }
}

async function startOf(path: string): Promise<{ readonly bytes: number; readonly head: Buffer }> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0);
    return { bytes: size, head: buffer.subarray(0, bytesRead) };
  } finally {
    await file.close();
  }
}
