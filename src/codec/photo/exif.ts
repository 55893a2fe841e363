import {
  asciiTag,
  blankFolder,
  blankTag,
  PLACE_TAGS,
  PLACE_TAGS_WITHIN,
  removeTags,
  emptyTags,
  firstFolder,
  hasTags,
  isLittle,
  numberTag,
  putWhole,
  readFolder,
  TAG,
  tagOf,
  textOf,
  wholeOf,
  withFirstFolder,
  withSaid,
  type Tag,
  type TagFolder,
} from './tags';

/** What is changed of what a photo says of itself. */
export interface ExifChange {
  /** Where it was taken goes, so that nothing of it can be read any more. */
  readonly dropsLocation: boolean;
  /** Empty: as it is. */
  readonly author: string;
  readonly copyright: string;
  /** What the mark is known again by. */
  readonly mark: string;
  /** The photo's size, where it is another one now. */
  readonly size: { readonly width: number; readonly height: number } | null;
  /** Whether its pixels stand upright now. */
  readonly upright: boolean;
}

/** The Exif block of a photo without what stands before it; null where it has none that can be read. */
export function exifOf(block: Buffer | undefined): Buffer | null {
  if (!block) return null;
  const start = block.toString('latin1', 0, 6) === 'Exif\0\0' ? 6 : 0;
  const exif = Buffer.from(block.subarray(start));
  return hasTags(exif) && readFolder(exif, firstFolder(exif)) ? exif : null;
}

/** What a TIFF says of its photo, as an Exif block; null where it says nothing. */
export function exifOfTiff(tiff: Buffer): Buffer | null {
  if (!hasTags(tiff)) return null;
  const { file, tags } = withSaid(emptyTags(), tiff);
  return tags.length > 0 ? withFirstFolder(file, tags, 0) : null;
}

/** The day that a photo says it was taken, as `2026-11-30`; null where it says none. */
export function takenOn(exif: Buffer | null): string | null {
  if (!exif) return null;
  const first = readFolder(exif, firstFolder(exif));
  const own = folderIn(exif, first, TAG.exif);
  const tag = tagOf(own, TAG.takenOriginal) ?? tagOf(first, TAG.taken);
  const found = tag && /^(\d{4}):(\d{2}):(\d{2})/.exec(textOf(tag));
  if (!found) return null;
  const [, year, month, day] = found as unknown as [string, string, string, string];
  const isDay =
    Number(year) > 1800 && Number(month) >= 1 && Number(month) <= 12 && Number(day) >= 1 && Number(day) <= 31;
  return isDay ? `${year}-${month}-${day}` : null;
}

/** The text that a mark left in a photo; null where it left none. */
export function markIn(exif: Buffer | null): string | null {
  if (!exif) return null;
  const tag = tagOf(readFolder(exif, firstFolder(exif)), TAG.processingSoftware);
  return tag ? textOf(tag) : null;
}

function folderIn(exif: Buffer, first: TagFolder | null, tag: number): TagFolder | null {
  const pointer = tagOf(first, tag);
  return pointer ? readFolder(exif, wholeOf(exif, pointer)) : null;
}

/** An Exif block that was changed, and in sentences what could not be kept in it. */
export interface ChangedExif {
  readonly file: Buffer;
  readonly lost: readonly string[];
}

/**
 * An Exif block with what is to be changed. Everything else stays where it is, makers' notes too, unless places go: some makers
 * write cities and positions into them, each in a way of its own. The small picture in it goes, since it shows the photo without
 * its mark.
 */
export function changedExif(exif: Buffer | null, change: ExifChange): ChangedExif {
  let file = exif ? Buffer.from(exif) : emptyTags();
  const first = exif ? readFolder(file, firstFolder(file)) : null;
  file = withoutThumbnail(file, first);
  let tags: Tag[] = [...(first?.tags ?? [])];
  const little = isLittle(file);
  const put = (tag: Tag) => (tags = [...tags.filter((one) => one.tag !== tag.tag), tag]);
  const own = tagOf(first, TAG.exif);
  const lost: string[] = [];
  if (change.dropsLocation) {
    const gps = tagOf(first, TAG.gps);
    if (gps) blankFolder(file, wholeOf(file, gps));
    for (const { tag } of tags) if (PLACE_TAGS.has(tag)) blankTag(file, firstFolder(file), tag);
    tags = tags.filter(({ tag }) => !PLACE_TAGS.has(tag));
    if (own && removeTags(file, wholeOf(file, own), PLACE_TAGS_WITHIN).includes(TAG.makerNote))
      lost.push("Its maker's note was left out: it may tell where the photo was taken.");
  }
  if (change.author !== '') put(asciiTag(TAG.artist, change.author));
  if (change.copyright !== '') put(asciiTag(TAG.copyright, change.copyright));
  put(asciiTag(TAG.processingSoftware, change.mark));
  if (change.upright && tagOf(first, TAG.orientation)) put(numberTag(TAG.orientation, little, 1, 3));
  if (change.size && own) {
    putWhole(file, wholeOf(file, own), TAG.pixelsAcross, change.size.width);
    putWhole(file, wholeOf(file, own), TAG.pixelsDown, change.size.height);
  }
  // What stood in the first folder is written again behind: nobody is to find it where it was.
  if (exif) blankFolderHead(file, firstFolder(file));
  return { file: withFirstFolder(file, tags, 0), lost };
}

/** Takes the small picture out; where it is the end of the block, the block is shorter by it. */
function withoutThumbnail(file: Buffer, first: TagFolder | null): Buffer<ArrayBuffer> {
  const out = Buffer.from(file);
  const second = first && first.next > 0 ? readFolder(file, first.next) : null;
  if (!second) return out;
  const start = tagOf(second, TAG.thumbnailStart);
  const length = tagOf(second, TAG.thumbnailLength);
  if (start && length) {
    const from = wholeOf(file, start);
    const to = from + wholeOf(file, length);
    if (from >= 8 && to <= file.length && to > from) {
      out.fill(0, from, to);
      if (to >= file.length - 1 && from > first!.next) return Buffer.from(out.subarray(0, from));
    }
  }
  return out;
}

function blankFolderHead(file: Buffer, at: number): void {
  const count = isLittle(file) ? file.readUInt16LE(at) : file.readUInt16BE(at);
  const end = at + 2 + 12 * count + 4;
  if (end <= file.length) file.fill(0, at, end);
}
