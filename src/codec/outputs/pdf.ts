import { readFile, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import type { Raster } from '../../core/raster/raster';
import { planesOf } from '../planes';
import { assertExact, failed, NO_DIFFERENCE } from './compare';
import type { OutputCodec } from './output-codec';

/** PDF of one page, as large as the cutout is printed: its pixels with a soft mask (ISO 32000-2, 8.9.5 and 11.6.5.2). */
export const PDF: OutputCodec = {
  async write({ rasters, dpi, credit }, path) {
    const [raster] = rasters as [Raster];
    const { PDFDocument, PDFName, PDFRawStream } = await import('@cantoo/pdf-lib');
    const document = await PDFDocument.create();
    document.setProducer('Kenosis');
    document.setCreator('Kenosis');
    if (credit.author) document.setAuthor(credit.author);
    if (credit.description) document.setTitle(credit.description);
    if (credit.copyright) document.setSubject(credit.copyright);
    const scale = POINTS_PER_INCH / (dpi ?? UNSAID_DPI);
    const page = document.addPage([raster.width * scale, raster.height * scale]);
    const { context } = document;
    const { colors, alphas } = planesOf(raster);
    const picture = async (samples: Uint8Array, space: string, mask: object) => {
      const packed = await promisify(deflate)(samples, { level: 6 });
      const dictionary = context.obj({
        Type: 'XObject',
        Subtype: 'Image',
        Width: raster.width,
        Height: raster.height,
        ColorSpace: space,
        BitsPerComponent: 8,
        Filter: 'FlateDecode',
        Length: packed.length,
        ...mask,
      });
      return context.register(PDFRawStream.of(dictionary, packed));
    };
    const softMask = await picture(alphas, 'DeviceGray', {});
    const drawn = await picture(colors, 'DeviceRGB', { SMask: softMask });
    page.node.setXObject(PDFName.of('Cutout'), drawn);
    // A hair smaller than its page, so that no renderer rounds it up to a pixel more.
    const [wide, high] = [raster.width, raster.height].map((side) => (side * scale - 2 * HAIR_PT).toFixed(6));
    const content = `q ${wide} 0 0 ${high} ${HAIR_PT} ${HAIR_PT} cm /Cutout Do Q`;
    page.node.set(PDFName.of('Contents'), context.register(context.stream(content)));
    await writeFile(path, await document.save({ useObjectStreams: false }));
  },
  async verify(path, { rasters, dpi }) {
    const [expected] = rasters as [Raster];
    const { PDFiumLibrary } = await import('@hyzyla/pdfium');
    const library = await PDFiumLibrary.init();
    try {
      const document = await library.loadDocument(await readFile(path));
      const page = document.getPage(0);
      const { originalWidth } = page.getOriginalSize();
      const { width, height } = expected;
      const rendered = await page.render({ width, height, transparent: true, render: 'bitmap' });
      const data = new Uint8Array(rendered.data);
      document.destroy();
      const found = (width * POINTS_PER_INCH) / originalWidth;
      if (Math.abs(found - (dpi ?? UNSAID_DPI)) > 0.1)
        throw failed(`its page is that of ${found.toFixed(1)} dpi`);
      assertExact({ width, height, data }, withoutHidden(expected));
      const told = { width, height, dpi: dpi ?? UNSAID_DPI, kind: 'RGB with a soft mask', decoder: 'PDFium' };
      return { ...told, independent: true, color: NO_DIFFERENCE, alpha: NO_DIFFERENCE };
    } finally {
      library.destroy();
    }
  },
};

const POINTS_PER_INCH = 72;

const HAIR_PT = 0.0002;

/** A picture without a resolution is laid on its page as on a screen. */
const UNSAID_DPI = 96;

/** What a page shows: nothing where alpha is 0. */
function withoutHidden(raster: Raster): Raster {
  const data = new Uint8Array(raster.data);
  for (let p = 0; p < data.length; p += 4) if (data[p + 3] === 0) data.fill(0, p, p + 4);
  return { ...raster, data };
}
