import { open, type FileHandle } from 'node:fs/promises';

/** What the chunks of a PNG tell without its picture being decoded (PNG, third edition, 5.3, 5.6, 11.2 and 11.3). */
export interface PngStructure {
  /** Has an `acTL` chunk. */
  readonly animated: boolean;
  /** Has a `pHYs` chunk that says pixels per meter. */
  readonly hasDensity: boolean;
  /** Has more chunks beside its image data than any picture needs. */
  readonly crowded: boolean;
  /** What is wrong beside the image data, in sentences. */
  readonly notes: readonly string[];
}

/** Chunks beside the image data; text and metadata are a few dozen at most. */
const MOST_CHUNKS = 10_000;

/** Read at a time. */
const WINDOW = 16_384;

/** Checksums of larger chunks beside the image data are not computed; a profile has a few kilobytes. */
const LARGEST_CHECKED = 4_000_000;

/** Walks over the chunks of a PNG. Image data are passed over: its decoder checks them. */
export async function readPngStructure(path: string): Promise<PngStructure> {
  const file = await open(path);
  try {
    return await walk(readerOf(file));
  } finally {
    await file.close();
  }
}

type Reader = (offset: number, length: number) => Promise<Buffer | null>;

async function walk(read: Reader): Promise<PngStructure> {
  const found = { animated: false, hasDensity: false };
  const damaged = new Set<string>();
  const told = (ending: readonly string[]) => ({
    ...found,
    crowded: false,
    notes: [
      ...(damaged.size > 0 ? [`Damaged beside its picture: ${[...damaged].slice(0, 5).join(', ')}.`] : []),
      ...ending,
    ],
  });
  for (let offset = 8, count = 0; ;) {
    const head = await read(offset, 8);
    if (!head) return told(['Its end is missing; its picture is whole.']);
    const length = head.readUInt32BE(0);
    const type = head.toString('latin1', 4, 8);
    if (type !== 'IDAT') {
      if (++count > MOST_CHUNKS) return { ...told([]), crowded: true };
      const chunk = length <= LARGEST_CHECKED ? await read(offset + 4, length + 8) : null;
      const isWhole =
        chunk !== null && crc32(chunk.subarray(0, length + 4)) === chunk.readUInt32BE(length + 4);
      if (type === 'IEND') return told(isWhole ? [] : ['Its end is damaged; its picture is whole.']);
      if (!isWhole && length <= LARGEST_CHECKED) damaged.add(nameOf(type));
      if (type === 'acTL') found.animated = true;
      if (type === 'pHYs') found.hasDensity = chunk?.[12] === 1;
    }
    offset += 12 + length;
  }
}

function nameOf(type: string): string {
  return /^[A-Za-z]{4}$/.test(type) ? `chunk ${type}` : 'a chunk without a name';
}

/** Reads through a window, so that many small reads are few large ones. */
function readerOf(file: FileHandle): Reader {
  const window = Buffer.alloc(WINDOW);
  let from = 0;
  let held = 0;
  return async (offset, length) => {
    if (length > WINDOW) {
      const { buffer, bytesRead } = await file.read(Buffer.alloc(length), 0, length, offset);
      return bytesRead < length ? null : buffer;
    }
    if (offset < from || offset + length > from + held) {
      from = offset;
      held = (await file.read(window, 0, WINDOW, offset)).bytesRead;
    }
    return length > held ? null : window.subarray(offset - from, offset - from + length);
  };
}

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let value = byte;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? 0xedb88320 ^ (value >>> 1) : value >>> 1;
  return value;
});

/** The checksum of PNG chunks (PNG, third edition, annex D). */
export function crc32(bytes: Uint8Array): number {
  let value = 0xffffffff;
  for (const byte of bytes) value = CRC_TABLE[(value ^ byte) & 0xff]! ^ (value >>> 8);
  return (value ^ 0xffffffff) >>> 0;
}
