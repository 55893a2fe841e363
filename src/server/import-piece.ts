import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { inspectPicture, tooManyBytes } from '../codec/inspect';
import { MAX_BYTES } from '../codec/limits';
import { isKenosisError, KenosisError } from '../core/errors';
import { addPiece, findPieceByHash, setTrashed, type Piece } from '../storage/pieces';
import type { House } from './house';

export interface Imported {
  readonly piece: Piece;
  /** The same bytes were on the Shelf already, or in the trash, from which they came back; nothing was added. */
  readonly known: boolean;
}

/** The backing a new piece is first seen on. */
export const FIRST_BACKING = 'checker';

/**
 * Takes a picture in from a stream of bytes. The original is kept untouched, the piece appears only when its file is
 * safe. Throws the codes of `inspectPicture` and `damaged-picture`; then nothing is left behind.
 */
export async function importPiece(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
): Promise<Imported> {
  const name = displayName(typedName);
  const incoming = house.files.incomingPath();
  try {
    const sha256 = await receive(body, incoming, name);
    const there = await findPieceByHash(house.database, sha256);
    if (there && (await house.files.has('originals', sha256))) {
      if (there.trashed) await setTrashed(house.database, [there.id], false);
      return { piece: { ...there, trashed: false }, known: true };
    }
    const facts = await inspectPicture(incoming, name);
    const { width, height, proposal } = await house.pool.run('look', { path: incoming, name });
    await house.files.keep(incoming, 'originals', sha256);
    const fresh = { ...facts, width, height, sha256, name, backing: FIRST_BACKING, reason: proposal.reason };
    return await addPiece(house.database, fresh, proposal.cut);
  } finally {
    await house.files.drop(incoming);
  }
}

/** Writes a stream to a file, synced, within MAX_BYTES. Returns its SHA-256. */
async function receive(body: ReadableStream<Uint8Array>, to: string, name: string): Promise<string> {
  const hash = createHash('sha256');
  let bytes = 0;
  const meter = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      hash.update(chunk);
      done(bytes > MAX_BYTES ? tooManyBytes(name) : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(body), meter, createWriteStream(to));
  } catch (cause) {
    if (isKenosisError(cause)) throw cause;
    if ((cause as NodeJS.ErrnoException).code === 'ENOSPC') {
      throw new KenosisError(
        'no-space',
        `"${name}" did not fit on the disk. Free some space and bring it again.`,
        { cause },
      );
    }
    throw new KenosisError('aborted', `"${name}" broke off while it was coming in. Bring it again.`, {
      cause,
    });
  }
  const file = await open(to, 'r+');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
  return hash.digest('hex');
}

/** The last part of whatever path a browser sent, without control characters, of a length that fits a label. */
export function displayName(typed: string): string {
  const last = typed.split(/[/\\]/).pop() ?? '';

  return (
    last
      .replace(/[\u0000-\u001f\u007f]/g, '')
      .trim()
      .slice(0, 200) || 'pasted picture'
  );
}
