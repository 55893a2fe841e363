/**
 * Tags as TIFF and Exif keep them (TIFF 6.0, section 2; Exif 3.0, 4.6.2): read leniently, written whole. Nothing of what is there
 * is moved, since makers' notes name places in it.
 */

/** One tag with its values' bytes, in the order of bytes of the file that it was read from. */
export interface Tag {
  readonly tag: number;
  readonly type: number;
  readonly count: number;
  readonly value: Buffer;
}

/** Where something lies in the file. */
export interface TagFolder {
  readonly tags: readonly Tag[];
  /** Where the next one begins; 0 for none. */
  readonly next: number;
}

export const TAG = {
  processingSoftware: 0x000b,
  orientation: 0x0112,
  artist: 0x013b,
  copyright: 0x8298,
  xmp: 0x02bc,
  icc: 0x8773,
  exif: 0x8769,
  gps: 0x8825,
  thumbnailStart: 0x0201,
  thumbnailLength: 0x0202,
  takenOriginal: 0x9003,
  taken: 0x0132,
  makerNote: 0x927c,
  interoperability: 0xa005,
  pixelsAcross: 0xa002,
  pixelsDown: 0xa003,
} as const;

/** Bytes of a value of each type (TIFF 6.0 and Exif 3.0). */
const TYPE_BYTES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4] as const;

const ASCII = 2;
const SHORT = 3;
const LONG = 4;
const UNDEFINED = 7;

/** Tags that one folder has at most. */
const MOST_TAGS = 1000;

export function isLittle(file: Buffer): boolean {
  return file.toString('latin1', 0, 2) === 'II';
}

/** Whether bytes begin as such a file does. */
export function hasTags(file: Buffer): boolean {
  return file.length >= 14 && /^(II\*\0|MM\0\*)/.test(file.toString('latin1', 0, 4));
}

function numberAt(file: Buffer, at: number, bytes: 2 | 4): number {
  if (isLittle(file)) return bytes === 2 ? file.readUInt16LE(at) : file.readUInt32LE(at);
  return bytes === 2 ? file.readUInt16BE(at) : file.readUInt32BE(at);
}

function putNumber(file: Buffer, little: boolean, value: number, at: number, bytes: 2 | 4): void {
  if (bytes === 2) void (little ? file.writeUInt16LE(value, at) : file.writeUInt16BE(value, at));
  else void (little ? file.writeUInt32LE(value, at) : file.writeUInt32BE(value, at));
}

/** Where the first folder begins. */
export function firstFolder(file: Buffer): number {
  return numberAt(file, 4, 4);
}

/** Reads the folder at a place; tags whose values lie beyond the file are left out. Null where there is none. */
export function readFolder(file: Buffer, at: number): TagFolder | null {
  if (at < 8 || at + 2 > file.length) return null;
  const count = numberAt(file, at, 2);
  if (count > MOST_TAGS || at + 2 + 12 * count > file.length) return null;
  const tags: Tag[] = [];
  for (let k = 0; k < count; k++) {
    const place = at + 2 + 12 * k;
    const type = numberAt(file, place + 2, 2);
    const values = numberAt(file, place + 4, 4);
    const bytes = values * (TYPE_BYTES[type] ?? 0);
    if (bytes === 0) continue;
    const start = bytes <= 4 ? place + 8 : numberAt(file, place + 8, 4);
    if (start + bytes > file.length) continue;
    const value = Buffer.from(file.subarray(start, start + bytes));
    tags.push({ tag: numberAt(file, place, 2), type, count: values, value });
  }
  const end = at + 2 + 12 * count;
  return { tags, next: end + 4 <= file.length ? numberAt(file, end, 4) : 0 };
}

export function tagOf(folder: TagFolder | null, tag: number): Tag | undefined {
  return folder?.tags.find((one) => one.tag === tag);
}

/** The whole number that a tag has. */
export function wholeOf(file: Buffer, { type, value }: Tag): number {
  if (type !== SHORT && type !== LONG) return value[0] ?? 0;
  return numberAt(Buffer.concat([file.subarray(0, 2), value]), 2, type === SHORT ? 2 : 4);
}

