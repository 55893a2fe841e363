import { open } from 'node:fs/promises';
import type { ReadableStream } from 'node:stream/web';
import { KenosisError } from '../core/errors';
import { getPiece, type Piece } from '../storage/pieces';
import type { House } from './rooms';
import { thumbnailKey } from './thumbnail';

/** All packed cutouts together have at most so many bytes; those that were kept longest ago go first. */
const MOST_BYTES = 2e9;

/** More than a packed cutout has, by pixel. */
const MOST_BYTES_A_PIXEL = 2;

/** Removes cutouts that another program made: they can be made again. */
export async function forgetOtherCutouts({
  files,
  program,
}: Pick<House, 'files' | 'program'>): Promise<void> {
  for (const key of await files.keysOf('cutouts'))
    if (!key.endsWith(`-${program}`)) await files.remove('cutouts', key);
}

/** The path of the full-size cutout of a piece at one revision, packed, as gzip; null where it is not kept. */
export async function keptCutout(house: House, pieceId: string, revision: number): Promise<string | null> {
  const key = cutoutKey(await getPiece(house.database, pieceId), revision, house);
  return (await house.files.has('cutouts', key)) ? house.files.pathOf('cutouts', key) : null;
}

/** Forgets a cutout that turned out to be another one than is rendered. */
export async function forgetCutout(house: House, piece: Piece, revision: number): Promise<void> {
  await house.files.remove('cutouts', cutoutKey(piece, revision, house));
}

/** Does work that may write a packed cutout of a revision to the path it is given, and keeps what it wrote. */
export async function keepingCutout<T extends { readonly packed: boolean }>(
  house: House,
  piece: Piece,
  revision: number,
  work: (cutoutPath: string) => Promise<T>,
): Promise<T> {
  const cutoutPath = await house.files.incomingPath();
  try {
    const result = await work(cutoutPath);
    if (result.packed) await keep(house, piece, revision, cutoutPath);
    return result;
  } finally {
    await house.files.drop(cutoutPath);
  }
}

/**
 * Keeps a packed cutout that the bench made of a revision, as gzip. Throws `conflict` where another program made it, and
 * `too-many-bytes`; then nothing is kept.
 */
export async function receiveCutout(
  house: House,
  pieceId: string,
  from: { readonly revision: number; readonly program: string },
  body: ReadableStream<Uint8Array>,
): Promise<void> {
  if (from.program !== house.program)
    throw new KenosisError('conflict', 'This page is of another Kenosis. Reload it.');
  const piece = await getPiece(house.database, pieceId);
  await keepingCutout(house, piece, from.revision, async (cutoutPath) => {
    const file = await open(cutoutPath, 'wx');
    try {
      let bytes = 0;
      for await (const chunk of body) {
        bytes += chunk.length;
        if (bytes > MOST_BYTES_A_PIXEL * piece.width * piece.height + 65_536)
          throw new KenosisError(
            'too-many-bytes',
            'The cutout is larger than one of its picture can be. Nothing was kept: it is made again when the piece is opened.',
          );
        await file.appendFile(chunk);
      }
    } finally {
      await file.close();
    }
    return { packed: true };
  });
}

/** Only the newest cutout of a piece is kept, and of a piece that is still there. */
async function keep(house: House, piece: Piece, revision: number, from: string): Promise<void> {
  const { database, files, locks } = house;
  const key = cutoutKey(piece, revision, house);
  await locks.acquire(piece.sha256, async () => {
    if ((await getPiece(database, piece.id)).createdAt !== piece.createdAt) return;
    await files.keep(from, 'cutouts', key);
    await files.removeOf('cutouts', piece.id, key);
  });
  await files.removeOldest('cutouts', MOST_BYTES);
}

function cutoutKey(piece: Piece, revision: number, { program }: Pick<House, 'program'>): string {
  return `${thumbnailKey(piece, revision)}-${program}`;
}
