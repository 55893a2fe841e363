import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { seededRandom } from '../src/core/numeric/random';
import { addGrain, asPicture, drawSubject, layOn, litBy } from './picture';
import { demoPieces } from './pieces';

/** Draws all demo pictures into demo/pictures, and beside each its truth: the subject alone, as RGBA. */
const SEED = 20260;
const folder = path.join(process.cwd(), 'demo', 'pictures');
await mkdir(folder, { recursive: true });

const list: string[] = [];
for (const piece of demoPieces(SEED)) {
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
  list.push(piece.file);
  console.log(`${piece.file}: ${piece.width} x ${piece.height}`);
}
await writeFile(path.join(folder, 'pieces.json'), `${JSON.stringify(list, null, 2)}\n`);
