import type { Credit } from '../../core/stages/deliver/settings';
import { xmpOf } from '../outputs/credit';

/** Properties that say where a photo was taken (Exif in XMP, IPTC Core and Extension), under whatever prefix. */
const PLACE_NAMES =
  /(?:\w+:(?:GPS\w*|City|State|Country|CountryCode|Location|LocationCreated|LocationShown))/;

const PLACES = [
  new RegExp(`<(${PLACE_NAMES.source})(?:\\s[^>]*)?(?:/>|>[\\s\\S]*?</\\1>)`, 'g'),
  new RegExp(`\\s${PLACE_NAMES.source}\\s*=\\s*(?:"[^"]*"|'[^']*')`, 'g'),
];

/**
 * The XMP of a photo with what is to be changed: without places, and with whose it is. Null where nothing is left to be said, or
 * where a place would stay in it all the same.
 */
export function changedXmp(
  xmp: string | null,
  {
    dropsLocation,
    author,
    copyright,
  }: { readonly dropsLocation: boolean; readonly author: string; readonly copyright: string },
): string | null {
  const credit: Credit = { author, copyright, description: '' };
  const says = author !== '' || copyright !== '';
  if (xmp === null) return says ? xmpOf(credit) : null;
  let text = xmp;
  if (dropsLocation) {
    for (const places of PLACES) text = text.replace(places, '');
    if (PLACE_NAMES.test(text)) return says ? xmpOf(credit) : null;
  }
  if (!says) return text;
  const [about] = /<rdf:Description[\s\S]*<\/rdf:Description>/.exec(xmpOf(credit)) ?? [''];
  if (author !== '') text = without(text, 'dc:creator');
  if (copyright !== '') text = without(text, 'dc:rights');
  return /<\/rdf:RDF>/.test(text) ? text.replace('</rdf:RDF>', () => `${about}</rdf:RDF>`) : xmpOf(credit);
}

function without(text: string, name: string): string {
  return text
    .replace(new RegExp(`<${name}(?:\\s[^>]*)?(?:/>|>[\\s\\S]*?</${name}>)`, 'g'), '')
    .replace(new RegExp(`\\s${name}\\s*=\\s*(?:"[^"]*"|'[^']*')`, 'g'), '');
}
