import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { describe, expect, it } from 'vitest';
import { letterPdf, type LetterKind } from '../../../tests/make/letters';
import { MAX_PIXELS } from '../../core/intake-limits';
import { drawnSize } from './render-page';
import {
  assertPicturesWithin,
  factsOf,
  inPageSpace,
  MOST_PDF_BYTES,
  pageOf,
  readStructure,
  viewOf,
} from './structure';

const viewed = async (kind: LetterKind) => {
  const document = await readStructure(await letterPdf(kind), 'letter.pdf');
  return viewOf(pageOf(document, 1, 'letter.pdf'), 'letter.pdf');
};

/** A PDF of one page whose dictionary was changed. */
async function changed(entries: Readonly<Record<string, unknown>>): Promise<Uint8Array> {
  const document = await PDFDocument.load(await letterPdf());
  const { node } = document.getPage(0);
  for (const [key, value] of Object.entries(entries))
    node.set(PDFName.of(key), document.context.obj(value as never));
  return document.save({ useObjectStreams: false });
}

const viewOfChanged = async (entries: Readonly<Record<string, unknown>>) =>
  viewOf(pageOf(await readStructure(await changed(entries), 'letter.pdf'), 1, 'letter.pdf'), 'letter.pdf');

describe('what is seen of a page', () => {
  it.each([
    ['whole', {}, 210, 297],
    ['turned', { turn: 90 }, 297, 210],
    ['cropped', { crop: [72, 72, 144, 288] }, 50.8, 101.6],
    ['cropped and turned', { crop: [72, 72, 144, 288], turn: 270 }, 101.6, 50.8],
    ['in large units', { size: [72, 144], unit: 10 }, 254, 508],
  ] as const)('has a size in millimeters: %s', async (_name, kind, widthMm, heightMm) => {
    const view = await viewed(kind);
    expect(view.widthMm).toBeCloseTo(widthMm, 1);
    expect(view.heightMm).toBeCloseTo(heightMm, 1);
  });

  it.each([0, 90, 180, 270] as const)('has its corners where it is looked at, turned by %s', async (turn) => {
    const view = await viewed({ turn, crop: [30, 50, 200, 400] });
    const { left, bottom, right, top, widthMm, heightMm } = view;
    // The upper left corner that a person sees, in the page's own space, for each clockwise turn.
    const upperLeft = { 0: [left, top], 90: [left, bottom], 180: [right, bottom], 270: [right, top] }[turn];
    const lowerRight = { 0: [right, bottom], 90: [right, top], 180: [left, top], 270: [left, bottom] }[turn];
    const at = (u: number, v: number): number[] => {
      const { x, y } = inPageSpace(view, { x: u, y: v });
      return [x, y];
    };
    at(0, 0).forEach((value, k) => expect(value).toBeCloseTo(upperLeft[k]!, 6));
    at(widthMm, heightMm).forEach((value, k) => expect(value).toBeCloseTo(lowerRight[k]!, 6));
  });

  it('takes boxes whichever way round, a crop within the page only, and turns of a quarter only', async () => {
    expect((await viewOfChanged({ MediaBox: [300, 400, 0, 0] })).widthMm).toBeCloseTo((300 * 25.4) / 72, 3);
    const beyond = await viewOfChanged({ CropBox: [-500, -500, 100, 5000] });
    expect(beyond).toMatchObject({ left: 0, bottom: 0, right: 100 });
    expect((await viewOfChanged({ CropBox: [2000, 2000, 3000, 3000] })).widthMm).toBeCloseTo(210, 1);
    expect((await viewOfChanged({ Rotate: -90 })).turn).toBe(270);
    expect((await viewOfChanged({ Rotate: 450 })).turn).toBe(90);
  });

  it('is refused where it cannot be drawn, with its size', async () => {
    await expect(viewOfChanged({ MediaBox: [0, 0, 9e6, 9e6] })).rejects.toMatchObject({ code: 'bad-pdf' });
    await expect(viewOfChanged({ MediaBox: [0, 0, 0.2, 0.2] })).rejects.toThrow('which cannot be drawn');
  });
});

describe('reading a PDF', () => {
  it('takes what the last page is from how many there are', async () => {
    const document = await readStructure(await letterPdf({ pages: 3, size: [100, 100] }), 'three.pdf');
    expect(factsOf(document, 'three.pdf')).toEqual({ pages: 3, isSigned: false });
    expect(pageOf(document, null, 'three.pdf')).toBe(document.getPages()[2]);
    expect(() => pageOf(document, 4, 'three.pdf')).toThrow('page: "three.pdf" has 3 pages, not 4');
  });

  it('tells a field that waits for a signature from one that has it, and what is certified', async () => {
    const factsFor = async (bytes: Uint8Array) =>
      factsOf(await readStructure(bytes, 'x.pdf'), 'x.pdf').isSigned;
    expect(await factsFor(await letterPdf({ field: 'empty' }))).toBe(false);
    expect(await factsFor(await letterPdf({ field: 'signed' }))).toBe(true);
    const certified = await PDFDocument.load(await letterPdf());
    certified.catalog.set(PDFName.of('Perms'), certified.context.obj({ DocMDP: {} }));
    expect(await factsFor(await certified.save())).toBe(true);
  });

  it('refuses too many bytes before it reads them, and says so of no pages', async () => {
    await expect(readStructure(new Uint8Array(MOST_PDF_BYTES + 1), 'huge.pdf')).rejects.toMatchObject({
      code: 'too-many-bytes',
    });
    const none = await (await PDFDocument.create()).save({ addDefaultPage: false });
    await expect(readStructure(none, 'none.pdf')).rejects.toThrow('"none.pdf" has no pages');
  });

  it('refuses a page whose pictures would take too much, also those within forms and each once', async () => {
    const picture = (document: PDFDocument, side: number) =>
      document.context.register(
        document.context.stream('', { Type: 'XObject', Subtype: 'Image', Width: side, Height: side }),
      );
    const pageWith = async (sides: readonly number[], within: boolean) => {
      const document = await PDFDocument.create();
      const page = document.addPage();
      const { context } = document;
      const own = Object.fromEntries(sides.map((side, k) => [`P${k}`, picture(document, side)]));
      const form = context.register(
        context.stream('', { Type: 'XObject', Subtype: 'Form', Resources: { XObject: own } }),
      );
      const used = within ? { Form: form, Again: form } : own;
      page.node.set(PDFName.of('Resources'), context.obj({ XObject: used }));
      return page;
    };
    const most = Math.floor(Math.sqrt(2 * MAX_PIXELS));
    for (const within of [false, true]) {
      const fine = await pageWith([most], within);
      expect(() => assertPicturesWithin(fine, 'x.pdf')).not.toThrow();
      const many = await pageWith([most, 2000], within);
      expect(() => assertPicturesWithin(many, 'x.pdf')).toThrow('and 200 are drawn at most');
    }
  });
});

describe('the size of what is drawn', () => {
  it('is what was asked for, and never more than a picture may have', () => {
    expect(drawnSize(800, 1.5)).toEqual({ width: 800, height: 1200 });
    for (const [widthPx, aspect] of [
      [4000, 500],
      [4000, 5_000_000],
      [40_000, 1],
      [4000, 0.0001],
      [0.2, 1],
    ] as const) {
      const { width, height } = drawnSize(widthPx, aspect);
      expect(width).toBeGreaterThanOrEqual(1);
      expect(height).toBeGreaterThanOrEqual(1);
      expect(width * height).toBeLessThanOrEqual(1.01 * MAX_PIXELS);
    }
  });
});
