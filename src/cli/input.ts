import { createReadStream } from 'node:fs';
import { open, stat } from 'node:fs/promises';
import path from 'node:path';
import { decodePicture, type DamagePolicy } from '../codec/decode';
import { inspectPicture, tooManyBytes } from '../codec/inspect';
import { MAX_BYTES } from '../core/intake-limits';
import { proposedWidthPx } from '../codec/readers/reader';
import { badArgument, isKenosisError, KenosisError } from '../core/errors';
import { ONLY_PAGE, type Page } from '../core/cut/page';
import type { Raster } from '../core/raster/raster';
import type { PageWishes } from './args';
import { wordsOf } from '../core/system-words';
import { STANDARD, withSpool } from './output';

/** A picture as it was brought on the command line. */
export interface LoadedPicture {
  readonly original: Raster;
  readonly dpi: number | null;
  /** Which of the file's pictures it is. */
  readonly page: Page;
  /** What the person calls it. */
  readonly name: string;
  /** What the decoder remarked. */
  readonly notes: readonly string[];
}

/**
 * Reads a picture from a file, a pipe, or standard input for `-`: the page that is asked for, else that of a given cut. Throws
 * `not-found` where it cannot be read, `several-pictures` where one of several pages would have to be named, and the codes of
 * `inspectPicture` and `decodePicture`.
 */
export async function loadPicture(
  input: string,
  { damaged, pages }: { readonly damaged: DamagePolicy; readonly pages: PageWishes },
  given: Page | null = null,
): Promise<LoadedPicture> {
  const name = input === STANDARD ? 'standard input' : path.basename(input);
  const wanted = { damaged, pages, given };
  try {
    if (input === STANDARD) return await spooled(process.stdin, name, wanted);
    const facts = await stat(input);
    if (facts.isDirectory())
      throw new KenosisError('not-found', `"${input}" is a folder. Name one picture in it.`);
    if (!facts.isFile()) return await spooled(createReadStream(input), name, wanted);
    return await read(input, name, wanted);
  } catch (error) {
    if (isKenosisError(error)) throw error;
    throw new KenosisError('not-found', `"${input}" cannot be read: ${wordsOf(error)}.`, { cause: error });
  }
}

/** The text of a file, or of standard input for `-`. Throws `not-found`. */
export async function loadText(input: string): Promise<string> {
  try {
    const chunks: Buffer[] = [];
    const source = input === STANDARD ? process.stdin : createReadStream(input);
    for await (const chunk of source as AsyncIterable<Buffer>) chunks.push(chunk);
    return Buffer.concat(chunks).toString('utf8');
  } catch (cause) {
    throw new KenosisError('not-found', `"${input}" cannot be read: ${wordsOf(cause)}.`, { cause });
  }
}

/** Pictures are read from more than one place at once, which a pipe cannot give: so it is written down first. */
function spooled(
  source: AsyncIterable<Buffer | string>,
  name: string,
  wanted: Wanted,
): Promise<LoadedPicture> {
  return withSpool(async (spool) => {
    const file = await open(spool, 'wx', 0o600);
    try {
      let bytes = 0;
      for await (const chunk of source) {
        bytes += chunk.length;
        if (bytes > MAX_BYTES) throw tooManyBytes(name);
        await file.appendFile(chunk);
      }
    } finally {
      await file.close();
    }
    return read(spool, name, wanted);
  });
}

interface Wanted {
  readonly damaged: DamagePolicy;
  readonly pages: PageWishes;
  readonly given: Page | null;
}

async function read(file: string, name: string, { damaged, pages, given }: Wanted): Promise<LoadedPicture> {
  const page = await pageOf(file, name, pages, given);
  const facts = await inspectPicture(file, name, page);
  const { raster, notes } = await decodePicture(file, name, damaged, page);
  return { original: raster, dpi: facts.dpi, page, name, notes: [...facts.notes, ...notes] };
}

/** Which page is read, and how wide where it has no pixels of its own. */
async function pageOf(
  file: string,
  name: string,
  { number, dpi }: PageWishes,
  given: Page | null,
): Promise<Page> {
  if (number === null && dpi === null && given) return given;
  const first = { number: number ?? given?.number ?? ONLY_PAGE.number, widthPx: 1 };
  const { pages, drawn } = await inspectPicture(file, name, first);
  if (pages > 1 && number === null && !given)
    throw new KenosisError(
      'several-pictures',
      `"${name}" holds ${pages} pictures. Name one: --page 1 to --page ${pages}.`,
    );
  if (dpi !== null && !drawn) throw badArgument('--drawn-dpi', 'a page without pixels (SVG, PDF)', name);
  if (!drawn) return { number: first.number, widthPx: null };
  const widthPx = dpi === null ? proposedWidthPx(drawn) : Math.max(1, Math.round(drawn.widthIn * dpi));
  return { number: first.number, widthPx };
}
