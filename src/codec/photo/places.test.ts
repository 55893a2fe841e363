import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import exifr from 'exifr';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { embeddedInJpeg, type PhotoSays } from './embed';
import { IPTC_CITY_NAMESPACE } from './places';
import { placeLeftIn } from './places-left';
import { readPhoto, readPhotoHead, PHOTO_FORMATS } from './read-photo';
import { asciiTag, emptyTags, numberTag, TAG, withFirstFolder, writeFolder, type Tag } from './tags';
import { writePhoto } from './write-photo';
import { changedXmp } from './xmp';

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(path.join(tmpdir(), 'places-'))));
afterAll(() => rm(folder, { recursive: true }));

const NOTHING: PhotoSays = { exif: null, xmp: null, extendedXmp: null, icc: null, iptc: null, dpi: null };
/** What stands in all of the files beside the place, and is to stay. */
const KEPT = 'a kite over the dunes';

const NAMESPACES = [
  'xmlns:exif="http://ns.adobe.com/exif/1.0/"',
  'xmlns:e9="http://ns.adobe.com/exif/1.0/"',
  `xmlns:city="${IPTC_CITY_NAMESPACE}"`,
  `xmlns:ps="${IPTC_CITY_NAMESPACE}"`,
  'xmlns:Iptc4xmpCore="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/"',
  'xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/"',
  'xmlns:fly="http://ostrel.example/drone/1.0/"',
  'xmlns:dc="http://purl.org/dc/elements/1.1/"',
  'xmlns:geo="http://www.w3.org/2003/01/geo/wgs84_pos#"',
].join(' ');

/** A packet of XMP with attributes and elements of one description. */
const packet = (attributes: string, elements = '') =>
  `<?xpacket begin="" id="W5M0MpCehiHzreSzNTczkc9d"?><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" ${NAMESPACES} ${attributes}><dc:description><rdf:Alt><rdf:li xml:lang="x-default">${KEPT}</rdf:li></rdf:Alt></dc:description>${elements}</rdf:Description></rdf:RDF><?xpacket end="w"?>\0`;

const part = (marker: number, bytes: Buffer) => {
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(bytes.length + 2, 2);
  return Buffer.concat([head, bytes]);
};

/** A packet in the main part and a longer one in two further parts, the second of them first. */
function extended(jpeg: Buffer): Buffer {
  const long = Buffer.from(
    packet('fly:GpsLatitude="54.5123"', `<fly:Notes>${'dune '.repeat(400)}</fly:Notes>`),
  );
  const guid = '0123456789ABCDEF0123456789ABCDEF';
  const piece = (from: number, to: number) => {
    const numbers = Buffer.alloc(8);
    numbers.writeUInt32BE(long.length, 0);
    numbers.writeUInt32BE(from, 4);
    const head = Buffer.from(`http://ns.adobe.com/xmp/extension/\0${guid}`, 'latin1');
    return part(0xe1, Buffer.concat([head, numbers, long.subarray(from, to)]));
  };
  const main = Buffer.from(
    packet(`xmlns:note="http://ns.adobe.com/xmp/note/" note:HasExtendedXMP="${guid}"`),
  );
  const first = part(0xe1, Buffer.concat([Buffer.from('http://ns.adobe.com/xap/1.0/\0', 'latin1'), main]));
  const middle = long.length >> 1;
  return Buffer.concat([
    jpeg.subarray(0, 2),
    first,
    piece(middle, long.length),
    piece(0, middle),
    jpeg.subarray(2),
  ]);
}

/** An Exif block with tags of its first folder, and in its own folder a description and further tags. */
function exifWith(first: readonly Tag[], within: readonly Tag[] = []): Buffer {
  const file = emptyTags();
  const own = writeFolder([asciiTag(0xa434, KEPT), ...within], 0, file.length, true);
  const tags = [asciiTag(0x010e, KEPT), numberTag(TAG.exif, true, file.length), ...first];
  return withFirstFolder(Buffer.concat([file, own]), tags, 0);
}

const record = (number: number, text: string) =>
  Buffer.concat([Buffer.from([0x1c, 2, number, 0, text.length]), Buffer.from(text)]);
const bytesTag = (tag: number, text: string): Tag => ({
  tag,
  type: 7,
  count: text.length,
  value: Buffer.from(text, 'latin1'),
});

