import { degrees, PDFDocument, PDFName, StandardFonts, rgb } from '@cantoo/pdf-lib';

/** What a made-up letter is like. */
export interface LetterKind {
  readonly pages?: number;
  /** Size of a page in points. */
  readonly size?: readonly [number, number];
  readonly turn?: 0 | 90 | 180 | 270;
  /** x, y, width, height in points. */
  readonly crop?: readonly [number, number, number, number];
  readonly unit?: number;
  /** Whether objects are packed into streams. */
  readonly packed?: boolean;
  /** Where a line for a signature is drawn, in points from the lower left. */
  readonly line?: { readonly x: number; readonly y: number; readonly width: number };
  readonly field?: 'empty' | 'signed';
}

export const LETTER_WORDS = 'Dear Tilde Harrow, your two kites left the workshop today.';

/** A letter of Ostrel Kiteworks as a PDF. */
export async function letterPdf(kind: LetterKind = {}): Promise<Uint8Array> {
  const { pages = 1, size = [595.276, 841.89], turn = 0, crop, unit, packed = false, line, field } = kind;
  const document = await PDFDocument.create({ updateMetadata: false });
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let number = 1; number <= pages; number++) {
    const page = document.addPage([...size]);
    page.drawText('OSTREL KITEWORKS', { x: 70, y: size[1] - 80, size: 18, font });
    page.drawText(`${LETTER_WORDS} ${number}`, { x: 70, y: size[1] - 160, size: 11, font });
    if (line)
      page.drawLine({
        start: { x: line.x, y: line.y },
        end: { x: line.x + line.width, y: line.y },
        thickness: 0.6,
        color: rgb(0.2, 0.2, 0.2),
      });
    page.setRotation(degrees(turn));
    if (crop) page.setCropBox(...crop);
    if (unit) page.node.set(PDFName.of('UserUnit'), document.context.obj(unit));
  }
  if (field) {
    const { context } = document;
    const [page] = document.getPages();
    const value = field === 'signed' ? { V: context.obj({ Type: 'Sig', Filter: 'Adobe.PPKLite' }) } : {};
    const widget = context.register(
      context.obj({
        Type: 'Annot',
        Subtype: 'Widget',
        FT: 'Sig',
        T: 'Sign',
        Rect: [300, 100, 500, 140],
        P: page!.ref,
        ...value,
      }),
    );
    page!.node.set(PDFName.of('Annots'), context.obj([widget]));
    document.catalog.set(PDFName.of('AcroForm'), context.obj({ Fields: [widget] }));
  }
  return document.save({ useObjectStreams: packed, addDefaultPage: false });
}
