import { readFile, writeFile } from 'node:fs/promises';
import type { Verified } from '../../codec/outputs/output-codec';
import { OUTPUTS } from '../../codec/outputs/outputs';
import { comparePages, type PageDifference } from '../../codec/pdf/compare-pages';
import { placeInPdf } from '../../codec/pdf/place-in-pdf';
import { readPage, renderPage } from '../../codec/pdf/render-page';
import { syncFile } from '../../codec/sync-file';
import { KenosisError } from '../../core/errors';
import { MAX_PIXELS } from '../../core/intake-limits';
import { runToEnd } from '../../core/numeric/steps';
import { layAllSteps, type Layer } from '../../core/proof/lay';
import { boxOf, type PlacedBox, type Surface } from '../../core/proof/place';
import type { Placement } from '../../core/proof/settings';
import { createRaster, type Raster } from '../../core/raster/raster';
import { layOut } from '../../core/stages/deliver/layout';
import { AS_IT_IS, type Output } from '../../core/stages/deliver/output-settings';
import { drawGround, type GroundFile } from './grounds';

/** How a ground with pieces on it is written. */
export interface ProofSettings {
  readonly ground: GroundFile;
  readonly unit: 'mm' | 'px';
  readonly surface: Surface;
  readonly format: 'png' | 'jpeg' | 'pdf';
  /** Pixels per inch of a picture of paper. */
  readonly dpi: number;
  readonly outPath: string;
}

/** What reading a written ground back showed. */
export interface WrittenProof {
  readonly verified: Verified;
  /** How far a PDF, drawn by another library, lies from the proof; null for pictures. */
  readonly page: PageDifference | null;
}

/** Where and how a piece is laid. */
export type Laid = Pick<Placement, 'anchor' | 'x' | 'y' | 'width' | 'angleDeg' | 'opacity' | 'blend'>;

const MM_PER_INCH = 25.4;

const scaled = ({ x, y, width, height }: PlacedBox, by: number): PlacedBox => ({
  x: x * by,
  y: y * by,
  width: width * by,
  height: height * by,
});

/** Cutouts as layers of a ground that has so many pixels for its unit. */
export function layersOf(
  laid: readonly Laid[],
  cutouts: readonly Raster[],
  surface: Surface,
  perUnit: number,
): Layer[] {
  return laid.map((placement, k) => {
    const cutout = cutouts[k]!;
    const box = boxOf(placement, cutout.height / cutout.width, surface);
    const { angleDeg, opacity, blend } = placement;
    return { cutout, box: scaled(box, perUnit), angleDeg, opacity, blend };
  });
}

/**
 * Writes a ground with cutouts on it: as a picture at its size, or, where it is a page, as the PDF itself with the cutouts placed in
 * it. Syncs it, reads it back and compares. Throws `verification-failed`, `too-many-pixels`, `bad-argument` for a PDF of what is
 * none, and what placing and drawing throw.
 */
export function writeProof(
  settings: ProofSettings,
  laid: readonly Laid[],
  cutouts: readonly Raster[],
): Promise<WrittenProof> {
  const { format } = settings;
  return format === 'pdf' ? writePdf(settings, laid, cutouts) : writePicture(settings, laid, cutouts, format);
}

