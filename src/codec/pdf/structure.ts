import {
  PDFArray,
  PDFDict,
  PDFDocument,
  PDFName,
  PDFNumber,
  PDFRef,
  PDFStream,
  type PDFPage,
} from '@cantoo/pdf-lib';
import { KenosisError } from '../../core/errors';
import { MAX_PIXELS } from '../../core/intake-limits';
import { MOST_PDF_PAGES } from '../../core/proof/settings';
import type { Point } from '../../core/numeric/matrix3';

/** A PDF may have at most so many bytes, and a page of it sides of at most so many millimeters. */
export const MOST_PDF_BYTES = 100_000_000;
const LONGEST_SIDE_MM = 5100;

/** Pixels of all pictures of a page together. */
const MOST_PICTURE_PIXELS = 2 * MAX_PIXELS;

/** Things that a page uses, and those within them, that are looked at for pictures. */
const MOST_LOOKED_AT = 5000;

const MM_PER_POINT = 25.4 / 72;

/** What is known of a PDF before anything is drawn of it. */
export interface PdfFacts {
  readonly pages: number;
  /** Whether somebody signed it digitally: nothing can be placed in it without breaking that. */
  readonly isSigned: boolean;
}

/** The part of a page that is seen, in its own space, and how it is turned to be looked at. */
export interface PageView {
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
  readonly top: number;
  /** Clockwise: 0, 90, 180 or 270. */
  readonly turn: number;
  /** Size in millimeters as it is looked at. */
  readonly widthMm: number;
  readonly heightMm: number;
  /** Millimeters of a unit of its space. */
  readonly mmPerUnit: number;
}

/**
 * Reads the objects of a PDF (ISO 32000), for appending to it. Nothing in it is run or followed. Throws `too-many-bytes`,
 * `unsupported-format` for one that is locked, and `bad-pdf` for one that is damaged, has no pages or too many.
 */
export async function readStructure(bytes: Uint8Array, name: string): Promise<PDFDocument> {
  if (bytes.length > MOST_PDF_BYTES)
    throw new KenosisError(
      'too-many-bytes',
      `"${name}" has ${Math.round(bytes.length / 1e6)} MB, and a PDF to place something in may have ${MOST_PDF_BYTES / 1e6} MB. Nothing was changed.`,
    );
  const document = await PDFDocument.load(bytes, {
    forIncrementalUpdate: true,
    updateMetadata: false,
    ignoreEncryption: true,
    preserveXFA: true,
    // Damage is said by whoever asked.
    warnOnInvalidObjects: false,
    parseSpeed: 1500,
  }).catch((cause: unknown) => {
    throw damaged(name, cause);
  });
  if (document.context.trailerInfo.Encrypt)
    throw new KenosisError(
      'unsupported-format',
      `"${name}" is locked: it is encrypted. Nothing was changed. Save it without encryption and bring it again.`,
    );
  const pages = attempt(name, () => document.getPageCount());
  if (pages === 0) throw new KenosisError('bad-pdf', `"${name}" has no pages. Nothing was changed.`);
  if (pages > MOST_PDF_PAGES)
    throw new KenosisError(
      'bad-pdf',
      `"${name}" has ${pages} pages, and at most ${MOST_PDF_PAGES} are read. Nothing was changed. Take the page that is to be signed out of it first.`,
    );
  return document;
}

function damaged(name: string, cause?: unknown): KenosisError {
  return new KenosisError(
    'bad-pdf',
    `"${name}" is damaged: it cannot be read as a PDF. Nothing was changed. Save it again with the program that made it.`,
    { cause },
  );
}

/** What the library throws is damage. */
function attempt<T>(name: string, work: () => T): T {
  try {
    return work();
  } catch (cause) {
    if (cause instanceof KenosisError) throw cause;
    throw damaged(name, cause);
  }
}

export function factsOf(document: PDFDocument, name: string): PdfFacts {
  return attempt(name, () => ({ pages: document.getPageCount(), isSigned: isSigned(document) }));
}

/** Whether a field holds a signature, or a certification forbids changes (ISO 32000-2, 12.7.5.5 and 12.8.6). */
function isSigned({ catalog, context }: PDFDocument): boolean {
  if (catalog.lookup(PDFName.of('Perms'))) return true;
  const form = catalog.lookup(PDFName.of('AcroForm'));
  if (!(form instanceof PDFDict)) return false;
  const open = [form.lookup(PDFName.of('Fields'))];
  for (let looked = 0; open.length > 0 && looked < MOST_LOOKED_AT; looked++) {
    const one = open.pop();
    if (one instanceof PDFArray) {
      for (const kid of one.asArray()) open.push(context.lookup(kid));
      continue;
    }
    if (!(one instanceof PDFDict)) continue;
    const isSignature = one.lookup(PDFName.of('FT')) === PDFName.of('Sig');
    if (isSignature && one.lookup(PDFName.of('V')) instanceof PDFDict) return true;
    open.push(one.lookup(PDFName.of('Kids')));
  }
  return false;
}

