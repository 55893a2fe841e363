import { sharp } from '../../codec/picture-library';

export interface SmallInput {
  readonly path: string;
  /** The longer side at most. */
  readonly mostPx: number;
  readonly outPath: string;
}

/** Makes a small picture of a file, upright, as lossy WebP. */
export async function smallPicture({ path, mostPx, outPath }: SmallInput) {
  const { width, height } = await sharp(path, { limitInputPixels: false })
    .autoOrient()
    .resize(mostPx, mostPx, { fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 80 })
    .toFile(outPath);
  return { width, height };
}
