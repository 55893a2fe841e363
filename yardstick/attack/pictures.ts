import sharp from 'sharp';
import { pngOf, tiffOf } from '../../tests/make/deep-files';
import { seededRandom } from '../../src/core/numeric/random';

/** A whole picture to be damaged. */
export interface BasePicture {
  readonly name: string;
  readonly format: 'png' | 'jpeg' | 'webp' | 'tiff';
  readonly bytes: Buffer;
}

const WIDTH = 72;
const HEIGHT = 56;

/** Small pictures of each readable format, in the ways it can be written. */
export async function basePictures(seed: number): Promise<BasePicture[]> {
  const random = seededRandom(seed);
  const rgb = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const inside = Math.hypot(x - WIDTH / 2, y - HEIGHT / 2) < 18 + 4 * Math.sin(x / 3);
      for (let c = 0; c < 3; c++)
        rgb[(y * WIDTH + x) * 3 + c] = (inside ? 40 + 60 * c : 236) + Math.floor(random() * 16);
    }
  const picture = () => sharp(rgb, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });
  const deep = {
    width: WIDTH,
    height: HEIGHT,
    channels: 3,
    depth: 16,
    values: [...rgb].map((value) => value * 257),
  } as const;
  const made: [name: string, format: BasePicture['format'], bytes: Buffer | Promise<Buffer>][] = [
    ['plain.png', 'png', picture().png().toBuffer()],
    ['palette.png', 'png', picture().png({ palette: true }).toBuffer()],
    ['interlaced.png', 'png', picture().png({ progressive: true }).toBuffer()],
    ['profile.png', 'png', picture().withMetadata({ density: 300 }).withIccProfile('p3').png().toBuffer()],
    ['deep.png', 'png', pngOf(deep, null)],
    ['plain.jpg', 'jpeg', picture().jpeg().toBuffer()],
    ['progressive.jpg', 'jpeg', picture().jpeg({ progressive: true }).toBuffer()],
    [
      'full.jpg',
      'jpeg',
      picture().jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).withMetadata().toBuffer(),
    ],
    ['gray.jpg', 'jpeg', picture().grayscale().jpeg().toBuffer()],
    ['lossy.webp', 'webp', picture().webp().toBuffer()],
    ['lossless.webp', 'webp', picture().webp({ lossless: true }).toBuffer()],
    ['alpha.webp', 'webp', picture().ensureAlpha(0.5).webp().toBuffer()],
    ['plain.tif', 'tiff', picture().tiff({ compression: 'none' }).toBuffer()],
    ['lzw.tif', 'tiff', picture().tiff({ compression: 'lzw' }).toBuffer()],
    ['deflate.tif', 'tiff', picture().tiff({ compression: 'deflate' }).toBuffer()],
    ['tiles.tif', 'tiff', picture().tiff({ compression: 'deflate', tile: true }).toBuffer()],
    ['jpeg.tif', 'tiff', picture().tiff({ compression: 'jpeg' }).toBuffer()],
    ['deep.tif', 'tiff', tiffOf(deep, 2, null)],
  ];
  return Promise.all(made.map(async ([name, format, bytes]) => ({ name, format, bytes: await bytes })));
}