/** Ten ways in which a file tells a place; each names it `Ostrel Bay` or by 54.5123 degrees. */
const WAYS: Readonly<Record<string, (jpeg: Buffer) => Buffer>> = {
  'the position in Exif': (jpeg) => {
    const file = emptyTags();
    const gps = writeFolder([asciiTag(0x001d, '54.5123'), asciiTag(0x0001, 'N')], 0, file.length, true);
    const tags = [asciiTag(0x010e, KEPT), numberTag(TAG.gps, true, file.length)];
    return says(jpeg, { exif: withFirstFolder(Buffer.concat([file, gps]), tags, 0) });
  },
  "a maker's note": (jpeg) =>
    says(jpeg, { exif: exifWith([], [bytesTag(0x927c, 'Maker\0 Ostrel Bay 54.5123')]) }),
  'XMP within Exif': (jpeg) =>
    says(jpeg, { exif: exifWith([bytesTag(TAG.xmp, packet('ps:City="Ostrel Bay"'))]) }),
  'attributes of a drone': (jpeg) =>
    says(jpeg, {
      xmp: packet('fly:GpsLatitude="54.5123" fly:GpsLongtitude="54.5123" fly:RelativeAltitude="54.5123"'),
    }),
  'Exif in XMP under another prefix': (jpeg) =>
    says(jpeg, { xmp: packet('e9:GPSLatitude="54.5123N"', '<e9:GPSLongitude>54.5123E</e9:GPSLongitude>') }),
  'city, region and country of IPTC Core': (jpeg) =>
    says(jpeg, {
      xmp: packet(
        'ps:City="Ostrel Bay" ps:State="Ostrel Bay" Iptc4xmpCore:CountryCode="Ostrel Bay"',
        '<city:Country>Ostrel Bay</city:Country><Iptc4xmpCore:Location>Ostrel Bay</Iptc4xmpCore:Location>',
      ),
    }),
  'places shown and created of IPTC Extension': (jpeg) =>
    says(jpeg, {
      xmp: packet(
        '',
        '<Iptc4xmpExt:LocationShown><rdf:Bag><rdf:li rdf:parseType="Resource"><Iptc4xmpExt:City>Ostrel Bay</Iptc4xmpExt:City><Iptc4xmpExt:WorldRegion>Ostrel Bay</Iptc4xmpExt:WorldRegion></rdf:li></rdf:Bag></Iptc4xmpExt:LocationShown><Iptc4xmpExt:LocationCreated><rdf:Bag><rdf:li Iptc4xmpExt:City="Ostrel Bay"/></rdf:Bag></Iptc4xmpExt:LocationCreated>',
      ),
    }),
  'a point and a region of other vocabularies': (jpeg) =>
    says(jpeg, {
      xmp: packet(
        'fly:Region="Ostrel Bay"',
        "<geo:Point rdf:parseType='Resource'><geo:lat>54.5123</geo:lat></geo:Point><dc:coverage>Ostrel Bay</dc:coverage>",
      ),
    }),
  'further parts of XMP': extended,
  'records of IPTC': (jpeg) =>
    says(jpeg, { iptc: Buffer.concat([record(90, 'Ostrel Bay'), record(120, KEPT)]) }),
};

function says(jpeg: Buffer, { xmp, ...rest }: Partial<Omit<PhotoSays, 'xmp'>> & { xmp?: string }): Buffer {
  return embeddedInJpeg(jpeg, { ...NOTHING, ...rest, xmp: xmp === undefined ? null : Buffer.from(xmp) }).file;
}

const plain = () =>
  sharp({ create: { width: 48, height: 32, channels: 3, background: '#7fa0c0' } })
    .jpeg()
    .toBuffer();

async function written(name: string, format: (typeof PHOTO_FORMATS)[number], location: 'kept' | 'dropped') {
  const file = path.join(folder, name);
  const head = await readPhotoHead(file, name);
  const photo = await readPhoto(file, name, head, { kind: 'own' });
  const out = path.join(folder, `out.${format}`);
  const change = { location, author: '', copyright: '', mark: 'Kenosis mark' };
  const { lost } = await writePhoto(photo, { format, quality: 90, change }, out);
  return { file: await readFile(out), lost };
}

const tells = (file: Buffer) => /Ostrel Bay|54\.5123/.test(file.toString('latin1'));

describe('a place that is dropped', () => {
  for (const [way, make] of Object.entries(WAYS))
    it.each(PHOTO_FORMATS)(`is gone from a %s where ${way} told it`, async (format) => {
      const source = make(await plain());
      expect(tells(source)).toBe(true);
      await writeFile(path.join(folder, 'told.jpg'), source);
      const { file, lost } = await written('told.jpg', format, 'dropped');
      expect(tells(file)).toBe(false);
      const read = (await exifr.parse(format === 'webp' ? source : file, true)) as Record<string, unknown>;
      if (format !== 'webp') expect(read?.latitude).toBeUndefined();
      // All else that the photo says stays, but in IPTC's records, which is said.
      if (way === 'records of IPTC') expect(lost.join()).toContain('IPTC');
      else expect(file.toString('utf8')).toContain(KEPT);
      if (way === "a maker's note") expect(lost.join()).toContain("maker's note");
    });

  it('stays where nobody asked for it to go', async () => {
    for (const [way, make] of Object.entries(WAYS)) {
      await writeFile(path.join(folder, 'told.jpg'), make(await plain()));
      const { file } = await written('told.jpg', 'jpeg', 'kept');
      expect([way, tells(file)]).toEqual([way, true]);
    }
  });

  it('is found by other readers in every file that still tells it', async () => {
    for (const [way, make] of Object.entries(WAYS))
      expect([way, await placeLeftIn(make(await plain()))]).toEqual([way, expect.any(String)]);
    expect(await placeLeftIn(says(await plain(), { xmp: packet(''), exif: exifWith([]) }))).toBeNull();
  });
});

describe('XMP that cannot be read', () => {
  const change = { dropsLocation: true, author: 'Maren Ostrel', copyright: '' };

  it('goes whole, and is said to have gone', () => {
    const { xmp, lost } = changedXmp({ packet: '<x:xmpmeta ps:City="Ostrel Bay">', extended: null }, change);
    expect(xmp).toContain('Maren Ostrel');
    expect(xmp).not.toContain('Ostrel Bay');
    expect(lost).toEqual(['Its XMP could not be read and was left out.']);
  });

  it('is left as it is where nothing is to be changed of it', () => {
    const text = 'no XML at all';
    const nothing = { dropsLocation: false, author: '', copyright: '' };
    expect(changedXmp({ packet: text, extended: null }, nothing)).toEqual({ xmp: text, lost: [] });
  });
});
