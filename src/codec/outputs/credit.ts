import type { Sharp } from 'sharp';
import type { Credit } from '../../core/stages/deliver/settings';

/** Whether there is anything to write about whose a file is. */
export function hasCredit({ author, copyright, description }: Credit): boolean {
  return author !== '' || copyright !== '' || description !== '';
}

/** What a file says of its author, its rights and itself, as XMP (ISO 16684-1, Dublin Core). */
export function xmpOf({ author, copyright, description }: Credit): string {
  const inEvery = (name: string, text: string) =>
    text === ''
      ? ''
      : `<dc:${name}><rdf:Alt><rdf:li xml:lang="x-default">${escaped(text)}</rdf:li></rdf:Alt></dc:${name}>`;
  const creator =
    author === '' ? '' : `<dc:creator><rdf:Seq><rdf:li>${escaped(author)}</rdf:li></rdf:Seq></dc:creator>`;
  const about = `${creator}${inEvery('rights', copyright)}${inEvery('description', description)}`;
  return [
    '<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>',
    '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">',
    `<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/">${about}</rdf:Description>`,
    '</rdf:RDF><?xpacket end="w"?>',
  ].join('');
}

/** Text as it stands in XML. */
export function escaped(text: string): string {
  return text
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}

/** Pixels per inch that stand for none where a format must say some. */
export const NOBODYS_DPI = 72;

/** The same picture with what is written about it: XMP, and EXIF, which has plain letters only. */
export function described(picture: Sharp, credit: Credit): Sharp {
  if (!hasCredit(credit)) return picture;
  const tags = Object.entries({
    Artist: credit.author,
    Copyright: credit.copyright,
    ImageDescription: credit.description,
  }).filter(([, text]) => text !== '');
  return picture
    .withXmp(xmpOf(credit))
    .withExifMerge({ IFD0: Object.fromEntries(tags) })
    .withMetadata({ density: NOBODYS_DPI });
}
