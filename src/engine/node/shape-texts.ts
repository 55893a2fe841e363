import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { LRUCache } from 'lru-cache';
import { faceOf, shapeLine, type Face } from '../../codec/font/shape';
import { isKenosisError, KenosisError } from '../../core/errors';
import type { ShapedLine, ShapeWish } from '../../core/watermark/shaped';

/** Where fonts that were brought lie, by the SHA-256 of their bytes. */
export type FontFiles = Readonly<Record<string, { readonly path: string; readonly name: string }>>;

export interface ShapeInput {
  readonly wishes: readonly ShapeWish[];
  readonly fonts: FontFiles;
}

export type ShapedText = ShapedLine | { readonly trouble: string };

/** Faces that were read last; a mark needs few. */
const faces = new LRUCache<string, Promise<Face>>({ max: 24 });

function knownFace({ font, weight }: Pick<ShapeWish, 'font' | 'weight'>, fonts: FontFiles): Promise<Face> {
  const key = createHash('sha256')
    .update(JSON.stringify([font, weight]))
    .digest('hex');
  const known = faces.get(key);
  if (known) return known;
  const face = faceOf({ font, weight }, async (sha256) => {
    const file = fonts[sha256];
    if (!file)
      throw new KenosisError(
        'bad-watermark',
        'The watermark names a font file that is not here. Export it again where it was made: its fonts come with it.',
      );
    return { name: file.name, bytes: await readFile(file.path) };
  });
  face.catch(() => faces.delete(key));
  faces.set(key, face);
  return face;
}

/** Sets a line of text. Throws `no-letters`, `bad-font`, and `bad-watermark` for a font that is not there. */
export async function shaped(
  { font, weight, text, ligatures }: ShapeWish,
  fonts: FontFiles,
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
