import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import type { ReadableStream, ReadableStreamDefaultReader } from 'node:stream/web';
import type { DamagePolicy } from '../codec/decode';
import { tooManyBytes } from '../codec/inspect';
import { MAX_BYTES } from '../codec/limits';
import { isOutOfSpace, KenosisError } from '../core/errors';
import { addPiece, findPieceByHash, setTrashed, type Piece } from '../storage/pieces';
import type { House } from './rooms';
import { pieceName } from './piece-name';
import { readPicture } from './read-picture';
import { thumbnailKey } from './thumbnail';

export interface Imported {
  readonly piece: Piece;
  /** The same bytes were on the Shelf already, or in the trash, from which they came back; nothing was added. */
  readonly known: boolean;
  /** The piece was there, and its kept original, lost or changed meanwhile, is whole again. */
  readonly healed: boolean;
}

/**
 * Takes a picture in from a stream of bytes. The original is kept untouched, the piece appears only when its file is
 * safe. Bytes that are known lead to the piece that is there, back from the trash where it was thrown away; where its
 * original was lost or changed they put it right. Throws the codes of `inspectPicture`, `damaged-picture` unless `damaged`
 * is `accept`, and `aborted`; then nothing is left behind.
 */
export async function importPiece(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
  options: { readonly damaged?: DamagePolicy; readonly signal?: AbortSignal } = {},
): Promise<Imported> {
  const name = pieceName(typedName);
  const incoming = await house.files.incomingPath();
  try {
    const sha256 = await receive(body, incoming, name);
    // One after another for the same bytes: they may be on their way in a second time, or out for good.
    return await house.locks.acquire(sha256, () => settle(house, incoming, name, sha256, options));
  } finally {
    await house.files.drop(incoming);
  }
}

async function settle(
  house: House,
  incoming: string,
  name: string,
  sha256: string,
  { damaged = 'refuse', signal }: { readonly damaged?: DamagePolicy; readonly signal?: AbortSignal },
): Promise<Imported> {
  const there = await findPieceByHash(house.database, sha256);
  if (there) {
    const healed = !(await house.originals.isIntact(there));
    if (healed) await house.files.keep(incoming, 'originals', sha256);
    if (there.trashed) await setTrashed(house.database, [there.id], false);
    return { piece: { ...there, trashed: false }, known: true, healed };
  }
  const thumbnailPath = await house.files.incomingPath();
  try {
    const seen = await readPicture(house, { path: incoming, name, sha256, damaged, thumbnailPath, signal });
    await house.files.keep(incoming, 'originals', sha256);
    const added = await addPiece(house.database, seen.fresh, seen.cut);
    if (seen.pictured && !added.known)
      await house.files.keep(thumbnailPath, 'thumbnails', thumbnailKey(added.piece, added.piece.revision));
    return { ...added, healed: false };
  } finally {
    await house.files.drop(thumbnailPath);
  }
}

/**
 * Writes a stream to a file, synced, within MAX_BYTES. Returns its SHA-256. Where the disk is full the rest is taken and let
 * go, since the next request on the same line would wait for it.
 */
async function receive(body: ReadableStream<Uint8Array>, to: string, name: string): Promise<string> {
  const hash = createHash('sha256');
  const reader = body.getReader();
  let full: unknown = null;
  let bytes = 0;
  const file = await open(to, 'wx');
  try {
    for (;;) {
      const { done, value } = await nextOf(reader, name);
      if (done) break;
      bytes += value.length;
      if (bytes > MAX_BYTES) {
        await reader.cancel().catch(() => undefined);
        throw tooManyBytes(name);
      }
      if (full) continue;
      hash.update(value);
      await file.appendFile(value).catch((error: unknown) => (full = error));
    }
    await file.sync().catch((error: unknown) => (full ??= error));
  } finally {
    await file.close();
  }
  if (!full) return hash.digest('hex');
  if (!isOutOfSpace(full)) throw full as Error;
  throw new KenosisError(
    'no-space',
    `"${name}" did not fit on the disk. Nothing of it was kept. Free some space and bring it again.`,
    { cause: full },
  );
}

async function nextOf(reader: ReadableStreamDefaultReader<Uint8Array>, name: string) {
  try {
    return await reader.read();
  } catch (cause) {
    throw new KenosisError('aborted', `"${name}" broke off while it was coming in. Bring it again.`, {
      cause,
    });
  }
}
