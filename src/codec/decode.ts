import { open, readFile } from 'node:fs/promises';
import type { Metadata, Sharp } from 'sharp';
import { KenosisError } from '../core/errors';
import { createRaster, type Bytes, type Raster } from '../core/raster/raster';
import { displayP3, toSrgb8 } from './deep-color';
import { checkJpeg } from './jpeg-check';
import { readShaper, type Shaper } from './icc-shaper';
import { MAX_PIXELS } from './limits';
import { sharp } from './picture-library';
import { checkTiff } from './tiff-check';

/** How damage is met: refused, or what can be read is taken. */
export type DamagePolicy = 'refuse' | 'accept';

/** A decoded picture with what its decoder remarked, in words for the person. */
export interface DecodedPicture {
  readonly raster: Raster;
  readonly notes: readonly string[];
}

type FailOn = 'none' | 'error' | 'warning';

/** What decoders say when picture data are missing or wrong; other warnings leave the picture whole. */
const DAMAGE =
  /premature|truncat|not enough|too short|unexpected end|out of data|CRC error|incorrect (data|header) check|read error|decod\w+ error|decompress|Huffman|corrupt(?!.*extraneous)|invalid (code|distance|literal|block|stored|bit)|not yet in table|inconsistent|unable to (read|decode)|failed|out of order|error in (tile|strip|line)/i;

/**
 * Decodes a picture that is being brought in. Data that break off or contradict themselves throw `damaged-picture`, with
 * the way out `accept-damaged` where part of it can be read; under the policy `accept` that part is taken, with a note.
 * Whatever else the decoder warns of becomes a note.
 */
export async function decodePicture(
  path: string,
  name: string,
  policy: DamagePolicy = 'refuse',
): Promise<DecodedPicture> {
  try {
    const raster = await decodeAt(path, 'warning');
    return { raster, notes: await checkedData(path) };
  } catch (cause) {
    const warning = plainWords(cause);
    if (!DAMAGE.test(warning)) {
      const raster = await decodeAt(path, 'error').catch(() => null);
      if (raster) return { raster, notes: [`The decoder remarked: ${warning}.`] };
    }
    const rest = await decodeAt(path, 'none').catch(() => null);
    if (rest && policy === 'accept')
      return { raster: rest, notes: ['Damaged: only what could be read was taken.'] };
    throw new KenosisError(
      'damaged-picture',
      rest
        ? `"${name}" is damaged: its picture data break off or contradict themselves. Save it anew and bring it again, or take what can be read.`
        : `"${name}" is damaged: its picture data break off or contradict themselves. Save it anew and bring it again.`,
      { cause, wayOut: rest && 'accept-damaged' },
    );
  }
}

/** What the compressed data tell that the decoder passed over, in sentences. Throws where they are damaged. */
async function checkedData(path: string): Promise<string[]> {
  const start = await startOf(path);
  if (start === 'ffd8') return checkedJpeg(await readFile(path));
  if (start === '4949' || start === '4d4d') {
    const damage = await checkTiff(path);
    if (damage) throw new Error(`corrupt data: ${damage}`);
  }
  return [];
}

async function startOf(path: string): Promise<string> {
  const file = await open(path);
  try {
    return (await file.read(Buffer.alloc(2), 0, 2, 0)).buffer.toString('hex');
  } finally {
    await file.close();
  }
}

function checkedJpeg(bytes: Uint8Array): string[] {
  const check = checkJpeg(bytes);
  if (check?.damage) throw new Error(`corrupt data: ${check.damage}`);
  if (!check) return [];
  const { extraneous: count, ended } = check;
  return [
    ...(count > 0
      ? [`${count === 1 ? '1 byte' : `${count} bytes`} too many stand in its picture data.`]
      : []),
    ...(ended ? [] : ['Its end is missing; its picture is whole.']),
  ];
}

/**
 * Decodes a picture that was let in before to the one master all work is done on: orientation obeyed, color profile
 * converted to sRGB, 16 bits rounded once to 8, gray and CMYK turned to RGB, alpha straight. Damage was decided on when it
 * came in, so that what can be read is taken. Throws `damaged-picture` if that is nothing.
 */
export async function decodeMaster(path: string, name: string): Promise<Raster> {
  try {
    return await decodeAt(path, 'none');
  } catch (cause) {
    throw new KenosisError('damaged-picture', `"${name}" is damaged: nothing of it can be read.`, { cause });
  }
}

async function decodeAt(path: string, failOn: FailOn): Promise<Raster> {
  const options = { limitInputPixels: MAX_PIXELS, failOn } as const;
  const facts = await sharp(path, options).metadata();
  if (facts.depth === 'ushort' && (facts.space === 'rgb16' || facts.space === 'grey16'))
    return decodeDeep(path, options, facts);
  const { data, info } = await sharp(path, options)
    .autoOrient()
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return createRaster(info.width, info.height, bytesOf(data));
}

/** Converts 16-bit samples from their full depth; see `toSrgb8`. */
async function decodeDeep(
  path: string,
  options: { readonly limitInputPixels: number; readonly failOn: FailOn },
  { icc, space }: Metadata,
): Promise<Raster> {
  const isGray = space === 'grey16';
  const shaper = icc ? readShaper(icc, isGray ? 1 : 3) : null;
  // A profile of lookup tables is left to the decoder's own color engine, which gives Display P3 at full depth.
  const byTables = icc !== undefined && shaper === null && !isGray;
  const samplesOf = (picture: Sharp) =>
    picture
      .autoOrient()
      .toColourspace(isGray ? 'grey16' : 'rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
  const { data, info } = await samplesOf(sharp(path, { ...options, ignoreIcc: !byTables }));
  const samples = new Uint16Array(data.buffer, data.byteOffset, data.length >> 1);
  const from: Shaper | null = byTables ? displayP3() : shaper;
  return createRaster(info.width, info.height, toSrgb8(samples, info.channels, from));
}

/** What a decoder says, in one line and without the names of its parts. */
function plainWords(cause: unknown): string {
  const lines = (cause instanceof Error ? cause.message : String(cause)).split('\n');
  const told = lines.map((line) => line.replace(/^.*?(Vips\w*|vips\w*|\w+2vips|webp|lib\w+):\s*/, '').trim());
  const first = told.find((line) => line !== '' && !/^Warning treated as error/.test(line)) ?? 'a warning';
  return first.replace(/^lib\w+ /, '').replace(/\.$/, '');
}

/** A view of a Node.js buffer as the bytes that rasters hold; no copy. */
export function bytesOf(buffer: Buffer): Bytes {
  return new Uint8Array(buffer.buffer as ArrayBuffer, buffer.byteOffset, buffer.byteLength);
}
