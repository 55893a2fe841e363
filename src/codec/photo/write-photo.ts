import type { Sharp } from 'sharp';
import { readFile, writeFile } from 'node:fs/promises';
import { deflateSync } from 'node:zlib';
import type { Marked } from '../../core/watermark/settings';
import { KenosisError } from '../../core/errors';
import { orientedView } from '../../core/watermark/photo-view';
import { failed, NO_DIFFERENCE } from '../outputs/compare';
import type { Verified } from '../outputs/output-codec';
import { sharp } from '../picture-library';
import { syncFile } from '../sync-file';
import { embeddedInJpeg, embeddedInPng, embeddedInTiff, embeddedInWebp, type PhotoSays } from './embed';
import { changedExif } from './exif';
import { placeLeftIn } from './places-left';
import { PHOTO_FORMATS, type Photo, type PhotoFormat } from './read-photo';
import { changedXmp } from './xmp';

/** What is written beside the pixels. */
export type PhotoChange = Pick<Marked, 'location' | 'author' | 'copyright'> & { readonly mark: string };

/** The format that a photo comes out in. */
export function formatOf({ format }: Pick<Photo, 'format'>, wished: Marked['format']): PhotoFormat {
  if (wished !== 'same') return wished;
  return (PHOTO_FORMATS as readonly string[]).includes(format) ? (format as PhotoFormat) : 'jpeg';
}

/** A JPEG has no alpha: what was clear lies on white. */
const UNDER_ALPHA = { r: 255, g: 255, b: 255 };

/**
 * Writes a photo with what it says of itself: orientation, color profile, Exif, XMP; syncs it, reads it back and compares. Returns
 * what was found, and in sentences what was lost. Throws `verification-failed`.
 */
export async function writePhoto(
  photo: Photo,
  {
    format,
    quality,
    change,
  }: { readonly format: PhotoFormat; readonly quality: number; readonly change: PhotoChange },
  outPath: string,
): Promise<{ readonly verified: Verified; readonly lost: readonly string[] }> {
  // Few programs obey the orientation that a PNG says: its pixels stand upright.
  const isTurned = format === 'png' && photo.orientation > 1;
  const own = isTurned ? upright(photo) : photo;
  const { says, lost } = changedSays(own, change, isTurned, format);
  const { width, height, channels, pixels } = own;
  const picture = sharp(pixels, { raw: { width, height, channels }, limitInputPixels: false });
  const written = { file: Buffer.alloc(0), lost };
  if (format === 'jpeg') {
    const flat = channels === 4 ? picture.flatten({ background: UNDER_ALPHA }) : picture;
    const jpeg = await flat.jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer();
    const embedded = embeddedInJpeg(jpeg, says);
    written.file = Buffer.from(embedded.file);
    written.lost = [
      ...lost,
      ...embedded.lost,
      ...(channels === 4 ? ['A JPEG has no alpha: what was clear lies on white.'] : []),
    ];
  } else if (format === 'png') {
    const png = await picture.png({ compressionLevel: 6 }).toBuffer();
    written.file = Buffer.from(embeddedInPng(png, says, (bytes) => deflateSync(bytes)));
  } else if (format === 'webp') {
    const webp = await picture.webp({ quality, alphaQuality: 100, smartSubsample: true }).toBuffer();
    written.file = Buffer.from(embeddedInWebp(webp, says, { width, height, hasAlpha: channels === 4 }));
  } else {
    const perMm = (says.dpi ?? 72) / 25.4;
    const tiff = await picture
      .tiff({
        compression: 'deflate',
        predictor: 'horizontal',
        xres: perMm,
        yres: perMm,
        resolutionUnit: 'inch',
      })
      .toBuffer();
    written.file = Buffer.from(embeddedInTiff(tiff, says));
  }
  if (change.location === 'dropped') await assertNoPlace(written.file);
  await writeFile(outPath, written.file);
  await syncFile(outPath);
  return { verified: await verified(outPath, own, format), lost: written.lost };
}

/** The same photo with its pixels as they are to be seen. */
function upright(photo: Photo): Photo {
  const view = orientedView(photo.pixels, photo.width, photo.height, photo.channels, photo.orientation);
  const out = new Uint8Array(photo.pixels.length);
  for (let y = 0, q = 0; y < view.height; y++)
    for (let x = 0; x < view.width; x++, q += view.channels) {
      const p = view.origin + x * view.stepX + y * view.stepY;
      for (let c = 0; c < view.channels; c++) out[q + c] = view.data[p + c]!;
    }
  return { ...photo, pixels: out, width: view.width, height: view.height, orientation: 1 };
}

function changedSays(
  { says, isResized, width, height }: Photo,
  { location, author, copyright, mark }: PhotoChange,
  isTurned: boolean,
  format: PhotoFormat,
): { readonly says: PhotoSays; readonly lost: string[] } {
  const dropsLocation = location === 'dropped';
  const size = isResized || isTurned ? { width, height } : null;
  const exif = changedExif(says.exif, { dropsLocation, author, copyright, mark, size, upright: isTurned });
  const packet = says.xmp?.toString('utf8') ?? null;
  const { xmp, lost } = changedXmp(
    { packet, extended: says.extendedXmp },
    { dropsLocation, author, copyright },
  );
  const isIptcLost = says.iptc !== null && (dropsLocation || format !== 'jpeg');
  return {
    says: {
      ...says,
      exif: exif.file,
      xmp: xmp === null ? null : Buffer.from(xmp, 'utf8'),
      iptc: isIptcLost ? null : says.iptc,
    },
    lost: [...exif.lost, ...lost, ...(isIptcLost ? ['Its IPTC data were left out.'] : [])],
  };
}

