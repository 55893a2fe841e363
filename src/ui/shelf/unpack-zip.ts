import { BlobReader, ZipReader, type FileEntry } from '@zip.js/zip.js';
import { MAX_BYTES } from '../../core/intake-limits';

/** What a ZIP may hold: checked by what it declares before anything is unpacked, and while it is. */
const MOST_ENTRIES = 2000;
const MOST_BYTES = 2_000_000_000;

/** Pictures out of a ZIP, and what was passed over. */
export interface Unpacked {
  readonly files: readonly File[];
  /** Why nothing, or not all of it, was taken; null where all was. */
  readonly trouble: string | null;
  /** It is a bundle of pieces, of which nothing was unpacked here. */
  readonly isBundle: boolean;
}

/** The document that makes a ZIP a bundle. */
const BUNDLE_DOCUMENT = 'kenosis.json';

/** Whether a file is a ZIP, by its first bytes. */
export async function isZip(file: Blob): Promise<boolean> {
  const start = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  return start[0] === 0x50 && start[1] === 0x4b && start[2] === 3 && start[3] === 4;
}

/** Files that systems put beside pictures. */
export function isClutter(path: string): boolean {
  return /(^|\/)(\.[^/.]|__MACOSX\/|Thumbs\.db$|desktop\.ini$)/i.test(path);
}

/**
 * Unpacks a ZIP that was dropped. Names become the last parts of their paths. Never rejects: what went wrong is told. More
 * entries, larger ones or more bytes than may come in are refused before they are unpacked; an entry that turns out larger than
 * it declares is given up.
 */
export async function unpackZip(zip: File): Promise<Unpacked> {
  const reader = new ZipReader(new BlobReader(zip));
  try {
    const entries: FileEntry[] = [];
    for await (const entry of reader.getEntriesGenerator()) {
      if (entry.directory || isClutter(entry.filename)) continue;
      if (entry.filename === BUNDLE_DOCUMENT) return { files: [], trouble: null, isBundle: true };
      entries.push(entry);
      if (entries.length > MOST_ENTRIES)
        return nothing(`"${zip.name}" holds more than ${MOST_ENTRIES} files. Bring it in parts.`);
    }
    const bytes = entries.reduce((sum, { uncompressedSize }) => sum + uncompressedSize, 0);
    if (bytes > MOST_BYTES)
      return nothing(
        `"${zip.name}" would unpack to more than ${MOST_BYTES / 1e9} GB. Nothing of it was unpacked. Bring it in parts.`,
      );
    if (entries.length === 0) return nothing(`"${zip.name}" holds no files.`);
    return await unpackAll(zip.name, entries);
  } catch {
    return nothing(`"${zip.name}" is no ZIP that can be read: it is damaged or incomplete. Pack it anew.`);
  } finally {
    await reader.close().catch(() => undefined);
  }
}

async function unpackAll(zip: string, entries: readonly FileEntry[]): Promise<Unpacked> {
  const files: File[] = [];
  const passed: string[] = [];
  for (const entry of entries) {
    const name = entry.filename.split(/[/\\]/).pop()!;
    if (entry.encrypted) passed.push(`${name} (locked with a password)`);
    else if (entry.uncompressedSize > MAX_BYTES) passed.push(`${name} (larger than ${MAX_BYTES / 1e6} MB)`);
    else {
      const file = await unpackOne(entry, name);
      if (file) files.push(file);
      else passed.push(`${name} (damaged)`);
    }
  }
  const trouble =
    passed.length === 0
      ? null
      : `Of "${zip}" ${passed.slice(0, 5).join(', ')}${passed.length > 5 ? ` and ${passed.length - 5} more` : ''} could not be taken.`;
  return { files, trouble, isBundle: false };
}

/** Null where an entry is damaged, or larger than it says. */
async function unpackOne(entry: FileEntry, name: string): Promise<File | null> {
  const chunks: BlobPart[] = [];
  let bytes = 0;
  const into = new WritableStream<Uint8Array<ArrayBuffer>>({
    write(chunk) {
      bytes += chunk.length;
      if (bytes > entry.uncompressedSize) throw new Error('larger than declared');
      chunks.push(chunk);
    },
  });
  try {
    await entry.getData(into, { checkSignature: true });
    return new File(chunks, name);
  } catch {
    return null;
  }
}

function nothing(trouble: string): Unpacked {
  return { files: [], trouble, isBundle: false };
}
