import { open } from 'node:fs/promises';

/** What the chunks of a PNG before its image data tell (PNG, third edition, 11.2 and 11.3). */
export interface PngHead {
  /** Has an `acTL` chunk. */
  readonly animated: boolean;
  /** Has a `pHYs` chunk that says pixels per meter. */
  readonly hasDensity: boolean;
  /** Has more chunks than any picture needs. */
  readonly crowded: boolean;
}

/** Chunks before the image data; text and metadata are a few dozen at most. */
const MOST_CHUNKS = 10_000;

/** Read at a time. */
const WINDOW = 65_536;

/** Walks over the chunks of a PNG up to its image data. */
export async function readPngHead(path: string): Promise<PngHead> {
  const file = await open(path);
  const window = Buffer.alloc(WINDOW);
  let from = 0;
  let held = 0;
  const at = async (offset: number, length: number): Promise<Buffer | null> => {
    if (offset < from || offset + length > from + held) {
      from = offset;
      held = (await file.read(window, 0, WINDOW, offset)).bytesRead;
    }
    return length > held ? null : window.subarray(offset - from, offset - from + length);
  };
  const found = { animated: false, hasDensity: false, crowded: false };
  try {
    let offset = 8;
    for (let count = 0; ; count++) {
      if (count > MOST_CHUNKS) return { ...found, crowded: true };
      const head = await at(offset, 8);
      const type = head?.toString('latin1', 4, 8);
      if (!head || type === 'IDAT' || type === 'IEND') return found;
      const length = head.readUInt32BE(0);
      if (type === 'acTL') found.animated = true;
      if (type === 'pHYs') found.hasDensity = (await at(offset + 8, 9))?.[8] === 1;
      offset += 12 + length;
    }
  } finally {
    await file.close();
  }
}
