import { stat } from 'node:fs/promises';
import type { ReadableStream } from 'node:stream/web';
import { MOST_FONT_BYTES } from '../../codec/font/read-font';
import { KenosisError } from '../../core/errors';
import type { ShapeWish } from '../../core/watermark/shaped';
import { shapeTexts, type MaterialFiles, type ShapedText } from '../../engine/node/shape-texts';
import { listFonts, removeFont, saveFont, type FontEntry } from '../../storage/watermarks';
import { receive } from '../import-piece';
import { pieceName } from '../piece-name';
import type { House } from '../rooms';

/** Takes a font file in. Throws what reading it throws; then nothing was kept. */
export async function bringFont(
  house: House,
  typedName: string,
  body: ReadableStream<Uint8Array>,
): Promise<FontEntry> {
  const { files, locks, database, pool } = house;
  const name = pieceName(typedName);
  const incoming = await files.incomingPath();
  try {
    const sha256 = await receive(body, incoming, name, MOST_FONT_BYTES);
    const { size } = await stat(incoming);
    if (size === 0)
      throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was brought.`);
    return await locks.acquire(`font ${sha256}`, async () => {
      // What cannot be read is refused before it is kept.
      const facts = await pool.run('font', { path: incoming, name }, { pixels: 0 });
      await files.keep(incoming, 'fonts', sha256);
      const entry = { sha256, name, bytes: size, facts };
      await saveFont(database, entry);
      return entry;
    });
  } finally {
    await files.drop(incoming);
  }
}

/** Forgets a font and its file. Throws `conflict` where a watermark is set in it. */
export async function forgetFont({ database, files, locks }: House, sha256: string): Promise<void> {
  await locks.acquire(`font ${sha256}`, async () => {
    await removeFont(database, sha256);
    await files.remove('fonts', sha256);
  });
}

/**
 * Sets lines of text for the screen. What cannot be set says why in its place. What is in a typeface that ships is set here at once;
 * fonts from elsewhere are read in a thread, which may be ended.
 */
export async function shapedTexts(
  house: House,
  wishes: readonly ShapeWish[],
  signal: AbortSignal,
): Promise<ShapedText[]> {
  const foreign = wishes.filter(({ font }) => font.kind !== 'shipped');
  const ours = await shapeTexts({ wishes: wishes.filter(({ font }) => font.kind === 'shipped'), fonts: {} });
  const theirs = foreign.length === 0 ? [] : await inThread(house, foreign, signal);
  return wishes.map(({ font }) => (font.kind === 'shipped' ? ours.shift()! : theirs.shift()!));
}

async function inThread(
  house: House,
  wishes: readonly ShapeWish[],
  signal: AbortSignal,
): Promise<ShapedText[]> {
  const fonts: Record<string, MaterialFiles[string]> = {};
  for (const { sha256, name } of await listFonts(house.database))
    fonts[sha256] = { path: house.files.pathOf('fonts', sha256), name };
  return house.pool.run('shape', { wishes, fonts }, { signal, pixels: 0 });
}
