import { crc32 } from '../png-chunks';
import { bytesTag, firstFolder, readFolder, TAG, withFirstFolder, withSaid, type Tag } from './tags';

/** What a photo says beside its pixels. */
export interface PhotoSays {
  readonly exif: Buffer | null;
  readonly xmp: Buffer | null;
  /** What its XMP goes on with in further parts of a JPEG; it is put into `xmp` before anything is written. */
  readonly extendedXmp: string | null;
  readonly icc: Buffer | null;
  /** Records of the IPTC (IIM 4.2), as they stand in part APP13 of a JPEG, which alone keeps them. */
  readonly iptc: Buffer | null;
  /** Pixels per inch; null where it says none. */
  readonly dpi: number | null;
}

/** The longest that a part of a JPEG beside its pixels can be. */
const LONGEST_PART = 65_533;

const EXIF_HEAD = Buffer.from('Exif\0\0', 'latin1');
const XMP_HEAD = Buffer.from('http://ns.adobe.com/xap/1.0/\0', 'latin1');
const ICC_HEAD = Buffer.from('ICC_PROFILE\0', 'latin1');
/** The signature of part APP13, and the head of its resource 0x0404 with an empty name. */
const IPTC_HEAD = Buffer.from('50686f746f73686f7020332e30003842494d04040000', 'hex');

/**
 * Puts what a photo says into a file that has nothing but pixels, as its format keeps it (JFIF and Exif 3.0, ICC.1:2022 annex B,
 * XMP part 3). Returns the file, and in sentences what found no room.
 */
export function embeddedInJpeg(
  jpeg: Buffer,
  says: PhotoSays,
): { readonly file: Buffer; readonly lost: string[] } {
  const parts: Buffer[] = [];
  const lost: string[] = [];
  const add = (marker: number, name: string, bytes: Buffer) => {
    if (bytes.length > LONGEST_PART) lost.push(`Its ${name} did not fit into a JPEG and was left out.`);
    else parts.push(segment(marker, bytes));
  };
  if (says.exif) add(0xe1, 'Exif data', Buffer.concat([EXIF_HEAD, says.exif]));
  if (says.xmp) add(0xe1, 'XMP', Buffer.concat([XMP_HEAD, says.xmp]));
  if (says.icc) parts.push(...profileParts(says.icc));
  if (says.iptc) add(0xed, 'IPTC data', iptcPart(says.iptc));
  const own = withDensity(jpeg, says.dpi);
  // Behind the JFIF part, which is the first where it is there.
  const at = own.readUInt16BE(2) === 0xffe0 ? 4 + own.readUInt16BE(4) : 2;
  return { file: Buffer.concat([own.subarray(0, at), ...parts, own.subarray(at)]), lost };
}

function segment(marker: number, bytes: Buffer): Buffer {
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(bytes.length + 2, 2);
  return Buffer.concat([head, bytes]);
}

function profileParts(icc: Buffer): Buffer[] {
  const room = LONGEST_PART - ICC_HEAD.length - 2;
  const count = Math.ceil(icc.length / room);
  return Array.from({ length: count }, (_, k) =>
    segment(
      0xe2,
      Buffer.concat([ICC_HEAD, Buffer.from([k + 1, count]), icc.subarray(k * room, (k + 1) * room)]),
    ),
  );
}

function iptcPart(iptc: Buffer): Buffer {
  const length = Buffer.alloc(4);
  length.writeUInt32BE(iptc.length);
  return Buffer.concat([IPTC_HEAD, length, iptc, Buffer.alloc(iptc.length % 2)]);
}

function withDensity(jpeg: Buffer, dpi: number | null): Buffer {
  if (dpi === null || jpeg.readUInt16BE(2) !== 0xffe0 || jpeg.toString('latin1', 6, 10) !== 'JFIF')
    return jpeg;
  const out = Buffer.from(jpeg);
  out[13] = 1;
  out.writeUInt16BE(Math.round(dpi), 14);
  out.writeUInt16BE(Math.round(dpi), 16);
  return out;
}

