import { createReadStream } from 'node:fs';
import { open, stat } from 'node:fs/promises';
import path from 'node:path';
import { decodePicture, type DamagePolicy } from '../codec/decode';
import { inspectPicture, tooManyBytes } from '../codec/inspect';
import { MAX_BYTES } from '../codec/limits';
import { isKenosisError, KenosisError } from '../core/errors';
import type { Raster } from '../core/raster/raster';
import { STANDARD, withSpool, wordsOf } from './output';

/** A picture as it was brought on the command line. */
export interface LoadedPicture {
  readonly original: Raster;
  readonly dpi: number | null;
  /** What the person calls it. */
  readonly name: string;
  /** What the decoder remarked. */
  readonly notes: readonly string[];
}

/**
 * Reads a picture from a file, a pipe, or standard input for `-`. Throws `not-found` where it cannot be read, and the codes
 * of `inspectPicture` and `decodePicture`.
 */
export async function loadPicture(input: string, damaged: DamagePolicy = 'refuse'): Promise<LoadedPicture> {
  const name = input === STANDARD ? 'standard input' : path.basename(input);
  try {
    if (input === STANDARD) return await spooled(process.stdin, name, damaged);
    const facts = await stat(input);
    if (facts.isDirectory())
      throw new KenosisError('not-found', `"${input}" is a folder. Name one picture in it.`);
    if (!facts.isFile()) return await spooled(createReadStream(input), name, damaged);
    return await read(input, name, damaged);
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
  damaged: DamagePolicy,
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
    return read(spool, name, damaged);
  });
}

async function read(file: string, name: string, damaged: DamagePolicy): Promise<LoadedPicture> {
  const facts = await inspectPicture(file, name);
  const { raster, notes } = await decodePicture(file, name, damaged);
  return { original: raster, dpi: facts.dpi, name, notes: [...facts.notes, ...notes] };
}