export function textOf({ value }: Tag): string {
  return value
    .toString('utf8')
    .replace(/\0[\s\S]*$/, '')
    .trim();
}

export function asciiTag(tag: number, text: string): Tag {
  const value = Buffer.from(`${text}\0`, 'utf8');
  return { tag, type: ASCII, count: value.length, value };
}

export function bytesTag(tag: number, bytes: Buffer): Tag {
  return { tag, type: tag === TAG.xmp ? 1 : UNDEFINED, count: bytes.length, value: bytes };
}

export function numberTag(tag: number, little: boolean, value: number, type: 3 | 4 = LONG): Tag {
  const bytes = Buffer.alloc(type === SHORT ? 2 : 4);
  putNumber(bytes, little, value, 0, type === SHORT ? 2 : 4);
  return { tag, type, count: 1, value: bytes };
}

/** The bytes of a folder that begins at `at` of a file, its larger values behind it. */
export function writeFolder(tags: readonly Tag[], next: number, at: number, little: boolean): Buffer {
  const sorted = [...tags].sort((one, other) => one.tag - other.tag);
  const head = Buffer.alloc(2 + 12 * sorted.length + 4);
  putNumber(head, little, sorted.length, 0, 2);
  const behind: Buffer[] = [];
  let place = at + head.length;
  for (const [k, { tag, type, count, value }] of sorted.entries()) {
    const entry = 2 + 12 * k;
    putNumber(head, little, tag, entry, 2);
    putNumber(head, little, type, entry + 2, 2);
    putNumber(head, little, count, entry + 4, 4);
    if (value.length <= 4) {
      value.copy(head, entry + 8);
      continue;
    }
    putNumber(head, little, place, entry + 8, 4);
    // Values begin at even places.
    const padded = value.length % 2 === 0 ? value : Buffer.concat([value, Buffer.alloc(1)]);
    behind.push(padded);
    place += padded.length;
  }
  putNumber(head, little, next, head.length - 4, 4);
  return Buffer.concat([head, ...behind]);
}

/** A file whose first folder has other tags: a new one behind all that is there, which the head names. */
export function withFirstFolder(file: Buffer, tags: readonly Tag[], next: number): Buffer {
  const even = file.length % 2 === 0 ? file : Buffer.concat([file, Buffer.alloc(1)]);
  const little = isLittle(file);
  const out = Buffer.concat([even, writeFolder(tags, next, even.length, little)]);
  putNumber(out, little, even.length, 4, 4);
  return out;
}

/** The same tag for a file of the other order of bytes. */
export function turnedTag(tag: Tag): Tag {
  const value = Buffer.from(tag.value);
  const bytes = TYPE_BYTES[tag.type] ?? 1;
  // Fractions are two numbers of four bytes.
  const unit = tag.type === 5 || tag.type === 10 ? 4 : bytes;
  if (unit === 2) value.swap16();
  else if (unit === 4) value.swap32();
  else if (unit === 8) value.swap64();
  return { ...tag, value };
}

/** An empty file of tags. */
export function emptyTags(): Buffer {
  const file = Buffer.alloc(8);
  file.write('II*\0', 0, 'latin1');
  return file;
}

/** Overwrites a folder and its values by zeros, so that it cannot be read any more. */
export function blankFolder(file: Buffer, at: number): void {
  const entries = entriesOf(file, at);
  for (const place of entries) blankTag(file, at, numberAt(file, place, 2));
  if (entries.length > 0) file.fill(0, at, at + 2 + 12 * entries.length);
}

/**
 * Tags of a first folder that tell a place, or hold other data that may: the position (Exif 3.0, 4.6.6), XMP, IPTC and image resources
 * (TIFF/EP), and those of GeoTIFF 1.1.
 */
export const PLACE_TAGS: ReadonlySet<number> = new Set([
  TAG.gps,
  TAG.xmp,
  ...[0x83bb, 0x8649, 33550, 33922, 34264, 34735, 34736, 34737],
]);

/** The same of the folder of Exif, where makers write their notes. */
export const PLACE_TAGS_WITHIN: ReadonlySet<number> = new Set([...PLACE_TAGS, TAG.makerNote]);

