import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { z } from 'zod';
import { getSetting, setSetting } from '../storage/settings';
import type { House } from './rooms';
import { importPiece } from './import-piece';

const listSchema = z.array(z.string());

/**
 * Puts the demo pieces, the photos or the series on the Shelf, each once: one that was loaded before does not come again.
 */
export async function loadDemo(house: House, which: 'pieces' | 'photos' | 'series'): Promise<void> {
  const folder = path.join(process.cwd(), 'demo', 'pictures');
  const list = listSchema.parse(JSON.parse(await readFile(path.join(folder, `${which}.json`), 'utf8')));
  for (const file of list) {
    const key = `demo:${file}`;
    if ((await getSetting(house.database, key)) !== null) continue;
    const body = Readable.toWeb(createReadStream(path.join(folder, file))) as ReadableStream<Uint8Array>;
    const { piece } = await importPiece(house, file, body);
    await setSetting(house.database, key, piece.id);
  }
}
