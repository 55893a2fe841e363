import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import type { ReadableStream } from 'node:stream/web';
import { gunzipSync } from 'node:zlib';
import { TextWriter, Uint8ArrayWriter, ZipReader, type FileEntry } from '@zip.js/zip.js';
import { MAX_BYTES } from '../core/intake-limits';
import { isKenosisError, KenosisError } from '../core/errors';
import { frameOf } from '../core/stages/prepare/frame';
import { addBundled } from '../storage/pieces';
import { BUNDLE_DOCUMENT, badBundle, decisionsEntry, parseBundle, type BundledPiece } from './bundle-format';
import { keepDecisions } from './decisions';
import { receive, type Imported } from './import-piece';
import { pieceName } from './piece-name';
import { readPicture } from './read-picture';
import type { House } from './rooms';
import { ZipFile } from './zip-file';

/** What a bundle, its document and all of it unpacked may have at most. */
const MOST_BUNDLE_BYTES = 4_000_000_000;
const MOST_DOCUMENT_BYTES = 100_000_000;
const MOST_DECIDED_BYTES = 10_000_000;
const MOST_ENTRIES = 5000;

/**
 * Takes the pieces of a bundle in. Everything is checked as if it came from nowhere: the document, every cut, and that each
 * original has the bytes it is named by and is a picture. A piece that is there already with the same revisions is known; one
 * whose work differs comes in beside it. Throws `bad-bundle`, and the codes of importing a picture; pieces before one that is
 * refused stay.
 */
export async function importBundle(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
  signal?: AbortSignal,
): Promise<Imported[]> {
  const name = pieceName(typedName);
  const incoming = await house.files.incomingPath();
  const arrived: Imported[] = [];
  try {
    await receive(body, incoming, name, MOST_BUNDLE_BYTES);
    const file = new ZipFile(incoming);
    const reader = new ZipReader(file);
    try {
      const entries = await entriesOf(reader, name);
      const pieces = parseBundle(await documentOf(entries, name), name);
      for (const [k, piece] of pieces.entries()) {
        const imported = await takeIn(house, name, entries, piece, signal);
        await takeDecisions(house, imported, entries.get(decisionsEntry(k)));
        arrived.push(imported);
      }
      return arrived;
    } finally {
      await reader.close().catch(() => undefined);
      await file.close();
    }
  } catch (cause) {
    if (!isKenosisError(cause) || cause.code !== 'bad-bundle') throw cause;
    const came =
      arrived.length === 0
        ? 'Nothing of it came in.'
        : `What stands before that came in (${arrived.length}).`;
    throw new KenosisError('bad-bundle', `${cause.message} ${came} Export it anew where it comes from.`, {
      cause,
    });
  } finally {
    await house.files.drop(incoming);
  }
}

async function entriesOf(reader: ZipReader<unknown>, name: string): Promise<Map<string, FileEntry>> {
  const entries = new Map<string, FileEntry>();
  try {
    for await (const entry of reader.getEntriesGenerator()) {
      if (entry.directory) continue;
      entries.set(entry.filename, entry);
      if (entries.size > MOST_ENTRIES) throw badBundle(name, `it holds more than ${MOST_ENTRIES} files`);
    }
  } catch (cause) {
    throw cause instanceof KenosisError ? cause : badBundle(name, 'it is a damaged ZIP', cause);
  }
  return entries;
}

async function documentOf(entries: ReadonlyMap<string, FileEntry>, name: string): Promise<string> {
  const entry = entries.get(BUNDLE_DOCUMENT);
  if (!entry) throw badBundle(name, `there is no ${BUNDLE_DOCUMENT} in it`);
  if (entry.uncompressedSize > MOST_DOCUMENT_BYTES) throw badBundle(name, `${BUNDLE_DOCUMENT} is too large`);
  try {
    return await entry.getData(new TextWriter(), { checkSignature: true });
  } catch (cause) {
    throw badBundle(name, `${BUNDLE_DOCUMENT} is damaged`, cause);
  }
}

async function takeIn(
  house: House,
  name: string,
  entries: ReadonlyMap<string, FileEntry>,
  piece: BundledPiece,
  signal: AbortSignal | undefined,
): Promise<Imported> {
  const { file, sha256 } = piece.original;
  const entry = entries.get(file);
  if (!entry) throw badBundle(name, `the original of "${piece.name}" is not in it`);
  const path = await house.files.incomingPath();
  try {
    await unpack(entry, path, name, piece.name, sha256);
    return await house.locks.acquire(sha256, async () => {
      const { page } = piece.revisions[0]!.cut;
      const own = pieceName(piece.name);
      const { fresh } = await readPicture(house, {
        path,
        name: own,
        sha256,
        page,
        damaged: 'accept',
        signal,
      });
      for (const { cut } of piece.revisions) {
        try {
          frameOf(cut.prepare, fresh.width, fresh.height);
        } catch (cause) {
          throw badBundle(name, `a cut of "${piece.name}": ${(cause as Error).message}`, cause);
        }
      }
      const isKept = await house.files.has('originals', sha256);
      if (!isKept) await house.files.keep(path, 'originals', sha256);
      const notes = piece.deliveries.length > 0 ? [deliveredBefore(piece.deliveries.length)] : [];
      const row = {
        ...fresh,
        backing: piece.backing,
        reason: piece.reason,
        notes: [...new Set([...piece.notes, ...notes])],
      };
      const added = await addBundled(house.database, row, piece.revisions, piece.position, page);
      return { ...added, healed: false };
    });
  } finally {
    await house.files.drop(path);
  }
}

/** Keeps what was decided of a piece that is new. What cannot be read is decided anew. */
async function takeDecisions(
  house: House,
  { piece, known }: Imported,
  entry: FileEntry | undefined,
): Promise<void> {
  if (known || !entry || entry.uncompressedSize > MOST_DECIDED_BYTES) return;
  try {
    const gzip = await entry.getData(new Uint8ArrayWriter(), { checkSignature: true });
    await keepDecisions(house, piece, gunzipSync(gzip, { maxOutputLength: 10 * MOST_DECIDED_BYTES }));
  } catch (error) {
    console.error(`What was decided of "${piece.name}" cannot be read; it is decided anew:`, error);
  }
}

function deliveredBefore(count: number): string {
  return `${count === 1 ? '1 delivery was' : `${count} deliveries were`} made of it where it comes from.`;
}

/** Writes an entry to a file, synced, and sees that it has the bytes it is named by. */
async function unpack(
  entry: FileEntry,
  to: string,
  name: string,
  piece: string,
  sha256: string,
): Promise<void> {
  if (entry.uncompressedSize > MAX_BYTES) throw badBundle(name, `the original of "${piece}" is too large`);
  const hash = createHash('sha256');
  const file = await open(to, 'wx');
  let bytes = 0;
  try {
    const into = new WritableStream<Uint8Array>({
      async write(chunk) {
        bytes += chunk.length;
        if (bytes > entry.uncompressedSize) throw new Error('larger than declared');
        hash.update(chunk);
        await file.appendFile(chunk);
      },
    });
    await entry.getData(into, { checkSignature: true });
    await file.sync();
  } catch (cause) {
    throw badBundle(name, `the original of "${piece}" is damaged`, cause);
  } finally {
    await file.close();
  }
  if (hash.digest('hex') !== sha256)
    throw badBundle(name, `the original of "${piece}" has other bytes than it says`);
}
