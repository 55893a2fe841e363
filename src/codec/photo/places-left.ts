import exifr from 'exifr';
import { SaxesParser } from 'saxes';
import { sharp } from '../picture-library';
import { jpegParts } from './jpeg-parts';
import { tellsPlace } from './places';

/**
 * What still tells a place in a file that was to tell none, in a few words; null where nothing does. The file is taken apart by the
 * picture library, its Exif read by `exifr` and its XMP by `saxes`: none of them wrote it.
 */
export async function placeLeftIn(file: Buffer): Promise<string | null> {
  const { format, exif, xmp, iptc } = await sharp(file).metadata();
  if (iptc) return 'its IPTC data';
  const extended = jpegParts(file).find(({ bytes }) => bytes.toString('latin1', 0, 34) === EXTENDED);
  if (extended) return 'a further part of its XMP';
  // A TIFF is itself what an Exif block is made like, and has its XMP in a tag.
  const tags = format === 'tiff' ? file : exif;
  if (exif?.includes('<rdf:RDF') ?? false) return 'XMP within its Exif data';
  return (tags && (await inExif(tags))) ?? (xmp ? inXmp(xmp.toString('utf8')) : null);
}

const EXTENDED = 'http://ns.adobe.com/xmp/extension/';

/** Tags that hold a place, or other data that may (GeoTIFF 1.1; TIFF/EP: IPTC and image resources). */
const PLACE_TAGS = [33550, 33723, 33922, 34264, 34377, 34735, 34736, 34737];

async function inExif(block: Buffer): Promise<string | null> {
  const start = block.toString('latin1', 0, 6) === 'Exif\0\0' ? 6 : 0;
  const all = {
    mergeOutput: false,
    translateKeys: false,
    translateValues: false,
    reviveValues: false,
  } as const;
  const found = (await exifr.parse(block.subarray(start), {
    ...all,
    tiff: true,
    ifd0: {},
    ifd1: true,
    exif: true,
    gps: true,
    makerNote: true,
  })) as Record<string, Record<string, unknown>> | undefined;
  if (!found) return null;
  if (Object.keys(found.gps ?? {}).length > 0) return 'the position in its Exif data';
  if (found.makerNote ?? found.exif?.[0x927c]) return "the maker's note in its Exif data";
  const folders = [found.ifd0, found.ifd1, found.exif];
  return folders.some((tags) => tags && PLACE_TAGS.some((tag) => tag in tags))
    ? 'other data within its Exif data'
    : null;
}

function inXmp(text: string): string | null {
  let left: string | null = null;
  const parser = new SaxesParser({ xmlns: true });
  parser.on('error', () => (left ??= 'XMP that cannot be read'));
  parser.on('opentag', ({ uri, local, attributes }) => {
    if (tellsPlace(uri, local)) left ??= `${local} in its XMP`;
    for (const { uri: of, local: name } of Object.values(attributes))
      if (tellsPlace(of, name)) left ??= `${name} in its XMP`;
  });
  parser.write(text.replace(/[\0\s]+$/, '')).close();
  return left;
}
