import {
  PDFArray,
  PDFDict,
  PDFName,
  PDFRawStream,
  type PDFContext,
  type PDFDocument,
  type PDFPage,
  type PDFRef,
} from '@cantoo/pdf-lib';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { KenosisError } from '../../core/errors';
import { cornersOf, type PlacedBox } from '../../core/proof/place';
import type { Raster } from '../../core/raster/raster';
import { bled } from '../../core/stages/deliver/shape-output';
import { planesOf } from '../planes';
import { factsOf, inPageSpace, pageOf, readStructure, viewOf, type PageView } from './structure';

/** A cutout in its place on a page. */
export interface PdfLayer {
  /** At its full resolution: sRGB, straight alpha. */
  readonly cutout: Raster;
  /** In millimeters from the upper left corner of the page as it is looked at. */
  readonly box: PlacedBox;
  readonly angleDeg: number;
  /** 1 to 100. */
  readonly opacity: number;
  readonly blend: 'normal' | 'multiply';
}

/**
 * A PDF with cutouts placed on a page, appended as an incremental update (ISO 32000-2, 7.5.6): all bytes of the file stay as they
 * are, and stand in front of what is added. Each is a picture with a soft mask (11.6.5.2) at its full resolution. `rewrite` writes
 * the file anew instead, for one whose table of objects is damaged. Throws what `readStructure` throws, `bad-argument` for a page
 * that is not there, and `forbidden` for a file that was signed.
 */
export async function placeInPdf(
  bytes: Uint8Array,
  name: string,
  number: number | null,
  layers: readonly PdfLayer[],
  { rewrite = false } = {},
): Promise<Uint8Array> {
  const document = await readStructure(bytes, name);
  if (factsOf(document, name).isSigned)
    throw new KenosisError(
      'forbidden',
      `"${name}" is signed digitally, and placing anything in it would break that. Nothing was written. Place it before it is signed, or deliver the page as a picture.`,
    );
  const page = pageOf(document, number, name);
  const view = viewOf(page, name);
  await drawOn(document, page, view, layers);
  const useObjectStreams = rewrite ? undefined : document.context.pdfFileDetails.useObjectStreams;
  return document.save({
    rewrite,
    addDefaultPage: false,
    updateFieldAppearances: false,
    ...(useObjectStreams === undefined ? {} : { useObjectStreams }),
  });
}

async function drawOn(
  { context }: PDFDocument,
  page: PDFPage,
  view: PageView,
  layers: readonly PdfLayer[],
): Promise<void> {
  const { node } = page;
  // What a page takes over from those above it may be that of other pages too: it gets its own.
  const resources = ownDict(context, node.Resources());
  const pictures = ownDict(context, resources.lookup(PDFName.of('XObject')));
  const states = ownDict(context, resources.lookup(PDFName.of('ExtGState')));
  const drawing: string[] = [];
  for (const layer of layers) {
    const picture = pictures.uniqueKey('Piece');
    pictures.set(picture, await pictureOf(context, layer.cutout));
    const state = states.uniqueKey('Laid');
    const share = layer.opacity / 100;
    const mode = layer.blend === 'multiply' ? 'Multiply' : 'Normal';
    states.set(state, context.register(context.obj({ Type: 'ExtGState', ca: share, CA: share, BM: mode })));
    drawing.push(`q ${state.asString()} gs ${matrixOf(view, layer)} cm ${picture.asString()} Do Q`);
  }
  resources.set(PDFName.of('XObject'), pictures);
  resources.set(PDFName.of('ExtGState'), states);
  node.set(PDFName.of('Resources'), resources);
  const contents = context.obj([]);
  // Whatever the page leaves set does not move what is drawn after it.
  contents.push(context.register(context.stream('q\n')));
  for (const part of partsOf(node.get(PDFName.of('Contents')), context)) contents.push(part);
  contents.push(context.register(context.stream(`\nQ\n${drawing.join('\n')}\n`)));
  node.set(PDFName.of('Contents'), contents);
  context.snapshot?.markRefForSave(page.ref);
}

function ownDict(context: PDFContext, found: unknown): PDFDict {
  const own = context.obj({});
  if (found instanceof PDFDict) for (const [key, value] of found.entries()) own.set(key, value);
  return own;
}

/** The streams of a page's drawing, as they are referred to. */
function partsOf(contents: ReturnType<PDFDict['get']>, context: PDFContext) {
  if (contents === undefined) return [];
  const there = context.lookup(contents);
  return there instanceof PDFArray ? there.asArray() : [contents];
}

async function pictureOf(context: PDFContext, cutout: Raster): Promise<PDFRef> {
  const { width, height } = cutout;
  // Viewers mix the color of what is transparent into the edge where they scale.
  const { colors, alphas } = planesOf(bled(cutout));
  const register = async (samples: Uint8Array, space: string, more: object) => {
    const packed = await promisify(deflate)(samples, { level: 6 });
    const dictionary = context.obj({
      Type: 'XObject',
      Subtype: 'Image',
      Width: width,
      Height: height,
      ColorSpace: space,
      BitsPerComponent: 8,
      Filter: 'FlateDecode',
      Length: packed.length,
      ...more,
    });
    return context.register(PDFRawStream.of(dictionary, packed));
  };
  const mask = await register(alphas, 'DeviceGray', {});
  return register(colors, 'DeviceRGB', { SMask: mask });
}

/** The matrix that lays the unit square of a picture where the piece is to lie. */
function matrixOf(view: PageView, { box, angleDeg }: PdfLayer): string {
  const [upperLeft, , lowerRight, lowerLeft] = cornersOf(box, angleDeg).map((corner) =>
    inPageSpace(view, corner),
  );
  const [from, right, up] = [lowerLeft!, lowerRight!, upperLeft!];
  return [right.x - from.x, right.y - from.y, up.x - from.x, up.y - from.y, from.x, from.y]
    .map((value) => value.toFixed(5))
    .join(' ');
}
