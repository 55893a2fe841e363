import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { seededRandom } from '../src/core/numeric/random';
import { addGrain, asPicture, drawSubject, layOn, litBy } from './picture';
import { demoPieces, type DemoPiece } from './pieces';
import { drawGrounds } from './grounds';
import { demoPhotos } from './photos';
import { drawScene, SAMPLES } from './scenes';
import { demoSeries } from './series';

/** Draws all demo pictures into demo/pictures, and beside each its truth: the subject alone, as RGBA. */
const SEED = 20260;
const folder = path.join(process.cwd(), 'demo', 'pictures');
await mkdir(folder, { recursive: true });

await drawAll(demoPieces(SEED), 'pieces.json');
await drawAll(demoPhotos(SEED), 'photos.json');
await drawAll(demoSeries(SEED), 'series.json');
const grounds = path.join(process.cwd(), 'grounds');
await mkdir(grounds, { recursive: true });
await drawGrounds(grounds);
await drawSamples(path.join(process.cwd(), 'public', 'samples'));

/** Draws the photos that watermarks are shown on. */
async function drawSamples(into: string): Promise<void> {
  await mkdir(into, { recursive: true });
  for (const [k, { scene, width, height }] of SAMPLES.entries())
    await asPicture(drawScene(scene, SEED + 60 + k, width, height))
      .removeAlpha()
      .jpeg({ quality: 86, chromaSubsampling: '4:4:4' })
      .toFile(path.join(into, `${scene}.jpg`));
}

/** Draws pictures and writes a list of them, in order. */
async function drawAll(pieces: readonly DemoPiece[], list: string): Promise<void> {
  for (const piece of pieces) await draw(piece);
  await writeFile(
    path.join(folder, list),
    `${JSON.stringify(
      pieces.map(({ file }) => file),
      null,
      2,
    )}\n`,
  );
}

async function draw(piece: DemoPiece): Promise<void> {
  const subject = await drawSubject(piece.subject, piece.width, piece.height);
  const laid = layOn(piece.light ? litBy(subject, piece.light) : subject, piece.backdrop);
  if (piece.grain) addGrain(laid, piece.grain, seededRandom(SEED + piece.width));
  const picture = asPicture(laid).removeAlpha().withMetadata({ density: piece.dpi });
  const encoded =
    piece.jpegQuality === null
      ? picture.png({ compressionLevel: 9 })
      : picture.jpeg({ quality: piece.jpegQuality, chromaSubsampling: '4:2:0' });
  await encoded.toFile(path.join(folder, piece.file));
  const stem = piece.file.replace(/\.\w+$/, '');
  await asPicture(subject)
    .png({ compressionLevel: 9, adaptiveFiltering: true })
    .toFile(path.join(folder, `${stem}.truth.png`));
  console.log(`${piece.file}: ${piece.width} x ${piece.height}`);
}
