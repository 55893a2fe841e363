import { createHash } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import { LRUCache } from 'lru-cache';
import { fontFacts, type FontFacts } from '../../codec/font/read-font';
import { markIn } from '../../codec/photo/exif';
import { lookIn, photoColors, rasterIn } from '../../codec/photo/photo-colors';
import { readPhoto, readPhotoHead, type PhotoFormat } from '../../codec/photo/read-photo';
import { formatOf, writePhoto } from '../../codec/photo/write-photo';
import type { Verified } from '../../codec/outputs/output-codec';
import { bytesOf, sharp } from '../../codec/picture-library';
import { KenosisError } from '../../core/errors';
import { createRaster, type Raster } from '../../core/raster/raster';
import type { AlphaCounts } from '../../core/stages/deliver/finish';
import { textsOf, wishesOf, type PhotoFacts } from '../../core/watermark/fields';
import type { MarkMaterial } from '../../core/watermark/layout';
import { markPhoto, type MarkReport } from '../../core/watermark/mark-photo';
import { orientedView } from '../../core/watermark/photo-view';
import type { CutoutPart, MarkWish, Watermark } from '../../core/watermark/settings';
import type { ShapedLine } from '../../core/watermark/shaped';
import { readMaterial, shaped, type MaterialFiles } from './shape-texts';

/** How a mark is written into a photo, so that it is known again. */
const MARK_WORDS = 'Kenosis mark';

/** A name of a watermark and of what is made with it: two that have the same make the same of a photo. */
export function markKey(wish: MarkWish): string {
  return createHash('sha256').update(JSON.stringify(wish)).digest('hex').slice(0, 16);
}

export interface FontInput {
  readonly path: string;
  readonly name: string;
}

/** What is known of a font file. Throws `bad-font`. */
export async function fontTask({ path, name }: FontInput): Promise<FontFacts> {
  return fontFacts(await readFile(path), name);
}

/** Cutouts of documents that were decoded last. */
const cutouts = new LRUCache<string, Promise<Raster>>({ max: 8 });

function cutoutOf({ source }: CutoutPart, files: MaterialFiles): Promise<Raster> {
  if (source.kind === 'piece')
    throw new KenosisError(
      'bad-watermark',
      'The watermark names a piece of a Shelf. Export it there: its cutouts come with it.',
    );
  const key = source.kind === 'kept' ? source.file : createHash('sha256').update(source.data).digest('hex');
  const known = cutouts.get(key);
  if (known) return known;
  const decoded =
    source.kind === 'kept'
      ? readMaterial('cutout', source, files).then(decodedCutout)
      : decodedCutout({ name: source.name, bytes: Buffer.from(source.data, 'base64') });
  decoded.catch(() => cutouts.delete(key));
  cutouts.set(key, decoded);
  return decoded;
}

/** Sides of a cutout in a document. */
const MOST_CUTOUT_PX = 4000;

async function decodedCutout({
  name,
  bytes,
}: {
  readonly name: string;
  readonly bytes: Buffer;
}): Promise<Raster> {
  try {
    const { data: pixels, info } = await sharp(bytes, {
      limitInputPixels: MOST_CUTOUT_PX * MOST_CUTOUT_PX,
    })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    return createRaster(info.width, info.height, bytesOf(pixels));
  } catch (cause) {
    throw new KenosisError(
      'bad-watermark',
      `The cutout "${name}" of the watermark cannot be read as a picture.`,
      { cause },
    );
  }
}

/** What a watermark is made of on one photo. Throws `no-letters`, `bad-font`, `bad-watermark` and `bad-argument`. */
export async function materialOf(
  watermark: Watermark,
  facts: PhotoFacts,
  files: MaterialFiles = {},
): Promise<MarkMaterial> {
  const lines = new Map<string, ShapedLine[]>();
  for (const part of textsOf(watermark))
    lines.set(part.id, await Promise.all(wishesOf(part, facts).map((wish) => shaped(wish, files))));
  const own = new Map<string, Raster>();
  for (const { parts } of watermark.layout.groups)
    for (const part of parts) if (part.kind === 'cutout') own.set(part.id, await cutoutOf(part, files));
  return { lines, cutouts: own };
}

/** A photo that is to be marked. */
export interface MarkInput {
  readonly path: string;
  readonly name: string;
  readonly wish: MarkWish;
  /** Where the fonts and cutouts lie that its watermark names. */
  readonly materials: MaterialFiles;
  /** Today, as `2026-11-30`. */
  readonly date: string;
  readonly outPath: string;
}

/** What became of it: written, or left alone because it has a mark. */
export type MarkResult =
  | {
      readonly kind: 'marked';
      readonly format: PhotoFormat;
      readonly verified: Verified;
      readonly report: MarkReport;
      readonly alpha: AlphaCounts;
      /** What is to be said of it, in sentences. */
      readonly notes: readonly string[];
    }
  | { readonly kind: 'has-mark' };

/**
 * Puts a watermark on a photo and writes it. A photo that was written by this is left alone. The same photo and wish give the same
 * bytes wherever this is called. Throws what reading, setting text and writing throw.
 */
export async function markFile({
  path,
  name,
  wish,
  materials,
  date,
  outPath,
}: MarkInput): Promise<MarkResult> {
  const head = await readPhotoHead(path, name);
  if (markIn(head.exif)?.startsWith(MARK_WORDS)) return { kind: 'has-mark' };
  const photo = await readPhoto(path, name, head, wish.resize);
  const { watermark } = wish;
  const material = await materialOf(watermark, { name, taken: photo.taken, today: date }, materials);
  const colors = photoColors(photo.says.icc);
  const own = colors ? { ...watermark, look: lookIn(colors, watermark.look) } : watermark;
  const inSpace = colors
    ? {
        ...material,
        cutouts: new Map(
          [...material.cutouts].map(([id, raster]) => [id, rasterIn(colors, raster)] as const),
        ),
      }
    : material;
  const { pixels, width, height, channels, orientation } = photo;
  const report = markPhoto(orientedView(pixels, width, height, channels, orientation), own, inSpace);
  const format = formatOf(photo, wish.format);
  const { author, copyright, location, quality } = wish;
  const change = { location, author, copyright, mark: `${MARK_WORDS} ${markKey(wish)}` };
  const { verified, lost } = await writePhoto(photo, { format, quality, change }, outPath).catch(
    async (error: unknown) => {
      await rm(outPath, { force: true });
      throw error;
    },
  );
  const alpha = alphaCounts(pixels, format === 'jpeg' ? 3 : channels, width * height);
  return {
    kind: 'marked',
    format,
    verified,
    report,
    alpha,
    notes: [...photo.notes, ...report.remarks, ...lost],
  };
}

function alphaCounts(pixels: Uint8Array, channels: 3 | 4, all: number): AlphaCounts {
  if (channels === 3) return { transparent: 0, partly: 0, opaque: all };
  let transparent = 0;
  let opaque = 0;
  for (let p = 3; p < pixels.length; p += 4) {
    if (pixels[p] === 0) transparent++;
    if (pixels[p] === 255) opaque++;
  }
  return { transparent, partly: all - transparent - opaque, opaque };
}
