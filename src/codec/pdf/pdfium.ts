import { readFile } from 'node:fs/promises';
import type { PDFiumDocument, PDFiumLibrary } from '@hyzyla/pdfium';
import { KenosisError } from '../../core/errors';

/** A file with pages, and what the person calls it. */
export interface PdfFile {
  readonly path: string;
  readonly name: string;
}

/** Opens a PDF with PDFium for as long as `work` runs. Throws `unsupported-format` for one with a password, and `damaged-picture`. */
export async function withDocument<T>(
  file: PdfFile,
  work: (document: PDFiumDocument) => Promise<T>,
): Promise<T> {
  const { PDFiumLibrary } = await import('@hyzyla/pdfium');
  // One of its own for each document: pages stay open in it, and what a damaged file does to it ends with it.
  const library = await PDFiumLibrary.init();
  return work(await open(library, file));
}

async function open(library: PDFiumLibrary, { path, name }: PdfFile): Promise<PDFiumDocument> {
  try {
    return await library.loadDocument(await readFile(path));
  } catch (cause) {
    const locked = /password|security/i.test(String((cause as Error).message));
    throw locked
      ? new KenosisError(
          'unsupported-format',
          `"${name}" is locked with a password. Save it without one and bring it again.`,
          { cause },
        )
      : new KenosisError('damaged-picture', `"${name}" is damaged: it cannot be opened as a PDF.`, { cause });
  }
}