/** A page by its number from 1 on; null is the last. Throws `bad-argument` where there is none. */
export function pageOf(document: PDFDocument, number: number | null, name: string): PDFPage {
  const pages = attempt(name, () => document.getPages());
  const page = pages[(number ?? pages.length) - 1];
  if (page) return page;
  const many = pages.length === 1 ? '1 page' : `${pages.length} pages`;
  throw new KenosisError('bad-argument', `page: "${name}" has ${many}, not ${String(number)}`);
}

/** What is seen of a page (ISO 32000-2, 7.7.3.3 and 14.11.2). Throws `bad-pdf` for one without a size, or too large. */
export function viewOf(page: PDFPage, name: string): PageView {
  return attempt(name, () => {
    const media = boxOf(page.node.MediaBox()) ?? [0, 0, 612, 792];
    const crop = boxOf(page.node.CropBox() ?? null);
    const seen = (crop && overlap(media, crop)) ?? media;
    const [left, bottom, right, top] = seen;
    const degrees = page.node.Rotate()?.asNumber() ?? 0;
    const turn = (((Math.round(degrees / 90) * 90) % 360) + 360) % 360;
    const unit = page.node.lookup(PDFName.of('UserUnit'));
    const mmPerUnit = MM_PER_POINT * (unit instanceof PDFNumber && unit.asNumber() > 0 ? unit.asNumber() : 1);
    const [across, down] = turn % 180 === 0 ? [right - left, top - bottom] : [top - bottom, right - left];
    const widthMm = across * mmPerUnit;
    const heightMm = down * mmPerUnit;
    if (!(widthMm > 0.5 && heightMm > 0.5 && widthMm < LONGEST_SIDE_MM && heightMm < LONGEST_SIDE_MM))
      throw new KenosisError(
        'bad-pdf',
        `"${name}" has a page of ${Math.round(widthMm)} x ${Math.round(heightMm)} mm, which cannot be drawn. Nothing was changed.`,
      );
    return { left, bottom, right, top, turn, widthMm, heightMm, mmPerUnit };
  });
}

type Box = readonly [left: number, bottom: number, right: number, top: number];

function boxOf(array: PDFArray | null): Box | null {
  if (!array || array.size() < 4) return null;
  const [a, b, c, d] = [0, 1, 2, 3].map((k) => {
    const value = array.lookup(k);
    return value instanceof PDFNumber ? value.asNumber() : Number.NaN;
  }) as [number, number, number, number];
  if (![a, b, c, d].every(Number.isFinite)) return null;
  const box: Box = [Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d)];
  return box[2] > box[0] && box[3] > box[1] ? box : null;
}

function overlap(one: Box, other: Box): Box | null {
  const box: Box = [
    Math.max(one[0], other[0]),
    Math.max(one[1], other[1]),
    Math.min(one[2], other[2]),
    Math.min(one[3], other[3]),
  ];
  return box[2] > box[0] && box[3] > box[1] ? box : null;
}

/** A place in millimeters from the upper left corner of a page as it is looked at -> its own space. */
export function inPageSpace({ left, bottom, right, top, turn, mmPerUnit }: PageView, { x, y }: Point): Point {
  const u = x / mmPerUnit;
  const v = y / mmPerUnit;
  if (turn === 90) return { x: left + v, y: bottom + u };
  if (turn === 180) return { x: right - u, y: bottom + v };
  if (turn === 270) return { x: right - v, y: top - u };
  return { x: left + u, y: top - v };
}

/** Throws `too-many-pixels` where the pictures of a page would take more memory than they may. */
export function assertPicturesWithin(page: PDFPage, name: string): void {
  let pixels = 0;
  const seen = new Set<unknown>();
  attempt(name, () => {
    const open: (PDFDict | undefined)[] = [page.node.Resources()];
    for (let looked = 0; open.length > 0 && looked < MOST_LOOKED_AT; looked++) {
      const used = open.pop()?.lookup(PDFName.of('XObject'));
      if (!(used instanceof PDFDict)) continue;
      for (const [, value] of used.entries()) {
        const key = value instanceof PDFRef ? value.tag : value;
        if (seen.has(key)) continue;
        seen.add(key);
        const drawn = page.doc.context.lookup(value);
        if (!(drawn instanceof PDFStream)) continue;
        const { dict } = drawn;
        const sides = ['Width', 'Height'].map((side) => dict.lookup(PDFName.of(side)));
        const [wide, high] = sides;
        if (wide instanceof PDFNumber && high instanceof PDFNumber)
          pixels += wide.asNumber() * high.asNumber();
        const within = dict.lookup(PDFName.of('Resources'));
        if (within instanceof PDFDict) open.push(within);
      }
    }
  });
  if (pixels <= MOST_PICTURE_PIXELS) return;
  throw new KenosisError(
    'too-many-pixels',
    `"${name}" has a page with pictures of ${Math.round(pixels / 1e6)} megapixels, and ${MOST_PICTURE_PIXELS / 1e6} are drawn at most. Nothing was changed.`,
  );
}
