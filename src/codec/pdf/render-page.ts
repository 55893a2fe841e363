import { readFile } from 'node:fs/promises';
import { MAX_PIXELS } from '../../core/intake-limits';
import { createRaster, type Raster } from '../../core/raster/raster';
import { flattened } from '../../core/stages/deliver/shape-output';
import { withDocument, type PdfFile } from './pdfium';
import {
  assertPicturesWithin,
  factsOf,
  pageOf,
  readStructure,
  viewOf,
  type PageView,
  type PdfFacts,
} from './structure';

/** A page of a PDF as it is laid under pieces. */
export interface PdfPage {
  readonly facts: PdfFacts;
  readonly view: PageView;
  /** Its number from 1 on. */
  readonly number: number;
}

/** What is known of a page; null is the last one. Throws what `readStructure` and `viewOf` throw, and `too-many-pixels`. */
export async function readPage(file: PdfFile, number: number | null): Promise<PdfPage> {
  const document = await readStructure(await readFile(file.path), file.name);
  const page = pageOf(document, number, file.name);
  assertPicturesWithin(page, file.name);
  const facts = factsOf(document, file.name);
  return { facts, view: viewOf(page, file.name), number: number ?? facts.pages };
}

/** The size of what is drawn about `widthPx` wide: narrower where it would have more pixels than a picture may. */
export function drawnSize(
  widthPx: number,
  aspect: number,
): { readonly width: number; readonly height: number } {
  const width = Math.max(1, Math.round(Math.min(widthPx, Math.sqrt(MAX_PIXELS / aspect))));
  return { width, height: Math.max(1, Math.min(MAX_PIXELS, Math.round(width * aspect))) };
}

/** A page on white paper, about `widthPx` wide, drawn by PDFium: with notes and filled fields, and without running anything in it. */
export async function renderPage(file: PdfFile, { view, number }: PdfPage, widthPx: number): Promise<Raster> {
  const { width, height } = drawnSize(widthPx, view.heightMm / view.widthMm);
  const { data } = await withDocument(file, (document) =>
    // On nothing letters are drawn without colored rims.
    document.getPage(number - 1).render({
      width,
      height,
      transparent: true,
      renderFormFields: true,
      render: 'bitmap',
    }),
  );
  return flattened(createRaster(width, height, new Uint8Array(data)), '#ffffff');
}
