import { decodeMaster } from '../../codec/decode';
import type { PdfFile } from '../../codec/pdf/pdfium';
import { drawnSize, readPage, renderPage } from '../../codec/pdf/render-page';
import { rgbOfHex } from '../../core/color/hex';
import type { Page } from '../../core/cut/page';
import { runToEnd } from '../../core/numeric/steps';
import { colorGround } from '../../core/proof/lay';
import type { SignatureLine } from '../../core/proof/place';
import { signatureLines } from '../../core/proof/signature-line';
import { wholeOf, type Raster } from '../../core/raster/raster';
import { resizeSteps } from '../../core/raster/resize';
import { flattened } from '../../core/stages/deliver/shape-output';

/** A ground whose file is known. */
export type GroundFile =
  | ({ readonly kind: 'page'; readonly number: number | null } & PdfFile)
  | ({ readonly kind: 'picture'; readonly page: Page } & PdfFile)
  | {
      readonly kind: 'color';
      readonly from: string;
      readonly to: string | null;
      readonly angleDeg: number;
      readonly width: number;
      readonly height: number;
    };

/** What is known of a ground. */
export interface GroundFacts {
  /** Millimeters for a page, pixels for all else. */
  readonly unit: 'mm' | 'px';
  readonly width: number;
  readonly height: number;
  /** The line for a signature that was found on a page. */
  readonly line: SignatureLine | null;
  /** Pages of its file, and which of them it is. */
  readonly pages: number;
  readonly number: number;
  readonly isSigned: boolean;
}

/** So fine a page is read to find lines on it. */
const LINES_DPI = 144;

const MM_PER_INCH = 25.4;

/** What is known of a ground, a line for a signature too. Throws what reading its file throws. */
export async function groundFacts(ground: GroundFile): Promise<GroundFacts> {
  if (ground.kind === 'page') {
    const page = await readPage(ground, ground.number);
    const { widthMm, heightMm } = page.view;
    // Posters are read more coarsely.
    const dpi = Math.min(LINES_DPI, (LINES_DPI * 600) / Math.max(widthMm, heightMm));
    const raster = await renderPage(ground, page, (widthMm * dpi) / MM_PER_INCH);
    const [line = null] = signatureLines(raster, (raster.width * MM_PER_INCH) / widthMm);
    const { pages, isSigned } = page.facts;
    return { unit: 'mm', width: widthMm, height: heightMm, line, pages, number: page.number, isSigned };
  }
  const { width, height } =
    ground.kind === 'color' ? ground : await decodeMaster(ground.path, ground.name, ground.page);
  return { unit: 'px', width, height, line: null, pages: 1, number: 1, isSigned: false };
}

/** A ground's pixels, opaque, `widthPx` wide, or as wide as `drawnSize` allows. Throws what reading its file throws. */
export async function drawGround(ground: GroundFile, widthPx: number): Promise<Raster> {
  if (ground.kind === 'page') return renderPage(ground, await readPage(ground, ground.number), widthPx);
  if (ground.kind === 'color') {
    const { from, to, angleDeg } = ground;
    const colors = { from: rgbOfHex(from), to: to === null ? null : rgbOfHex(to), angleDeg };
    const { width, height } = drawnSize(widthPx, ground.height / ground.width);
    return colorGround(colors, width, height);
  }
  const master = flattened(await decodeMaster(ground.path, ground.name, ground.page), '#ffffff');
  const { width, height } = drawnSize(widthPx, master.height / master.width);
  if (master.width === width) return master;
  return runToEnd(resizeSteps(master, wholeOf(master), width, height, 'box', 'encoded'));
}
