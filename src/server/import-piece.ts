import { createHash } from 'node:crypto';
import { access, open } from 'node:fs/promises';
import type { ReadableStream, ReadableStreamDefaultReader } from 'node:stream/web';
import type { DamagePolicy } from '../codec/decode';
import { tooManyBytes } from '../codec/inspect';
import { MAX_BYTES } from '../core/intake-limits';
import { isOutOfSpace, KenosisError } from '../core/errors';
import type { Page } from '../core/cut/page';
import { addPiece, findPieceByHash, setTrashed, shelvePieces, type Piece } from '../storage/pieces';
import { choiceOf, widthFor, type DrawnSize, type PageChoice } from './page-choice';
import { keepDecisions } from './decisions';
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

export interface ImportOptions {
  readonly damaged?: DamagePolicy;
  readonly signal?: AbortSignal;
  /** Which pages of the file; null asks where there are several, or where it is drawn without pixels. */
  readonly pages?: readonly number[] | null;
  /** How large pages without pixels are read. */
  readonly drawn?: DrawnSize;
  /** Whether a first cut is proposed. */
  readonly proposes?: boolean;
}

/** What became of a file: pieces, or what has to be chosen first. */
export type Arrival =
  | { readonly arrived: readonly Imported[]; readonly choice: null }
  | { readonly arrived: null; readonly choice: PageChoice };

/**
 * Takes pictures in from a stream of bytes. The original is kept untouched, a piece appears only when its file is
 * safe. Bytes that are known lead to the piece that is there, back from the trash where it was thrown away; where its
 * original was lost or changed they put it right. Throws the codes of `inspectPicture`, `damaged-picture` unless `damaged`
 * is `accept`, and `aborted`; then nothing is left behind, but pages that came before.
 */
export async function importFile(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
  options: ImportOptions = {},
): Promise<Arrival> {
  const name = pieceName(typedName);
  const incoming = await house.files.incomingPath();
  try {
    const sha256 = await receive(body, incoming, name);
    // One after another for the same bytes: they may be on their way in a second time, or out for good.
    return await house.locks.acquire(sha256, () => settleFile(house, incoming, name, sha256, options));
  } finally {
    await house.files.drop(incoming);
  }
}

/** The same with a file that holds one picture. Throws `unsupported-format` where something would have to be chosen. */
export async function importPiece(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
  options: Omit<ImportOptions, 'pages' | 'drawn'> = {},
): Promise<Imported> {
  const { arrived } = await importFile(house, typedName, body, options);
  if (arrived) return arrived[0]!;
  throw new KenosisError(
    'unsupported-format',
    `"${typedName}" holds several pictures, or none with pixels. Drop it on the Shelf and choose there.`,
  );
}

async function settleFile(
  house: House,
  incoming: string,
  name: string,
  sha256: string,
  options: ImportOptions,
): Promise<Arrival> {
  const { pages = null, drawn = { kind: 'proposed' } } = options;
  const only = pages === null && (await findPieceByHash(house.database, sha256));
  const choice = only ? null : await choiceOf(house, incoming, name, options);
  if (choice && pages === null) return { arrived: null, choice };
  const arrived: Imported[] = [];
  for (const number of pages ?? [1]) {
    // Once a page has kept the original, further ones are read from there.
    const isHere = await access(incoming).then(
      () => true,
      () => false,
    );
    const path = isHere ? incoming : house.files.pathOf('originals', sha256);
    const widthPx = choice?.drawn ? await widthFor(house.pool, path, name, number, drawn) : null;
    const own = choice && choice.pages > 1 ? pageName(name, number) : name;
    arrived.push(await settle(house, path, own, sha256, { number, widthPx }, options));
  }
  return { arrived, choice: null };
}

/** `kites.pdf` -> `kites-3.pdf` */
function pageName(name: string, number: number): string {
  const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(name)!;
  return `${stem}-${number}${ending ?? ''}`;
}

async function settle(
  house: House,
  path: string,
  name: string,
  sha256: string,
  page: Page,
  { damaged = 'refuse', proposes = true, signal }: ImportOptions,
): Promise<Imported> {
  const keep = async () => {
    if (path !== house.files.pathOf('originals', sha256)) await house.files.keep(path, 'originals', sha256);
  };
  const there = await findPieceByHash(house.database, sha256, page);
  if (there) {
    const healed = !(await house.originals.isIntact(there));
    if (healed) await keep();
    if (there.trashed) await setTrashed(house.database, [there.id], false);
    await shelvePieces(house.database, [there.id]);
    return { piece: { ...there, trashed: false }, known: true, healed };
  }
  const thumbnailPath = await house.files.incomingPath();
  try {
    const picture = { path, name, sha256, page, damaged, thumbnailPath, proposes, signal };
    const seen = await readPicture(house, picture);
    await keep();
    const added = await addPiece(house.database, seen.fresh, seen.cut, page);
    if (!added.known) await keepDecisions(house, added.piece, seen.decisions);
    if (seen.pictured && !added.known)
      await house.files.keep(thumbnailPath, 'thumbnails', thumbnailKey(added.piece, added.piece.revision));
    return { ...added, healed: false };
  } finally {
    await house.files.drop(thumbnailPath);
  }
}

/**
 * Writes a stream to a file, synced, within so many bytes. Returns its SHA-256. Where the disk is full the rest is taken and let
 * go, since the next request on the same line would wait for it.
 */
export async function receive(
  body: ReadableStream<Uint8Array>,
  to: string,
  name: string,
  mostBytes = MAX_BYTES,
): Promise<string> {
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
      if (bytes > mostBytes) {
        await reader.cancel().catch(() => undefined);
        throw tooManyBytes(name, mostBytes);
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
