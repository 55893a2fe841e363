import { copyFile, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createReadStream } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { drawnFiles, type DrawnPiece } from '../src/server/demo-pieces';
import { openHouse } from '../src/server/house';
import { importPiece } from '../src/server/import-piece';
import { thumbnailOf } from '../src/server/thumbnail';
import { currentCut } from '../src/storage/pieces';

/**
 * Draws up what the demo knows of its pictures: cuts and findings of pieces, and thumbnails of all, so that a new house has them at
 * once. Photos and the series are left uncut: they are to be marked, and to be cut by a run.
 */
const pictures = path.join(process.cwd(), 'demo', 'pictures');
const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-demo-'));
const house = await openHouse(folder);
for (const which of ['pieces', 'photos', 'series']) {
  const list = JSON.parse(await readFile(path.join(pictures, `${which}.json`), 'utf8')) as string[];
  for (const file of list) await drawUp(file, which === 'pieces');
}
await house.close();
await rm(folder, { recursive: true });

async function drawUp(file: string, proposes: boolean): Promise<void> {
  const body = Readable.toWeb(createReadStream(path.join(pictures, file))) as ReadableStream<Uint8Array>;
  const { piece } = await importPiece(house, file, body, { proposes });
  const { id, revision, name, width, height, ...rest } = piece;
  const { cut } = await currentCut(house.database, id);
  const originalPath = await house.originals.pathOf(piece);
  const { counts } = await house.pool.run(
    'check',
    { originalPath, originalName: name, cut, cutoutPath: path.join(folder, 'packed') },
    { pixels: width * height },
  );
  const { sha256, format, bytes, dpi, backing, reason, notes } = rest;
  const facts = { sha256, format, bytes, width, height, dpi, backing, reason, notes };
  const drawn = { ...facts, cut: revision === 0 ? null : cut, findings: { ...counts } } as DrawnPiece;
  const names = drawnFiles(file);
  await writeFile(path.join(pictures, names.facts), `${JSON.stringify(drawn, null, 2)}\n`);
  await copyFile(await thumbnailOf(house, id, revision), path.join(pictures, names.thumbnail));
  console.log(`${file}: ${JSON.stringify(counts)}`);
}
