import sharp from 'sharp';
import { placedOn, renderBoard, type Board } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { KenosisError } from '../../core/errors';
import { backgroundsOf } from '../../core/findings/check-cut';
import { finishedOf } from '../../core/findings/finding';
import { findHalo } from '../../core/findings/halo';
import { MAX_PIXELS } from '../../core/intake-limits';
import { runToEnd } from '../../core/numeric/steps';
import { edgeContrast } from '../../core/proof/contrast';
import { drawnSteps, layOn, type Layer } from '../../core/proof/lay';
import { inLook, looksOf, sameLook } from '../../core/proof/looks';
import { LEAST_CONTRAST, type Look, type Measured } from '../../core/proof/seen';
import { turnOf, type PlacedBox, type Surface } from '../../core/proof/place';
import type { Placement } from '../../core/proof/settings';
import { createRaster, copyPixels, wholeOf, type Raster, type Rect } from '../../core/raster/raster';
import { resizeSteps } from '../../core/raster/resize';
import { contentOf } from '../../core/stages/prepare/content';
import { drawGround, groundFacts, type GroundFile } from './grounds';
import { hashFile } from './hash-file';
import { layersOf, writeProof, type ProofSettings, type WrittenProof } from './write-proof';
import type { OpenPicture, PieceInput } from './open-picture';

/** A piece that is laid on a ground: its cut, and where and how it is laid. */
export interface LaidPiece extends PieceInput {
  readonly placement: Omit<Placement, 'id' | 'piece'>;
}

export interface GroundInput {
  readonly path: string;
  readonly ground: GroundFile;
}

export interface GroundPictureInput extends GroundInput {
  readonly widthPx: number;
  readonly outPath: string;
}

export interface PlacedInput extends PieceInput {
  readonly look: Look;
  /** The longer side that is wanted at most. */
  readonly mostPx: number;
  readonly outPath: string;
}

export interface SeenInput extends GroundInput {
  readonly unit: 'mm' | 'px';
  readonly surface: Surface;
  readonly laid: readonly LaidPiece[];
}

export type ProofInput = SeenInput & ProofSettings;

/** What a file with pieces on a ground was found to hold. */
export interface ProofResult extends WrittenProof {
  readonly bytes: number;
  readonly sha256: string;
}

const MM_PER_INCH = 25.4;

/** What is known of a ground. */
export function groundTask({ ground }: GroundInput) {
  return groundFacts(ground);
}

/** A ground as a picture for the screen, WebP, written to `outPath`. */
export async function groundPicture({ ground, widthPx, outPath }: GroundPictureInput) {
  const { width, height, data } = await drawGround(ground, widthPx);
  await sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .webp({ quality: 92, smartSubsample: true })
    .toFile(outPath);
  return { width, height };
}

/** A cutout without the empty space around it. Throws `nothing-left`. */
function trimmed(raster: Raster, name: string): { readonly raster: Raster; readonly content: Rect } {
  const content = contentOf(raster, 0);
  if (!content)
    throw new KenosisError(
      'nothing-left',
      `Nothing is left of "${name}": all of it is cleared. Look at its cut on the bench.`,
    );
  const own = createRaster(content.width, content.height);
  copyPixels(raster, content, content, own, { x: 0, y: 0 });
  return { raster: own, content };
}

/** A piece in one of its versions, trimmed to what is seen of it, as PNG for the screen. */
export async function placedPicture(pictures: OpenPicture, input: PlacedInput) {
  const cut = inLook(input.cut, input.look);
  const board = await pictures.board({ ...input, cut });
  const { raster } = trimmed(runToEnd(renderBoard(board, cut)).raster, input.originalName);
  const shrink = Math.min(1, input.mostPx / Math.max(raster.width, raster.height));
  const [width, height] = [raster.width, raster.height].map((side) => Math.max(1, Math.round(side * shrink)));
  const small = runToEnd(resizeSteps(raster, wholeOf(raster), width!, height!, 'box', 'encoded'));
  await sharp(small.data, { raw: { width: width!, height: height!, channels: 4 } })
    .png({ compressionLevel: 3 })
    .toFile(input.outPath);
  return { width: raster.width, height: raster.height };
}

/** Pixels that all pieces on a ground may have together. */
const MOST_LAID_PIXELS = 2 * MAX_PIXELS;

/** The cutouts of pieces, each made once, at full size, trimmed. Throws `nothing-left` and `too-many-pixels`. */
async function cutoutsOf(pictures: OpenPicture, laid: readonly LaidPiece[]): Promise<Raster[]> {
  const made = new Map<string, Raster>();
  const cutouts: Raster[] = [];
  let pixels = 0;
  for (const piece of laid) {
    const { originalPath, originalName } = piece;
    const own = inLook(piece.cut, piece.placement);
    const key = JSON.stringify([originalPath, own]);
    let cutout = made.get(key);
    if (!cutout) {
      const board = await pictures.board({ ...piece, cut: own });
      cutout = trimmed(runToEnd(renderBoard(board, own)).raster, originalName).raster;
      made.set(key, cutout);
      pixels += cutout.width * cutout.height;
      if (pixels > MOST_LAID_PIXELS)
        throw new KenosisError(
          'too-many-pixels',
          `The pieces on this ground have more than ${MOST_LAID_PIXELS / 1e6} megapixels together. Nothing was written. Take some of them away, or lay smaller ones.`,
        );
    }
    cutouts.push(cutout);
  }
  return cutouts;
}

