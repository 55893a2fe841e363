import { readFile } from 'node:fs/promises';
import type { Metadata, Sharp } from 'sharp';
import { ONLY_PAGE, type Page } from '../core/cut/page';
import { isKenosisError, KenosisError } from '../core/errors';
import type { InputFormat } from '../core/formats';
import { createRaster, type Raster } from '../core/raster/raster';
import { convertedFrom } from './color-notes';
import { displayP3, toSrgb8 } from './deep-color';
import { checkJpeg } from './jpeg-check';
import { readShaper, type Shaper } from './icc-shaper';
import { MAX_PIXELS } from '../core/intake-limits';
import { formatAt } from './inspect';
import { bytesOf, sharp } from './picture-library';
import { readerOf } from './readers/readers';
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

/** Whether what a decoder says means that picture data are missing or wrong. */
export function isDamage(cause: unknown): boolean {
  return DAMAGE.test(plainWords(cause));
}

/**
 * Decodes a picture that is being brought in. Data that break off or contradict themselves throw `damaged-picture`, with
 * the way out `accept-damaged` where part of it can be read; under the policy `accept` that part is taken, with a note.
 * Whatever else the decoder warns of becomes a note.
 */
export async function decodePicture(
  path: string,
  name: string,
  policy: DamagePolicy = 'refuse',
  page: Page = ONLY_PAGE,
): Promise<DecodedPicture> {
  const format = await formatAt(path);
  return decodeChecked(path, name, policy, page, format);
}

/** What is said of a picture that has alpha already; nothing of one that is opaque. */
export function transparencyNotes({ data }: Raster): string[] {
  let clear = 0;
  for (let p = 3; p < data.length; p += 4) if (data[p]! < 255) clear++;
  if (clear === 0) return [];
  const percent = (400 * clear) / data.length;
  return [`Already transparent: ${percent < 1 ? 'under 1' : Math.round(percent)} %.`];
}

async function decodeChecked(
  path: string,
  name: string,
  policy: DamagePolicy,
  page: Page,
  format: InputFormat | null,
): Promise<DecodedPicture> {
  const reader = format && readerOf(format);
  try {
    if (reader) return await reader.pixels({ path, name }, page);
    const { raster, notes } = await decodeAt(path, 'warning', page);
    return { raster, notes: [...(await checkedData(path, format)), ...notes] };
  } catch (cause) {
    if (isKenosisError(cause)) throw cause;
    const warning = plainWords(cause);
    if (!reader && !DAMAGE.test(warning)) {
      const decoded = await decodeAt(path, 'error', page).catch(() => null);
      if (decoded) return { ...decoded, notes: [`The decoder remarked: ${warning}.`, ...decoded.notes] };
    }
    const rest = reader ? null : await decodeAt(path, 'none', page).catch(() => null);
    if (rest && policy === 'accept')
      return { raster: rest.raster, notes: ['Damaged: only what could be read was taken.', ...rest.notes] };
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
async function checkedData(path: string, format: InputFormat | null): Promise<string[]> {
  if (format === 'jpeg') return checkedJpeg(await readFile(path));
  if (format === 'tiff') {
    const damage = await checkTiff(path);
    if (damage) throw new Error(`corrupt data: ${damage}`);
  }
  return [];
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
export async function decodeMaster(path: string, name: string, page: Page = ONLY_PAGE): Promise<Raster> {
  try {
    const format = await formatAt(path);
    const reader = format && readerOf(format);
    return (await (reader ? reader.pixels({ path, name }, page) : decodeAt(path, 'none', page))).raster;
  } catch (cause) {
    if (isKenosisError(cause)) throw cause;
    throw new KenosisError('damaged-picture', `"${name}" is damaged: nothing of it can be read.`, { cause });
  }
}

interface Decoding {
  readonly limitInputPixels: number;
  readonly failOn: FailOn;
  readonly page?: number;
}

async function decodeAt(path: string, failOn: FailOn, page: Page): Promise<DecodedPicture> {
  const options = {
    limitInputPixels: MAX_PIXELS,
    failOn,
    ...(page.number > 1 ? { page: page.number - 1 } : {}),
  };
  const facts = await sharp(path, options).metadata();
  const notes = colorNotes(facts);
  if (facts.depth === 'ushort' && (facts.space === 'rgb16' || facts.space === 'grey16'))
    return { raster: await decodeDeep(path, options, facts), notes };
  const { data, info } = await sharp(path, options)
    .autoOrient()
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { raster: createRaster(info.width, info.height, bytesOf(data)), notes };
}

/** What is done to the colors of a picture that is not in sRGB. */
function colorNotes({ icc, space }: Metadata): string[] {
  const { name, isSrgb } = convertedFrom(icc);
  if (space === 'cmyk')
    return [`Its inks (CMYK${isSrgb ? '' : `, ${name}`}) were converted to sRGB: colors may look different.`];
  return isSrgb || space === 'b-w' || space === 'grey16'
    ? []
    : [`Its colors were converted from ${name} to sRGB.`];
}

/** Converts 16-bit samples from their full depth; see `toSrgb8`. */
async function decodeDeep(path: string, options: Decoding, { icc, space }: Metadata): Promise<Raster> {
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
