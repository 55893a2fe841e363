import { copyFile, mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createReadStream } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import sharp from 'sharp';
import { drawnFiles, type DrawnPiece } from '../src/server/demo-pieces';
import { openHouse } from '../src/server/house';
import { pieceInput } from '../src/server/decisions';
import { importPiece } from '../src/server/import-piece';
import { thumbnailOf } from '../src/server/thumbnail';
import { currentCut } from '../src/storage/pieces';

/**
 * Draws up what the demo knows of its pictures: cuts and findings of pieces, and thumbnails of all, so that a new house has them at
 * once. Photos and the series are left uncut: they are to be marked, and to be cut by a run. The same for pieces and photos at half
 * their size, on which tests run: a quarter of the pixels tells as much in a quarter of the time.
 */
const pictures = path.join(process.cwd(), 'demo', 'pictures');
const small = path.join(process.cwd(), 'tests', 'fixtures', 'small-demo');
const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-demo-'));
const house = await openHouse(folder);
for (const which of ['pieces', 'photos', 'series'])
  for (const file of await listed(which)) await drawUp(pictures, file, which === 'pieces');
await mkdir(small, { recursive: true });
for (const which of ['pieces', 'photos']) {
  await copyFile(path.join(pictures, `${which}.json`), path.join(small, `${which}.json`));
  for (const file of await listed(which)) {
    await halveInto(small, file);
    await drawUp(small, file, which === 'pieces');
  }
}
await house.close();
await rm(folder, { recursive: true });

async function listed(which: string): Promise<string[]> {
  return JSON.parse(await readFile(path.join(pictures, `${which}.json`), 'utf8')) as string[];
}

async function halveInto(into: string, file: string): Promise<void> {
  const picture = sharp(path.join(pictures, file));
  const { width, height, density } = await picture.metadata();
  const half = picture
    .resize(Math.round(width / 2), Math.round(height / 2))
    .withMetadata(density ? { density } : {});
  await (file.endsWith('.png') ? half.png() : half.jpeg({ quality: 95, chromaSubsampling: '4:4:4' })).toFile(
    path.join(into, file),
  );
}

async function drawUp(from: string, file: string, proposes: boolean): Promise<void> {
  const body = Readable.toWeb(createReadStream(path.join(from, file))) as ReadableStream<Uint8Array>;
  const { piece } = await importPiece(house, file, body, { proposes });
  const { id, revision, width, height, ...rest } = piece;
  const { cut } = await currentCut(house.database, id);
  const input = await pieceInput(house, piece, cut);
  const { counts } = await house.pool.run(
    'check',
    { ...input, cutoutPath: path.join(folder, 'packed') },
    { pixels: width * height },
  );
  const { sha256, format, bytes, dpi, backing, reason, notes } = rest;
  const facts = { sha256, format, bytes, width, height, dpi, backing, reason, notes };
  const drawn = { ...facts, cut: revision === 0 ? null : cut, findings: { ...counts } } as DrawnPiece;
  const names = drawnFiles(file);
  await writeFile(path.join(from, names.facts), `${JSON.stringify(drawn, null, 2)}\n`);
  await copyFile(await thumbnailOf(house, id, revision), path.join(from, names.thumbnail));
  console.log(`${file}: ${JSON.stringify(counts)}`);
}