async function writePicture(
  { ground, unit, surface, dpi, outPath }: ProofSettings,
  laid: readonly Laid[],
  cutouts: readonly Raster[],
  format: 'png' | 'jpeg',
): Promise<WrittenProof> {
  const perUnit = unit === 'mm' ? dpi / MM_PER_INCH : 1;
  const [wide, high] = [Math.round(surface.width * perUnit), Math.round(surface.height * perUnit)];
  if (wide * high > MAX_PIXELS)
    throw new KenosisError(
      'too-many-pixels',
      `At ${dpi} dpi this ground has ${wide} x ${high} pixels, more than ${MAX_PIXELS / 1e6} megapixels. Nothing was written. Choose fewer dpi.`,
    );
  const raster = await drawGround(ground, wide);
  runToEnd(layAllSteps(raster, layersOf(laid, cutouts, surface, raster.width / surface.width)));
  const output: Output =
    format === 'png'
      ? { format, size: AS_IT_IS }
      : { format, quality: 92, backing: '#ffffff', size: AS_IT_IS };
  const layout = layOut(AS_IT_IS, AS_IT_IS.to, {
    width: raster.width,
    height: raster.height,
    content: null,
    dpi: unit === 'mm' ? dpi : null,
  });
  const content = {
    rasters: [raster],
    dpi: unit === 'mm' ? dpi : null,
    cutout: raster,
    layout,
    output,
    credit: { author: '', copyright: '', description: '' },
  };
  await OUTPUTS[format].write(content, outPath);
  await syncFile(outPath);
  return { verified: await OUTPUTS[format].verify(outPath, content), page: null };
}

/** So fine a delivered page is drawn to be compared, and so many pixels of it at most. */
const COMPARED_DPI = 150;
const LEAST_COMPARED_PX = 1200;
const MOST_COMPARED_PIXELS = 6_000_000;

/** Another renderer's edges lie so far apart at most: docs/decisions/020-proofs.md. */
const MOST_MEAN = 2;
const MOST_BLOCK = 40;

async function writePdf(
  { ground, surface, outPath }: ProofSettings,
  laid: readonly Laid[],
  cutouts: readonly Raster[],
): Promise<WrittenProof> {
  if (ground.kind !== 'page')
    throw new KenosisError(
      'bad-argument',
      'format: expected png or jpeg for a ground that is no PDF, got pdf',
    );
  const bytes = await readFile(ground.path);
  const { width } = surface;
  const read = await readPage(ground, ground.number);
  const { view } = read;
  const layers = layersOf(laid, cutouts, surface, view.widthMm / width);
  const most = Math.sqrt((MOST_COMPARED_PIXELS * MM_PER_INCH * MM_PER_INCH) / (view.widthMm * view.heightMm));
  // Of a small page more is needed to tell where something lies.
  const fine = (LEAST_COMPARED_PX * MM_PER_INCH) / Math.max(view.widthMm, view.heightMm);
  const dpi = Math.min(Math.max(COMPARED_DPI, fine), most);
  const before = await renderPage(ground, read, (view.widthMm * dpi) / MM_PER_INCH);
  const expected = createRaster(before.width, before.height, new Uint8Array(before.data));
  const drawn = layersOf(laid, cutouts, surface, before.width / width);
  runToEnd(layAllSteps(expected, drawn));
  let page: PageDifference | null = null;
  // A file whose table of objects is damaged cannot be appended to; it is written anew then.
  for (const rewrite of [false, true]) {
    await writeFile(outPath, await placeInPdf(bytes, ground.name, ground.number, layers, { rewrite }));
    const file = { ...ground, path: outPath };
    const after = await drawGround(file, before.width).catch(() => null);
    if (!after || after.width !== before.width || after.height !== before.height) continue;
    page = comparePages(before, expected, after, drawn);
    if (page.beside === 0 && page.mean <= MOST_MEAN && page.block <= MOST_BLOCK) {
      await syncFile(outPath);
      const verified: Verified = {
        width: before.width,
        height: before.height,
        dpi,
        kind: rewrite ? 'PDF, written anew' : 'PDF, appended to',
        decoder: 'PDFium',
        independent: true,
        color: { largest: page.block, mean: page.mean },
        alpha: { largest: 0, mean: 0 },
      };
      return { verified, page };
    }
  }
  const why = page
    ? `its page did not look like the proof (${page.mean.toFixed(1)} levels apart where pieces lie, ${page.beside} beside them)`
    : 'its page could not be drawn';
  throw new KenosisError(
    'verification-failed',
    `The PDF was written, but ${why}. It was thrown away; "${ground.name}" and the pieces are safe. Deliver the page as PNG, or save the PDF again with the program that made it and bring that.`,
  );
}