/** The same for a PNG (third edition, 11.3): chunks behind its head. */
export function embeddedInPng(
  png: Buffer,
  { exif, xmp, icc, dpi }: PhotoSays,
  packed: (bytes: Buffer) => Buffer,
): Buffer {
  const HEAD_END = 33;
  const chunks: Buffer[] = [];
  if (icc) chunks.push(chunk('iCCP', Buffer.concat([Buffer.from('profile\0\0', 'latin1'), packed(icc)])));
  if (dpi !== null) {
    const density = Buffer.alloc(9);
    density.writeUInt32BE(Math.round(dpi / 0.0254), 0);
    density.writeUInt32BE(Math.round(dpi / 0.0254), 4);
    density[8] = 1;
    chunks.push(chunk('pHYs', density));
  }
  if (exif) chunks.push(chunk('eXIf', exif));
  if (xmp)
    chunks.push(chunk('iTXt', Buffer.concat([Buffer.from('XML:com.adobe.xmp\0\0\0\0\0', 'latin1'), xmp])));
  return Buffer.concat([png.subarray(0, HEAD_END), ...chunks, png.subarray(HEAD_END)]);
}

function chunk(type: string, bytes: Buffer): Buffer {
  const named = Buffer.concat([Buffer.from(type, 'latin1'), bytes]);
  const ends = Buffer.alloc(8);
  ends.writeUInt32BE(bytes.length, 0);
  ends.writeUInt32BE(crc32(named), 4);
  return Buffer.concat([ends.subarray(0, 4), named, ends.subarray(4)]);
}

/** What a WebP's head says that it has (RFC 9649, 2.7). */
const WEBP_FLAGS = { icc: 0x20, alpha: 0x10, exif: 0x08, xmp: 0x04 } as const;

/** The same for a WebP of one picture. */
export function embeddedInWebp(
  webp: Buffer,
  { exif, xmp, icc }: PhotoSays,
  {
    width,
    height,
    hasAlpha,
  }: { readonly width: number; readonly height: number; readonly hasAlpha: boolean },
): Buffer {
  const kept = riffChunks(webp).filter(({ type }) => ['VP8 ', 'VP8L', 'ALPH'].includes(type));
  const head = Buffer.alloc(10);
  head[0] =
    (icc ? WEBP_FLAGS.icc : 0) |
    (hasAlpha ? WEBP_FLAGS.alpha : 0) |
    (exif ? WEBP_FLAGS.exif : 0) |
    (xmp ? WEBP_FLAGS.xmp : 0);
  head.writeUIntLE(width - 1, 4, 3);
  head.writeUIntLE(height - 1, 7, 3);
  const body = Buffer.concat([
    Buffer.from('WEBP', 'latin1'),
    riffChunk('VP8X', head),
    ...(icc ? [riffChunk('ICCP', icc)] : []),
    ...kept.map(({ type, bytes }) => riffChunk(type, bytes)),
    ...(exif ? [riffChunk('EXIF', exif)] : []),
    ...(xmp ? [riffChunk('XMP ', xmp)] : []),
  ]);
  const start = Buffer.from('RIFF\0\0\0\0', 'latin1');
  start.writeUInt32LE(body.length, 4);
  return Buffer.concat([start, body]);
}

function riffChunks(webp: Buffer): { readonly type: string; readonly bytes: Buffer }[] {
  const chunks: { type: string; bytes: Buffer }[] = [];
  for (let at = 12; at + 8 <= webp.length;) {
    const length = webp.readUInt32LE(at + 4);
    chunks.push({ type: webp.toString('latin1', at, at + 4), bytes: webp.subarray(at + 8, at + 8 + length) });
    at += 8 + length + (length % 2);
  }
  return chunks;
}

function riffChunk(type: string, bytes: Buffer): Buffer {
  const head = Buffer.alloc(8);
  head.write(type, 0, 'latin1');
  head.writeUInt32LE(bytes.length, 4);
  return Buffer.concat([head, bytes, Buffer.alloc(bytes.length % 2)]);
}

/** The same for a TIFF: tags of its first folder. Makers' notes stay behind, since they name places in the file they came from. */
export function embeddedInTiff(tiff: Buffer, { exif, xmp, icc }: PhotoSays): Buffer {
  const first = readFolder(tiff, firstFolder(tiff));
  let tags: Tag[] = [...(first?.tags ?? [])];
  const put = (tag: Tag) => (tags = [...tags.filter((one) => one.tag !== tag.tag), tag]);
  if (icc) put(bytesTag(TAG.icc, icc));
  if (xmp) put(bytesTag(TAG.xmp, xmp));
  const { file, tags: said } = exif ? withSaid(tiff, exif) : { file: tiff, tags: [] };
  for (const tag of said) put(tag);
  return withFirstFolder(file, tags, 0);
}
