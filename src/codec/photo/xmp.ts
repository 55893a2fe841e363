import { DOMParser, XMLSerializer, type Attr, type Document, type Element } from '@xmldom/xmldom';
import type { Credit } from '../../core/stages/deliver/settings';
import { xmpOf } from '../outputs/credit';
import { tellsPlace } from './places';

const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';
const DC = 'http://purl.org/dc/elements/1.1/';
/** Where a packet names the one that goes on in further parts of a JPEG (XMP part 3, 1.1.3.1). */
const NOTE = 'http://ns.adobe.com/xmp/note/';

/** What a photo says of itself in XMP: its packet, and what goes on in further parts of the file. */
export interface XmpText {
  readonly packet: string | null;
  readonly extended: string | null;
}

export interface XmpChange {
  readonly dropsLocation: boolean;
  /** Empty: as it is. */
  readonly author: string;
  readonly copyright: string;
}

/**
 * The XMP of a photo with what is to be changed: in one packet, without places, and with whose it is. Its text is null where
 * nothing is left to be said; what could not be kept is said in sentences.
 */
export function changedXmp(
  { packet, extended }: XmpText,
  { dropsLocation, author, copyright }: XmpChange,
): { readonly xmp: string | null; readonly lost: readonly string[] } {
  const credit: Credit = { author, copyright, description: '' };
  const says = author !== '' || copyright !== '';
  const fresh = () => (says ? xmpOf(credit) : null);
  if (packet === null) return { xmp: fresh(), lost: [] };
  // As it came, byte for byte, where nothing has to be changed of it.
  if (!dropsLocation && !says && extended === null) return { xmp: packet, lost: [] };
  const own = parsed(packet);
  const root = own && rdfOf(own);
  if (!own || !root) {
    if (!dropsLocation && !says) return { xmp: packet, lost: ['The rest of its XMP was left out.'] };
    return { xmp: fresh(), lost: ['Its XMP could not be read and was left out.'] };
  }
  const lost: string[] = [];
  if (extended !== null && !takeIn(own, root, extended))
    lost.push('A part of its XMP could not be read and was left out.');
  removeNamed(root, (namespace, name) => namespace === NOTE && name === 'HasExtendedXMP');
  if (dropsLocation) removeNamed(root, tellsPlace);
  if (author !== '') removeNamed(root, (namespace, name) => namespace === DC && name === 'creator');
  if (copyright !== '') removeNamed(root, (namespace, name) => namespace === DC && name === 'rights');
  if (says) takeIn(own, root, xmpOf(credit));
  return { xmp: new XMLSerializer().serializeToString(own), lost };
}

/** The document of a packet; null where it is no well-formed XML. */
function parsed(packet: string): Document | null {
  try {
    const strict = (level: string, message: string) => {
      if (level !== 'warning') throw new Error(message);
    };
    // Writers pad packets with blanks, and some with zeros.
    return new DOMParser({ onError: strict }).parseFromString(packet.replace(/[\0\s]+$/, ''), 'text/xml');
  } catch {
    return null;
  }
}

function rdfOf(document: Document): Element | null {
  return document.getElementsByTagNameNS(RDF, 'RDF')[0] ?? null;
}

/** Puts the descriptions of another packet into a document. Returns whether there were any that could be read. */
function takeIn(own: Document, root: Element, packet: string): boolean {
  const other = parsed(packet);
  const from = other && rdfOf(other);
  if (!from) return false;
  for (const child of [...from.childNodes]) root.appendChild(own.importNode(child, true));
  return true;
}

/** Removes elements and attributes by their names, at any depth. */
function removeNamed(element: Element, isGone: (namespace: string, name: string) => boolean): void {
  const named = ({ namespaceURI, localName }: Attr | Element) => isGone(namespaceURI ?? '', localName ?? '');
  for (const attribute of [...element.attributes])
    if (named(attribute)) element.removeAttributeNode(attribute);
  for (const child of [...element.childNodes]) {
    if (child.nodeType !== child.ELEMENT_NODE) continue;
    const one = child as unknown as Element;
    if (named(one)) element.removeChild(one);
    else removeNamed(one, isGone);
  }
}
