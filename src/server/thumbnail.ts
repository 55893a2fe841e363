import { cutOfRevision, getPiece } from '../storage/pieces';
import type { House } from './house';

const inWork = new Map<string, Promise<void>>();

/** The path of a piece's thumbnail at one revision; made at the first request, shared by those that come meanwhile. */
export async function thumbnailOf(house: House, pieceId: string, revision: number): Promise<string> {
  const key = `${pieceId}-${revision.toString(16)}`;
  const kept = house.files.pathOf('thumbnails', key);
  if (await house.files.has('thumbnails', key)) return kept;
  let work = inWork.get(key);
  if (!work) {
    work = makeThumbnail(house, pieceId, revision, key).finally(() => inWork.delete(key));
    inWork.set(key, work);
  }
  await work;
  return kept;
}

async function makeThumbnail(house: House, pieceId: string, revision: number, key: string): Promise<void> {
  const piece = await getPiece(house.database, pieceId);
  const cut = await cutOfRevision(house.database, pieceId, revision);
  const outPath = house.files.incomingPath();
  try {
    const originalPath = house.files.pathOf('originals', piece.sha256);
    await house.pool.run('thumbnail', { originalPath, originalName: piece.name, cut, outPath });
    await house.files.keep(outPath, 'thumbnails', key);
  } finally {
    await house.files.drop(outPath);
  }
}
