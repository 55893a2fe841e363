import type { Page } from '../../core/cut/page';
import type { InputFormat } from '../../core/formats';
import type { Raster } from '../../core/raster/raster';
import { assertPage } from './pages';

/** A file with a picture, and what the person calls it. */
export interface PictureFile {
  readonly path: string;
  readonly name: string;
}

/** What a file says of one of its pages. Sizes are those after its orientation is obeyed. */
export interface PageFacts {
  readonly width: number;
  readonly height: number;
  /** Pixels per inch; null where the file names none. */
  readonly dpi: number | null;
  /** Pages or frames of the file. */
  readonly pages: number;
  /** How a page that is drawn without pixels may be read; null where it has pixels of its own. */
  readonly drawn: DrawnPage | null;
  /** What is to be said of it, in sentences. */
  readonly notes: readonly string[];
}

/** A page that is read at any width. */
export interface DrawnPage {
  /** Its width on paper, or on a screen of 96 pixels per inch. */
  readonly widthIn: number;
  /** Height divided by width. */
  readonly aspect: number;
  /** The width of the one picture that fills it, as of a scan; null where there is none. */
  readonly scanWidthPx: number | null;
}

/** A decoded page. */
export interface PagePixels {
  /** sRGB, straight alpha. */
  readonly raster: Raster;
  /** What was done to its colors, in sentences. */
  readonly notes: readonly string[];
}

/** The facts of a file that holds one picture. Throws `bad-argument` for any other page. */
export function onlyFacts(name: string, pages: readonly Page[], facts: PageFacts): PageFacts[] {
  return pages.map((page) => {
    assertPage(name, page, 1);
    return facts;
  });
}

/** How files of a format are read that the picture library does not read. Errors without a code mean that a file is damaged. */
export interface Reader {
  readonly format: InputFormat;
  /** Of each of these pages, from headers alone. Throws `bad-argument` for a page that is not there. */
  facts(file: PictureFile, pages: readonly Page[]): Promise<PageFacts[]>;
  /** `facts` was asked before, and its size was within the limits. */
  pixels(file: PictureFile, page: Page): Promise<PagePixels>;
}

/** Pages without pixels are read so fine, and their longer side so large, unless somebody says otherwise. */
const DRAWN_DPI = 300;
const DRAWN_LEAST_PX = 1000;

/** The width at which a drawn page is read where nobody said one: that of its scan, or that of 300 dpi. */
export function proposedWidthPx({ widthIn, aspect, scanWidthPx }: DrawnPage): number {
  if (scanWidthPx !== null) return scanWidthPx;
  const least = DRAWN_LEAST_PX / Math.max(1, aspect);
  return Math.max(1, Math.round(Math.max(widthIn * DRAWN_DPI, least)));
}

/** The facts of a drawn page at the width that is asked for. */
export function drawnFacts(drawn: DrawnPage, page: Page, pages: number): PageFacts {
  const width = page.widthPx ?? proposedWidthPx(drawn);
  return {
    width,
    height: Math.max(1, Math.round(width * drawn.aspect)),
    dpi: Math.round((100 * width) / drawn.widthIn) / 100,
    pages,
    drawn,
    notes: [],
  };
}
