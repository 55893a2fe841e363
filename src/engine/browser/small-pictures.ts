import type { Ground, View } from '../../core/view/compose';
import type { Raster } from '../../core/raster/raster';
import { STAGES } from '../../core/stages/stages';
import type { Answer, StagePicture } from '../protocol';

/** Size of a stage's small picture, in CSS pixels: twice that of the stage strip, since the overview shows it too. */
const THUMBNAIL = { width: 168, height: 92 };

/** The longer side of an answer's picture, in CSS pixels: twice what is shown. */
const ANSWER = 176;

/** The checkerboard behind pale areas. */
const DARK = { light: 0x6e6e6e, dark: 0x5a5a5a } as const;

/** A view that holds a whole picture in the middle, and the checkerboard behind it. */
function smallView(
  size: { readonly width: number; readonly height: number },
  width: number,
  height: number,
  density: number,
): { view: View; ground: Ground } {
  const scale = Math.min(width / size.width, height / size.height);
  const view = {
    scale,
    left: Math.round((width - size.width * scale) / 2),
    top: Math.round((height - size.height * scale) / 2),
    width,
    height,
  };
  const ground = { light: 0xf2f2f2, dark: 0xd9d9d9, around: 0xe6e6e6, cellPx: Math.round(12 * density) };
  return { view, ground };
}

/** A picture over the checkerboard for each answer, as large as the piece's shape allows. */
export function answerPictures(
  size: { readonly width: number; readonly height: number },
  density: number,
  isOnDark: boolean,
  compose: (what: Answer, view: View, ground: Ground, out: Uint8ClampedArray) => void,
): Record<Answer, ImageBitmap> {
  const longer = Math.max(size.width, size.height);
  const side = (own: number) => Math.max(1, Math.round((ANSWER * density * own) / longer));
  const { view, ground } = smallView(size, side(size.width), side(size.height), density);
  const behind = isOnDark ? { ...ground, ...DARK } : ground;
  const pictureOf = (what: Answer) => {
    const seen = new Uint8ClampedArray(view.width * view.height * 4);
    compose(what, view, behind, seen);
    return bitmapOf(seen, view.width, view.height);
  };
  return { keep: pictureOf('keep'), clear: pictureOf('clear') };
}

/** Small pictures over the checkerboard, one after each stage, and the alpha of the last alone. */
export function thumbnails(
  size: { readonly width: number; readonly height: number },
  density: number,
  compose: (what: StagePicture | 'alpha', view: View, ground: Ground, out: Uint8ClampedArray) => void,
): { pictures: Record<StagePicture, ImageBitmap>; silhouette: ImageBitmap } {
  const width = Math.round(THUMBNAIL.width * density);
  const height = Math.round(THUMBNAIL.height * density);
  const { view, ground } = smallView(size, width, height, density);
  const pictures = Object.fromEntries(
    STAGES.map(({ key: stage }) => {
      const seen = new Uint8ClampedArray(width * height * 4);
      compose(stage, view, ground, seen);
      return [stage, bitmapOf(seen, width, height)];
    }),
  ) as Record<StagePicture, ImageBitmap>;
  const gray = new Uint8ClampedArray(width * height * 4);
  compose('alpha', view, { ...ground, around: 0 }, gray);
  const silhouette = new Uint8ClampedArray(gray.length);
  for (let p = 0; p < gray.length; p += 4) silhouette[p + 3] = gray[p]!;
  return { pictures, silhouette: bitmapOf(silhouette, width, height) };
}

/** A raster as a bitmap with alpha, for the screen only. */
export function bitmapOfRaster({ data, width, height }: Raster): ImageBitmap {
  return bitmapOf(new Uint8ClampedArray(data), width, height);
}

function bitmapOf(pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
  return canvas.transferToImageBitmap();
}
