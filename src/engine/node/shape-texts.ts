import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { LRUCache } from 'lru-cache';
import { faceOf, shapeLine, type Face } from '../../codec/font/shape';
import { isKenosisError, KenosisError } from '../../core/errors';
import type { ShapedLine, ShapeWish } from '../../core/watermark/shaped';

/** Where fonts and cutouts lie that documents name, by the SHA-256 of their bytes. */
export type MaterialFiles = Readonly<Record<string, { readonly path: string; readonly name: string }>>;

/** The bytes of a font or a cutout that a document names. Throws `missing-material`, which says which. */
export async function readMaterial(
  noun: 'font' | 'cutout',
  { name, file }: { readonly name: string; readonly file: string },
  files: MaterialFiles,
): Promise<{ readonly name: string; readonly bytes: Buffer }> {
  const known = files[file];
  try {
    if (known) return { name: known.name || name, bytes: await readFile(known.path) };
  } catch (cause) {
    if ((cause as NodeJS.ErrnoException).code !== 'ENOENT') throw cause;
  }
  throw missingMaterial(noun, name);
}

export function missingMaterial(noun: 'font' | 'cutout', name: string): KenosisError {
  return new KenosisError(
    'missing-material',
    `The ${noun} ${name === '' ? 'that was brought for it' : `"${name}"`} is not there any more, so the watermark cannot be put on photos. Nothing was marked. ${noun === 'font' ? 'Bring the font file again, or choose another typeface' : 'Choose its cutout again'}.`,
  );
}

export interface ShapeInput {
  readonly wishes: readonly ShapeWish[];
  readonly fonts: MaterialFiles;
}

export type ShapedText = ShapedLine | { readonly trouble: string };

/** Faces that were read last; a mark needs few. */
const faces = new LRUCache<string, Promise<Face>>({ max: 24 });

function knownFace(
  { font, weight }: Pick<ShapeWish, 'font' | 'weight'>,
  fonts: MaterialFiles,
): Promise<Face> {
  const key = createHash('sha256')
    .update(JSON.stringify([font, weight]))
    .digest('hex');
  const known = faces.get(key);
  if (known) return known;
  const face = faceOf({ font, weight }, (wanted) => readMaterial('font', wanted, fonts));
  face.catch(() => faces.delete(key));
  faces.set(key, face);
  return face;
}

/** Sets a line of text. Throws `no-letters`, `bad-font`, and `bad-watermark` for a font that is not there. */
export async function shaped(
  { font, weight, text, ligatures }: ShapeWish,
  fonts: MaterialFiles,
): Promise<ShapedLine> {
  return shapeLine(await knownFace({ font, weight }, fonts), text, ligatures);
}

/** Sets lines of text. What cannot be set says why in its place. */
export async function shapeTexts({ wishes, fonts }: ShapeInput): Promise<ShapedText[]> {
  return Promise.all(
    wishes.map((wish) =>
      shaped(wish, fonts).catch((error: unknown) => {
        if (isKenosisError(error)) return { trouble: error.message };
        throw error;
      }),
    ),
  );
}