/** Throws `verification-failed` where a file that was to leave out where it was taken tells a place. */
async function assertNoPlace(file: Buffer): Promise<void> {
  const left = await placeLeftIn(file);
  if (left !== null)
    throw new KenosisError(
      'verification-failed',
      `It was to leave out where it was taken, but ${left} still tells a place. Nothing was written; the photo is as it was. Save it without its place elsewhere, and bring that.`,
    );
}

/** So far means of squares of a lossy file may lie from those that were written, in levels of gray: more is another picture. */
const MOST_LARGEST = 80;
const MOST_MEAN = 12;

/** Sides of these squares, in pixels of what is compared: noise is lost in compressing, light is not. */
const SQUARE_PX = 8;

/** Large photos are compared about so wide, by means of so many rows of each square; others pixel by pixel. */
const SMALL_PX = 640;
const LARGE_PX = 1600;
const ROWS_READ = 2;

async function verified(path: string, photo: Photo, format: PhotoFormat): Promise<Verified> {
  const { width, height } = photo;
  const bytes = await readFile(path);
  const facts = await sharp(bytes).metadata();
  if (facts.width !== width || facts.height !== height)
    throw failed(`it has ${facts.width} x ${facts.height} px instead of ${width} x ${height}`);
  const read = sharp(bytes, { ignoreIcc: true, failOn: 'warning', limitInputPixels: false });
  const isExact = format === 'png' || format === 'tiff';
  const color = isExact ? await exactly(read, photo) : await inSmall(read, photo);
  return {
    width,
    height,
    dpi: photo.says.dpi,
    kind: format === 'jpeg' ? '4:4:4' : isExact ? 'lossless' : 'lossy',
    decoder: 'the library that wrote it',
    independent: false,
    color,
    alpha: NO_DIFFERENCE,
  };
}

async function exactly(read: Sharp, { pixels }: Photo): Promise<Verified['color']> {
  const found = await read.raw().toBuffer();
  if (Buffer.compare(found, Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength)) !== 0)
    throw failed('its pixels differ');
  return NO_DIFFERENCE;
}

async function inSmall(read: Sharp, photo: Photo): Promise<Verified['color']> {
  const width = photo.width > LARGE_PX ? SMALL_PX : photo.width;
  const height = Math.max(1, Math.round((photo.height * width) / photo.width));
  const sized = width === photo.width ? read : read.resize(width, height, { fit: 'fill' });
  const { data, info } = await sized
    .flatten({ background: UNDER_ALPHA })
    .raw()
    .toBuffer({ resolveWithObject: true });
  if (info.channels !== 3) throw failed('it has no colors');
  const gray = new Float32Array(width * height);
  for (let i = 0, p = 0; i < gray.length; i++, p += 3) gray[i] = (data[p]! + data[p + 1]! + data[p + 2]!) / 3;
  const expected = squareMeans(grayMeans(photo, width, height), width, height);
  const found = squareMeans(gray, width, height);
  let largest = 0;
  let sum = 0;
  for (let i = 0; i < expected.length; i++) {
    const off = Math.abs(found[i]! - expected[i]!);
    if (off > largest) largest = off;
    sum += off;
  }
  const mean = sum / expected.length;
  if (largest > MOST_LARGEST || mean > MOST_MEAN) throw failed('it holds another picture');
  return { largest: Math.round(largest), mean };
}

/** Means of the squares of a plane, row by row; smaller squares at its right and lower side. */
function squareMeans(values: Float32Array, width: number, height: number): Float64Array {
  const across = Math.ceil(width / SQUARE_PX);
  const sums = new Float64Array(across * Math.ceil(height / SQUARE_PX));
  const counts = new Float64Array(sums.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const square = Math.floor(y / SQUARE_PX) * across + Math.floor(x / SQUARE_PX);
      sums[square]! += values[i]!;
      counts[square]!++;
    }
  return sums.map((sum, square) => sum / counts[square]!);
}

/** Means of a photo's gray over the squares of a smaller one, 0 to 255, as it lies on white. */
function grayMeans({ pixels, width, height, channels }: Photo, across: number, down: number): Float32Array {
  const out = new Float32Array(across * down);
  const lefts = Array.from({ length: across + 1 }, (_, u) => Math.floor((u * width) / across));
  const sums = new Float64Array(width);
  for (let v = 0, i = 0; v < down; v++) {
    const top = Math.floor((v * height) / down);
    const bottom = Math.max(top + 1, Math.floor(((v + 1) * height) / down));
    const step = Math.ceil((bottom - top) / ROWS_READ);
    sums.fill(0);
    let rows = 0;
    for (let y = top; y < bottom; y += step, rows++) addRow(pixels, y * width * channels, channels, sums);
    for (let u = 0; u < across; u++, i++) {
      const [left, right] = [lefts[u]!, Math.max(lefts[u]! + 1, lefts[u + 1]!)];
      let sum = 0;
      for (let x = left; x < right; x++) sum += sums[x]!;
      out[i] = sum / (3 * rows * (right - left));
    }
  }
  return out;
}

/** Adds a row's red, green and blue together to its sums. */
function addRow(pixels: Uint8Array, from: number, channels: 3 | 4, sums: Float64Array): void {
  if (channels === 3)
    for (let x = 0, p = from; x < sums.length; x++, p += 3)
      sums[x]! += pixels[p]! + pixels[p + 1]! + pixels[p + 2]!;
  else
    for (let x = 0, p = from; x < sums.length; x++, p += 4)
      sums[x]! += 765 + ((pixels[p]! + pixels[p + 1]! + pixels[p + 2]! - 765) * pixels[p + 3]!) / 255;
}
