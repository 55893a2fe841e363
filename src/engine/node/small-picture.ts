import { sharp } from '../../codec/picture-library';
import { KenosisError } from '../../core/errors';

export interface SmallInput {
  readonly path: string;
  /** The longer side at most. */
  readonly mostPx: number;
  readonly outPath: string;
}

/** Makes a small picture of a file, upright, as lossy WebP. Throws `unsupported-format` for what the picture library does not read. */
export async function smallPicture({ path, mostPx, outPath }: SmallInput) {
  try {
    const { width, height } = await sharp(path, { limitInputPixels: false })
      .autoOrient()
      .resize(mostPx, mostPx, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 80 })
      .toFile(outPath);
    return { width, height };
  } catch (cause) {
    throw new KenosisError(
      'unsupported-format',
      'No small picture can be made of this file. Open the file itself.',
      {
        cause,
      },
    );
  }
}
