import path from 'node:path';
import { LRUCache } from 'lru-cache';
import { readFile } from 'node:fs/promises';
import { KenosisError } from '../../core/errors';
import { sizeOfSource } from '../../core/proof/first-proof';
import { SHIPPED, type GroundSource } from '../../core/proof/settings';
import type { GroundFacts, GroundFile } from '../../engine/node/grounds';
import type { Database } from '../../storage/database';
import { currentCut, getPiece } from '../../storage/pieces';
import { getGround } from '../../storage/proofs';
import type { House } from '../rooms';

/** A ground as screens know it. */
export interface KnownGround extends GroundFacts {
  readonly name: string;
  /** Whether it is a page, which can be handed over as a PDF. */
  readonly isPage: boolean;
}

/** Grounds and pieces in their places are shown again and again: what was made of them is kept for a while. */
interface Kept {
  readonly facts: LRUCache<string, KnownGround>;
  readonly pictures: LRUCache<string, KeptPicture>;
}

const MOST_FACTS = 500;
const MOST_PICTURE_BYTES = 64_000_000;

const kept = new WeakMap<Database, Kept>();

function keptOf({ database }: Pick<House, 'database'>): Kept {
  let own = kept.get(database);
  if (!own) {
    own = {
      facts: new LRUCache({ max: MOST_FACTS }),
      pictures: new LRUCache({
        maxSize: MOST_PICTURE_BYTES,
        sizeCalculation: ({ bytes }) => bytes.length + 200,
      }),
    };
    kept.set(database, own);
  }
  return own;
}

/** The folder of the grounds that ship. */
function shippedPath(which: string): string {
  return path.join(/*turbopackIgnore: true*/ process.cwd(), 'grounds', `${which}.pdf`);
}

/** The file of a ground, and what it is called. Throws `not-found` where its PDF or its piece is gone, and `missing-original`. */
export async function groundFileOf(
  house: House,
  source: GroundSource,
): Promise<{
  readonly file: GroundFile;
  readonly path: string;
  readonly name: string;
  readonly pixels: number;
}> {
  const { database, files, originals } = house;
  switch (source.kind) {
    case 'shipped': {
      const { name } = sizeOfSource(source)!;
      const own = shippedPath(source.which);
      return { file: { kind: 'page', path: own, name, number: 1 }, path: own, name, pixels: 0 };
    }
    case 'pdf': {
      const { name } = await getGround(database, source.file);
      if (!(await files.has('grounds', source.file)))
        throw new KenosisError(
          'missing-original',
          `"${name}" is missing from the data folder. Bring it again.`,
        );
      const own = files.pathOf('grounds', source.file);
      return { file: { kind: 'page', path: own, name, number: source.page }, path: own, name, pixels: 0 };
    }
    case 'picture': {
      const piece = await getPiece(database, source.piece);
      const { cut } = await currentCut(database, piece.id);
      const own = await originals.pathOf(piece);
      const { name, width, height } = piece;
      return {
        file: { kind: 'picture', path: own, name, page: cut.page },
        path: own,
        name,
        pixels: width * height,
      };
    }
    case 'color': {
      const { name } = sizeOfSource(source)!;
      return { file: source, path: '', name, pixels: source.width * source.height };
    }
  }
}

/** What is known of a ground: its size, its pages, the line for a signature on it. Throws what reading it throws. */
export async function groundFactsOf(house: House, source: GroundSource): Promise<KnownGround> {
  const { facts } = keptOf(house);
  const key = JSON.stringify(source);
  const known = facts.get(key);
  if (known) return known;
  const { file, path: own, name, pixels } = await groundFileOf(house, source);
  const found = await house.pool.run('ground', { path: own, ground: file }, { pixels });
  const isSeveral = found.pages > 1;
  // A page that stands for a screen has pixels.
  const onScreen =
    source.kind === 'shipped' && SHIPPED[source.which].unit === 'px' ? SHIPPED[source.which] : null;
  const size = onScreen
    ? { unit: onScreen.unit, width: onScreen.width, height: onScreen.height, line: null }
    : {};
  const fresh: KnownGround = {
    ...found,
    ...size,
    name: isSeveral ? `${name}, page ${found.number}` : name,
    isPage: file.kind === 'page',
  };
  facts.set(key, fresh);
  return fresh;
}

/** A picture for the screen, and how large what it shows is. */
export interface KeptPicture {
  readonly bytes: Buffer;
  readonly width: number;
  readonly height: number;
}

/** A ground as a picture for the screen (WebP), about `widthPx` wide. */
export function groundPictureOf(
  house: House,
  source: GroundSource,
  widthPx: number,
  signal?: AbortSignal,
): Promise<KeptPicture> {
  return keptPicture(house, `ground ${widthPx} ${JSON.stringify(source)}`, async (outPath) => {
    const { file, path: own, pixels } = await groundFileOf(house, source);
    const input = { path: own, ground: file, widthPx, outPath };
    return house.pool.run('ground-picture', input, { pixels, signal });
  });
}

/** A picture that is kept for a while under a key, made by `make` into the file it is given. */
export async function keptPicture(
  house: House,
  key: string,
  make: (outPath: string) => Promise<Omit<KeptPicture, 'bytes'>>,
): Promise<KeptPicture> {
  const { pictures } = keptOf(house);
  const known = pictures.get(key);
  if (known) return known;
  const outPath = await house.files.incomingPath();
  try {
    const size = await make(outPath);
    const fresh = { ...size, bytes: await readFile(outPath) };
    pictures.set(key, fresh);
    return fresh;
  } finally {
    await house.files.drop(outPath);
  }
}
