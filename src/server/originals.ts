import { stat } from 'node:fs/promises';
import { KenosisError } from '../core/errors';
import { hashFile } from '../engine/node/hash-file';
import type { FileStore } from '../storage/file-store';
import type { Piece } from '../storage/pieces';

type Kept = Pick<Piece, 'sha256' | 'name' | 'bytes'>;

/** The kept originals, each read through once before it is worked on. */
export interface Originals {
  /**
   * The path of a piece's original. Throws `missing-original`, or `changed-original` where its bytes are not those that came
   * in. Read through at the first call, and again only when the file has another time, size or place on the disk.
   */
  pathOf(piece: Kept): Promise<string>;
  /** Whether `pathOf` would give it. */
  isIntact(piece: Kept): Promise<boolean>;
}

export function createOriginals(files: FileStore): Originals {
  const checked = new Map<string, { readonly state: string; readonly result: Promise<void> }>();
  const pathOf: Originals['pathOf'] = async (piece) => {
    const path = files.pathOf('originals', piece.sha256);
    const facts = await stat(path).catch(() => null);
    if (!facts?.isFile())
      throw new KenosisError(
        'missing-original',
        `The original of "${piece.name}" is missing from the data folder. Its cut and its deliveries are safe: bring the same file again, and the piece is whole.`,
      );
    const state = `${facts.ino} ${facts.size} ${facts.mtimeMs}`;
    let known = checked.get(piece.sha256);
    if (known?.state !== state) {
      const result = assertSame(path, piece, facts.size);
      known = { state, result };
      checked.set(piece.sha256, known);
      // What could not be read now may be readable later.
      result.catch(() => checked.delete(piece.sha256));
    }
    await known.result;
    return path;
  };
  return {
    pathOf,
    isIntact: (piece) =>
      pathOf(piece).then(
        () => true,
        () => false,
      ),
  };
}

async function assertSame(path: string, piece: Kept, size: number): Promise<void> {
  const heal = 'Its cut and its deliveries are safe: bring the same file again, and the piece is whole.';
  if (size < piece.bytes)
    throw new KenosisError(
      'changed-original',
      `The original of "${piece.name}" was cut short in the data folder: ${size} of ${piece.bytes} bytes are left. ${heal}`,
    );
  const { sha256 } = await hashFile(path);
  if (sha256 !== piece.sha256)
    throw new KenosisError(
      'changed-original',
      `The original of "${piece.name}" was replaced or damaged in the data folder: its bytes are not those that came in. ${heal}`,
    );
}
