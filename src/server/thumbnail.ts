import { KenosisError } from '../core/errors';
import { pieceKey } from '../storage/own-files';
import { cutOfRevision, getPiece, type Piece } from '../storage/pieces';
import { pieceInput } from './decisions';
import type { House } from './rooms';

/** A thumbnail being made, and how many wait for it; nobody left ends it. */
interface Work {
  readonly done: Promise<void>;
  readonly abort: AbortController;
  waiting: number;
}

const inWork = new Map<string, Work>();

/** Under which name a piece's thumbnail is kept. */
export function thumbnailKey(piece: Piece, revision: number): string {
  return `${pieceKey(piece)}-${revision.toString(16)}`;
}

/**
 * The path of a piece's thumbnail at one revision; made at the first request where the piece did not bring it along,
 * shared by those that come meanwhile.
 */
export async function thumbnailOf(
  house: House,
  pieceId: string,
  revision: number,
  signal?: AbortSignal,
): Promise<string> {
  const piece = await getPiece(house.database, pieceId);
  const key = thumbnailKey(piece, revision);
  const kept = house.files.pathOf('thumbnails', key);
  if (await house.files.has('thumbnails', key)) return kept;
  const work = inWork.get(key) ?? begin(house, piece, revision, key);
  work.waiting++;
  const leave = () => {
    if (--work.waiting > 0) return;
    work.abort.abort();
    forget(key, work);
  };
  signal?.addEventListener('abort', leave, { once: true });
  try {
    await work.done;
    return kept;
  } finally {
    signal?.removeEventListener('abort', leave);
  }
}

function begin(house: House, piece: Piece, revision: number, key: string): Work {
  const abort = new AbortController();
  const done = makeThumbnail(house, piece, revision, key, abort.signal).finally(() => forget(key, work));
  const work: Work = { done, abort, waiting: 0 };
  inWork.set(key, work);
  return work;
}

function forget(key: string, work: Work): void {
  if (inWork.get(key) === work) inWork.delete(key);
}

async function makeThumbnail(
  house: House,
  piece: Piece,
  revision: number,
  key: string,
  signal: AbortSignal,
): Promise<void> {
  const { database, files, pool, locks } = house;
  const cut = await cutOfRevision(database, piece.id, revision);
  const outPath = await files.incomingPath();
  try {
    const pixels = piece.width * piece.height;
    const input = await pieceInput(house, piece, cut);
    await pool.run('thumbnail', { ...input, outPath }, { signal, pixels });
    await locks.acquire(piece.sha256, async () => {
      const now = await getPiece(database, piece.id);
      if (now.createdAt !== piece.createdAt)
        throw new KenosisError('not-found', 'This piece was deleted meanwhile.');
      await files.keep(outPath, 'thumbnails', key);
    });
  } finally {
    await files.drop(outPath);
  }
}
