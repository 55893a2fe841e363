import type { PDFiumPage } from '@hyzyla/pdfium';
import { createRaster, type Raster } from '../../core/raster/raster';
import { turnRaster } from '../../core/raster/turn';
import { withDocument } from '../pdf/pdfium';
import { assertPage } from './pages';
import { drawnFacts, type DrawnPage, type PageFacts, type Reader } from './reader';

/** Pages of PDF files (ISO 32000), on nothing: where a page draws nothing it is transparent. */
export const PDF: Reader = {
  format: 'pdf',
  facts: (file, wanted) =>
    withDocument(file, async (document) => {
      const pages = document.getPageCount();
      const facts: PageFacts[] = [];
      for (const page of wanted) {
        assertPage(file.name, page, pages);
        facts.push(drawnFacts(await drawnPage(document.getPage(page.number - 1)), page, pages));
      }
      return facts;
    }),
  pixels: (file, page) =>
    withDocument(file, async (document) => {
      assertPage(file.name, page, document.getPageCount());
      const sheet = document.getPage(page.number - 1);
      const drawn = await drawnPage(sheet);
      const { width, height } = drawnFacts(drawn, page, 1);
      const scan = width === drawn.scanWidthPx ? await scanOf(sheet) : null;
      // The page is closed by that.
      const { data } = await sheet.render({ width, height, transparent: true, render: 'bitmap' });
      const rendered = createRaster(width, height, new Uint8Array(data));
      return { raster: (scan && turnedLike(scan, rendered)) ?? rendered, notes: [] };
    }),
};

const POINTS_PER_INCH = 72;

/** A picture whose sides relate as those of its page fills it. */
const SAME_ASPECT = 0.02;

/** Objects of a page that are looked at for the picture that fills it. */
const MOST_OBJECTS = 2000;

async function drawnPage(page: PDFiumPage): Promise<DrawnPage> {
  const { originalWidth, originalHeight } = page.getOriginalSize();
  if (!(originalWidth > 0 && originalHeight > 0)) throw new Error('a page without a size');
  const aspect = originalHeight / originalWidth;
  return {
    widthIn: originalWidth / POINTS_PER_INCH,
    aspect,
    scanWidthPx: await scanWidth(page, aspect),
  };
}

/** The pixels of the one picture of a page, as they lie in the file. */
async function scanOf(page: PDFiumPage): Promise<Raster | null> {
  for (const object of page.objects()) {
    if (object.type !== 'image') continue;
    const { width, height, data } = await object.render({ render: 'bitmap' });
    return createRaster(width, height, new Uint8Array(data));
  }
  return null;
}

/** A picture is the one that a page shows where they differ by less in the mean, of 255: a page is drawn with some softness. */
const SAME_PICTURE = 8;

/** Pixels that are compared for that. */
const MOST_COMPARED = 20_000;

/**
 * A scan as it lies on its page, which was rendered at the same size: turned and mirrored to look the same, and exact where
 * rendering rounds. Null where it never looks the same, as under a mask or a crop.
 */
function turnedLike(scan: Raster, rendered: Raster): Raster | null {
  for (const flip of [false, true]) {
    for (const turn of TURNS) {
      const turned = turnRaster(scan, flip, turn);
      if (turned.width !== rendered.width || turned.height !== rendered.height) continue;
      if (meanDifference(turned, rendered) < SAME_PICTURE) return turned;
    }
  }
  return null;
}

const TURNS = [0, 90, 180, 270] as const;

function meanDifference({ data }: Raster, other: Raster): number {
  const step = Math.max(1, Math.floor(data.length / 4 / MOST_COMPARED)) * 4;
  let sum = 0;
  let count = 0;
  for (let p = 0; p < data.length; p += step) {
    for (let c = 0; c < 4; c++) sum += Math.abs(data[p + c]! - other.data[p + c]!);
    count += 4;
  }
  return sum / count;
}

/** The width of the one picture that fills a page; null where there are drawings too, or several pictures, or none. */
async function scanWidth(page: PDFiumPage, aspect: number): Promise<number | null> {
  if (page.getObjectCount() > MOST_OBJECTS) return null;
  let found: { readonly width: number; readonly height: number } | null = null;
  for (const object of page.objects()) {
    // Words that were read from a scan lie over it, unseen.
    if (object.type === 'text') continue;
    if (object.type !== 'image' || found) return null;
    found = await object.getImageDataRaw();
  }
  if (!found || found.width < 1 || found.height < 1) return null;
  const own = found.height / found.width;
  if (Math.abs(own / aspect - 1) < SAME_ASPECT) return found.width;
  // It lies turned on its page.
  return Math.abs(own * aspect - 1) < SAME_ASPECT ? found.height : null;
}
