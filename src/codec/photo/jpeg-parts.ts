import type { XmpText } from './xmp';

/** A part of a JPEG in front of its pixels: its marker, and what is in it. */
export interface JpegPart {
  readonly marker: number;
  readonly bytes: Buffer;
}

const XMP_HEAD = 'http://ns.adobe.com/xap/1.0/\0';
const EXTENDED_HEAD = 'http://ns.adobe.com/xmp/extension/\0';
/** Behind its head an extended part has the name of what it belongs to, the whole length, and where it begins in it. */
const GUID_LETTERS = 32;

/** The parts of a JPEG in front of its pixels (ITU-T T.81, B.1); none where it is no JPEG. */
export function jpegParts(file: Buffer): JpegPart[] {
  const parts: JpegPart[] = [];
  if (file.length < 4 || file.readUInt16BE(0) !== 0xffd8) return parts;
  for (let at = 2; at + 4 <= file.length;) {
    if (file[at] !== 0xff) break;
    const marker = file[at + 1]!;
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (marker === 0xda || marker === 0xd9) break;
    const length = file.readUInt16BE(at + 2);
    if (length < 2 || at + 2 + length > file.length) break;
    parts.push({ marker, bytes: file.subarray(at + 4, at + 2 + length) });
    at += 2 + length;
  }
  return parts;
}

/** The XMP of a JPEG: its packet, and what goes on in extended parts where all of them are there (XMP part 3, 1.1.3.1). */
export function xmpInJpeg(file: Buffer): XmpText {
  const said = jpegParts(file).filter(({ marker }) => marker === 0xe1);
  const behind = (head: string) =>
    said.flatMap(({ bytes }) =>
      bytes.toString('latin1', 0, head.length) === head ? [bytes.subarray(head.length)] : [],
    );
  const [packet] = behind(XMP_HEAD);
  const pieces = behind(EXTENDED_HEAD).filter(({ length }) => length > GUID_LETTERS + 8);
  if (!packet) return { packet: null, extended: null };
  return { packet: packet.toString('utf8'), extended: joined(pieces, packet.toString('utf8')) };
}

function joined(pieces: readonly Buffer[], packet: string): string | null {
  const guid = pieces
    .map((piece) => piece.toString('latin1', 0, GUID_LETTERS))
    .find((one) => packet.includes(one));
  const own = pieces.filter((piece) => piece.toString('latin1', 0, GUID_LETTERS) === guid);
  if (own.length === 0) return null;
  const length = own[0]!.readUInt32BE(GUID_LETTERS);
  const sum = own.reduce((all, piece) => all + piece.length - GUID_LETTERS - 8, 0);
  // What does not fit together is as if it could not be read.
  if (sum !== length) return '';
  const whole = Buffer.alloc(length);
  for (const piece of own) {
    const at = piece.readUInt32BE(GUID_LETTERS + 4);
    if (at + piece.length - GUID_LETTERS - 8 > length) return '';
    piece.copy(whole, at, GUID_LETTERS + 8);
  }
  return whole.toString('utf8');
}
