import { open, type FileHandle } from 'node:fs/promises';
import { promisify } from 'node:util';
import { inflate } from 'node:zlib';

/**
 * Checks the parts of a TIFF's first picture (TIFF 6.0, section 2): whether they lie within the file, and, where they are
 * compressed with Deflate, whether each is whole with its checksum. Its decoder stops when it has its rows, and never looks.
 */

const unpack = promisify(inflate);

const COMPRESSION = 259;
const OFFSETS = new Set([273, 324]);
const COUNTS = new Set([279, 325]);
const DEFLATE = new Set([8, 32_946]);

/** Parts of a picture; more are not looked at one by one. */
const MOST_PARTS = 200_000;

/** What is wrong, in a word for the log; null where nothing is, or where the file is of a kind that is not read here. */
export async function checkTiff(path: string): Promise<string | null> {
  const file = await open(path);
  try {
    const directory = await readDirectory(file);
    return directory ? await checkParts(file, directory) : null;
  } finally {
    await file.close();
  }
}

interface Directory {
  readonly compression: number;
  readonly offsets: readonly number[];
  readonly counts: readonly number[];
}

async function readDirectory(file: FileHandle): Promise<Directory | null> {
  const head = await take(file, 0, 8);
  const order = head?.toString('latin1', 0, 2);
  if (!head || (order !== 'II' && order !== 'MM')) return null;
  const little = order === 'II';
  const u16 = (bytes: Buffer, at: number) => (little ? bytes.readUInt16LE(at) : bytes.readUInt16BE(at));
  const u32 = (bytes: Buffer, at: number) => (little ? bytes.readUInt32LE(at) : bytes.readUInt32BE(at));
  if (u16(head, 2) !== 42) return null;
  const start = u32(head, 4);
  const size = await take(file, start, 2);
  const entries = size && (await take(file, start + 2, 12 * u16(size, 0)));
  if (!entries) return null;
  let compression = 1;
  let offsets: number[] = [];
  let counts: number[] = [];
  for (let at = 0; at < entries.length; at += 12) {
    const tag = u16(entries, at);
    if (tag === COMPRESSION) compression = u16(entries, at + 8);
    if (!OFFSETS.has(tag) && !COUNTS.has(tag)) continue;
    const [width, read] = u16(entries, at + 2) === 3 ? ([2, u16] as const) : ([4, u32] as const);
    const count = u32(entries, at + 4);
    if (count > MOST_PARTS) return null;
    const inside = width * count <= 4 ? entries.subarray(at + 8, at + 12) : null;
    const values = inside ?? (await take(file, u32(entries, at + 8), width * count));
    if (!values) return null;
    const list = Array.from({ length: count }, (_, k) => read(values, k * width));
    if (OFFSETS.has(tag)) offsets = list;
    else counts = list;
  }
  return { compression, offsets, counts };
}

async function checkParts(
  file: FileHandle,
  { compression, offsets, counts }: Directory,
): Promise<string | null> {
  if (offsets.length !== counts.length) return null;
  const { size } = await file.stat();
  for (const [k, offset] of offsets.entries()) {
    const count = counts[k]!;
    // A part of which nothing was written stands for emptiness.
    if (count === 0) continue;
    if (offset + count > size) return 'a part lies beyond the end';
    if (!DEFLATE.has(compression)) continue;
    const bytes = await take(file, offset, count);
    const isWhole =
      bytes &&
      (await unpack(bytes).then(
        () => true,
        () => false,
      ));
    if (!isWhole) return 'a compressed part is not whole';
  }
  return null;
}

async function take(file: FileHandle, at: number, length: number): Promise<Buffer | null> {
  const { buffer, bytesRead } = await file.read(Buffer.alloc(length), 0, length, at);
  return bytesRead < length ? null : buffer;
}