/** Overwrites the value of a tag by zeros. */
export function blankTag(file: Buffer, folderAt: number, tag: number): void {
  for (const place of entriesOf(file, folderAt))
    if (numberAt(file, place, 2) === tag) {
      const bytes = numberAt(file, place + 4, 4) * (TYPE_BYTES[numberAt(file, place + 2, 2)] ?? 0);
      const start = bytes <= 4 ? place + 8 : numberAt(file, place + 8, 4);
      if (start + bytes <= file.length) file.fill(0, start, start + bytes);
    }
}

/** Takes tags with their values out of a folder, which stays where it is. Returns those that were there. */
export function removeTags(file: Buffer, folderAt: number, tags: ReadonlySet<number>): number[] {
  const entries = entriesOf(file, folderAt);
  const gone: number[] = [];
  const kept: Buffer[] = [];
  for (const place of entries) {
    const tag = numberAt(file, place, 2);
    if (tags.has(tag)) {
      gone.push(tag);
      blankTag(file, folderAt, tag);
    } else kept.push(Buffer.from(file.subarray(place, place + 12)));
  }
  if (gone.length === 0) return gone;
  const end = folderAt + 2 + 12 * entries.length;
  const next = Buffer.from(file.subarray(end, end + 4));
  file.fill(0, folderAt, Math.min(file.length, end + 4));
  putNumber(file, isLittle(file), kept.length, folderAt, 2);
  Buffer.concat([...kept, next]).copy(file, folderAt + 2);
  return gone;
}

/** Where the entries of a folder begin; none where there is no folder. */
function entriesOf(file: Buffer, at: number): number[] {
  if (at < 8 || at + 2 > file.length) return [];
  const count = numberAt(file, at, 2);
  if (count > MOST_TAGS || at + 2 + 12 * count > file.length) return [];
  return Array.from({ length: count }, (_, k) => at + 2 + 12 * k);
}

/** Puts another whole number in place of one that stands in a folder itself. */
export function putWhole(file: Buffer, folderAt: number, tag: number, value: number): void {
  for (const place of entriesOf(file, folderAt)) {
    if (numberAt(file, place, 2) !== tag || numberAt(file, place + 4, 4) !== 1) continue;
    const type = numberAt(file, place + 2, 2);
    if (type === SHORT && value < 65_536) putNumber(file, isLittle(file), value, place + 8, 2);
    if (type === LONG) putNumber(file, isLittle(file), value, place + 8, 4);
  }
}

/** Tags of a photo's first folder that say something of it, and nothing of how its pixels lie in a file. */
const SAYING_TAGS = new Set<number>([0x000b, 0x010e, 0x010f, 0x0110, 0x0112, 0x0131, 0x0132, 0x013b, 0x8298]);

/** Tags of its other folders that name offsets within the file that they came from. */
const OFFSET_TAGS = new Set<number>([TAG.makerNote, TAG.interoperability]);

/**
 * Puts what one file of tags says of its photo behind another: its folders, and the tags of its first one, turned to the other's order
 * of bytes. Makers' notes stay behind.
 */
export function withSaid(onto: Buffer, from: Buffer): { readonly file: Buffer; readonly tags: Tag[] } {
  const little = isLittle(onto);
  const turned = (tag: Tag) => (isLittle(from) === little ? tag : turnedTag(tag));
  const theirs = readFolder(from, firstFolder(from));
  const tags = (theirs?.tags ?? []).filter(({ tag }) => SAYING_TAGS.has(tag)).map(turned);
  let file = onto.length % 2 === 0 ? onto : Buffer.concat([onto, Buffer.alloc(1)]);
  for (const pointer of [TAG.exif, TAG.gps]) {
    const own = tagOf(theirs, pointer);
    const folder = own ? readFolder(from, wholeOf(from, own)) : null;
    if (!folder) continue;
    const said = folder.tags.filter(({ tag }) => !OFFSET_TAGS.has(tag)).map(turned);
    tags.push(numberTag(pointer, little, file.length));
    file = Buffer.concat([file, writeFolder(said, 0, file.length, little)]);
  }
  return { file, tags };
}