/**
 * Writes a ground with pieces on it: as a picture at its size, or, where it is a page, as the PDF itself with the pieces placed in
 * it. Reads it back and compares. Throws `verification-failed`, `too-many-pixels`, and what placing and rendering throw.
 */
export async function proofFile(pictures: OpenPicture, input: ProofInput): Promise<ProofResult> {
  const cutouts = await cutoutsOf(pictures, input.laid);
  const placements = input.laid.map(({ placement }) => placement);
  return { ...(await writeProof(input, placements, cutouts)), ...(await hashFile(input.outPath)) };
}

/** So fine a ground is drawn to be measured on, and so many pixels of it at most. */
const MEASURED_DPI = 150;
const MOST_MEASURED_PIXELS = 4_000_000;

/** Measures pieces on their ground, from the lowest to the uppermost: contrast, pixels, old background that shows. */
export async function seenOn(pictures: OpenPicture, input: SeenInput): Promise<Measured[]> {
  const { ground, unit, surface, laid } = input;
  const { width, height } = surface;
  const most = Math.sqrt(MOST_MEASURED_PIXELS / (width * height));
  const perUnit = Math.min(unit === 'mm' ? MEASURED_DPI / MM_PER_INCH : 1, most);
  const raster = await drawGround(ground, width * perUnit);
  const measured: Measured[] = [];
  for (const piece of laid) measured.push(await measure(pictures, piece, raster, surface));
  return measured;
}

async function measure(
  pictures: OpenPicture,
  piece: LaidPiece,
  ground: Raster,
  surface: Surface,
): Promise<Measured> {
  const { originalName, cut, placement } = piece;
  const perUnit = ground.width / surface.width;
  const made = async (one: Look) => {
    const own = inLook(cut, one);
    const board = await pictures.board({ ...piece, cut: own });
    const whole = runToEnd(renderBoard(board, own)).raster;
    const { raster, content } = trimmed(whole, originalName);
    const [layer] = layersOf([placement], [raster], surface, perUnit) as [Layer];
    const drawn = runToEnd(drawnSteps(layer, ground));
    return { own, board, whole, content, layer, drawn, contrast: edgeContrast(ground, drawn, layer) };
  };
  const now = await made(placement);
  const readable: { look: Look; contrast: number }[] = [];
  if (now.contrast && now.contrast.median < LEAST_CONTRAST)
    for (const other of looksOf(cut)) {
      if (sameLook(other, placement)) continue;
      const contrast = (await made(other)).contrast?.median ?? 0;
      if (contrast >= LEAST_CONTRAST) readable.push({ look: other, contrast });
    }
  readable.sort((one, other) => other.contrast - one.contrast);
  const halo = haloOn(now.board, now.own, now.whole, now.content, now.layer, ground);
  layOn(ground, now.drawn, now.layer);
  return { widthPx: now.content.width, contrast: now.contrast, halo, readable };
}

/** Old background in the edge of a piece that shows on this ground. */
function haloOn(
  board: Board,
  cut: Cut,
  whole: Raster,
  content: Rect,
  { box, angleDeg }: Layer,
  ground: Raster,
): Measured['halo'] {
  // A piece of one color has no old background in it, and that of mirrored lightness another one.
  if (cut.ink.on && (cut.ink.color !== null || cut.ink.light)) return null;
  const at = groundUnder(content, box, angleDeg, ground);
  const behind = backgroundsOf(board.scene, placedOn(board, cut), board.window);
  const finding = runToEnd(findHalo(finishedOf(whole), behind, at));
  return finding && { deltaE: finding.amount ?? 0, pixels: finding.pixels };
}

/** What lies under each pixel of a cutout on its ground. */
function groundUnder(content: Rect, box: PlacedBox, angleDeg: number, ground: Raster) {
  const { sine, cosine } = turnOf(angleDeg);
  const perX = box.width / content.width;
  const perY = box.height / content.height;
  return (x: number, y: number) => {
    const u = (x + 0.5 - content.x) * perX - box.width / 2;
    const v = (y + 0.5 - content.y) * perY - box.height / 2;
    const column = Math.floor(box.x + box.width / 2 + u * cosine - v * sine);
    const row = Math.floor(box.y + box.height / 2 + u * sine + v * cosine);
    const p =
      (Math.min(ground.height - 1, Math.max(0, row)) * ground.width +
        Math.min(ground.width - 1, Math.max(0, column))) *
      4;
    return { red: ground.data[p]!, green: ground.data[p + 1]!, blue: ground.data[p + 2]! };
  };
}
