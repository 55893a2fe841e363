import { readFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { addGrain, asPicture, drawSubject, layOn, type Backdrop } from '../demo/picture';
import { bytesOf } from '../src/codec/picture-library';
import { seededRandom } from '../src/core/numeric/random';
import { createRaster, type Raster } from '../src/core/raster/raster';
import { logo, product, tassel } from './quality/draw';

/** Subjects are drawn in units of this size, as the cases of the yardstick are, at three times as many pixels. */
const UNITS = { width: 480, height: 360 };
const TIMES = 3;

type Kind = 'product' | 'logo' | 'threads';

/** A picture of some megapixels as a camera or a scanner saves it: drawn, enlarged, with grain, compressed. As JPEG. */
export async function largePicture(kind: Kind, megapixels: number): Promise<Buffer> {
  const random = seededRandom(7);
  const { width, height } = UNITS;
  const backdrop: Backdrop = kind === 'logo' ? () => [252, 252, 250] : shadowed;
  const away = [[240, 238, 232]];
  const draw = { product, logo, threads: tassel }[kind];
  const body = `<g transform="scale(${TIMES})">${draw(random, width, height, away)}</g>`;
  const subject = await drawSubject(body, TIMES * width, TIMES * height);
  const times = Math.sqrt((megapixels * 1e6) / (subject.width * subject.height));
  const wide = Math.round(subject.width * times);
  const { data, info } = await asPicture(layOn(subject, backdrop))
    .removeAlpha()
    .resize(wide, null, { kernel: 'lanczos3' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const picture = createRaster(info.width, info.height, bytesOf(data));
  if (kind !== 'logo') addGrain(picture, 1.2, random);
  return asPicture(picture).removeAlpha().jpeg({ quality: 90, chromaSubsampling: '4:2:0' }).toBuffer();
}

/** A pale backdrop that grows darker downward, with a soft shadow under the subject. */
function shadowed(x: number, y: number): readonly [number, number, number] {
  const [u, v] = [x / (TIMES * UNITS.width), y / (TIMES * UNITS.height)];
  const shadow = 0.3 * Math.exp(-(((u - 0.5) / 0.22) ** 2) - ((v - 0.8) / 0.07) ** 2);
  const light = (1 - 0.06 * v) * (1 - shadow);
  return [240 * light, 238 * light, 232 * light];
}

/** One of the practice pictures in `folder`, enlarged to so many megapixels. As JPEG. */
export async function enlarged(folder: string, name: string, megapixels: number): Promise<Buffer> {
  const picture = sharp(await readFile(path.join(folder, 'cases', name, 'input.jpg')));
  const { width, height } = await picture.metadata();
  const times = Math.sqrt((megapixels * 1e6) / (width * height));
  return picture
    .resize(Math.round(width * times), null, { kernel: 'lanczos3' })
    .jpeg({ quality: 90 })
    .toBuffer();
}

export async function decoded(picture: Buffer): Promise<Raster> {
  const { data, info } = await sharp(picture, { limitInputPixels: false })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return createRaster(info.width, info.height, bytesOf(data));
}
