import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import sharp from 'sharp';
import { decodePicture, type DamagePolicy } from '../../codec/decode';
import { OUTPUTS } from '../../codec/outputs';
import { boardSteps, placedOn, renderBoard, type Board } from '../../core/board';
import { parseCut, untouchedCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { bearingsOf } from '../../core/findings/bearings';
import { renderCheckable } from '../../core/findings/check-cut';
import { openFindings } from '../../core/findings/fixes';
import { runToEnd } from '../../core/numeric/steps';
import { proposeSteps } from '../../core/proposal/propose';
import { clipRect } from '../../core/raster/raster';
import { halvingsTo, reduceRect } from '../../core/raster/reduce';
import { renderPrepared } from '../../core/render';
import { halvedScene, sceneOf, type Scene } from '../../core/scene/scene';
import { assertSomethingLeft, type AlphaCounts } from '../../core/stages/deliver/finish';
import { deliveredDpi } from '../../core/stages/deliver/print';
import { Kept } from '../../core/stages/kept';
import { frameOf } from '../../core/stages/prepare/frame';
import { hashFile } from './hash-file';
import { startHelpers, usualHelpers, type HelperThreads } from './helpers';
import { OpenPicture } from './open-picture';
import { POOL_THREADS } from './pool-threads';

/** What the worker threads can be asked to do; each is one function below. */
export type Task =
  | { readonly kind: 'deliver'; readonly input: DeliverInput }
  | { readonly kind: 'thumbnail'; readonly input: ThumbnailInput }
  | { readonly kind: 'check'; readonly input: PieceInput }
  | { readonly kind: 'ready'; readonly input: PieceInput }
  | { readonly kind: 'look'; readonly input: LookInput };

export interface LookInput {
  readonly path: string;
  readonly name: string;
  readonly damaged: DamagePolicy;
  /** Where to write the thumbnail of the cut that is proposed; null for none. */
  readonly thumbnailPath: string | null;
}

export interface DeliverInput extends PieceInput {
  readonly dpi: number | null;
  readonly outPath: string;
}

export interface DeliverResult {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  readonly bytes: number;
  /** SHA-256 of the file, hex. */
  readonly fileSha256: string;
  /** SHA-256 of the cutout's RGBA bytes, hex: what the bench computes of what it shows. */
  readonly pixelSha256: string;
  readonly alpha: AlphaCounts;
}

/** A piece with one of its cuts. */
export interface PieceInput {
  readonly originalPath: string;
  readonly originalName: string;
  readonly cut: Cut;
}

export interface ThumbnailInput extends PieceInput {
  readonly outPath: string;
}

/** The threads that help this one, started for the first large picture. */
let started: HelperThreads | null | undefined;
const picture = new OpenPicture(() => (started ??= startHelpers(usualHelpers(POOL_THREADS)))?.crew ?? null);

/** Renders a cut at full size, writes it as PNG to `outPath`, syncs it, reads it back and compares. */
export async function deliver(input: DeliverInput): Promise<DeliverResult> {
  const board = await picture.board(input.originalPath, input.originalName, input.cut);
  const cutout = runToEnd(renderBoard(board, input.cut));
  assertSomethingLeft(cutout.alpha, input.originalName);
  const dpi = deliveredDpi(input.cut, cutout.raster.width, input.dpi);
  await OUTPUTS.png.write(cutout.raster, dpi, input.outPath);
  await syncFile(input.outPath);
  const found = await OUTPUTS.png.verify(input.outPath, cutout.raster);
  const { bytes, sha256 } = await hashFile(input.outPath);
  return {
    ...found,
    bytes,
    fileSha256: sha256,
    pixelSha256: createHash('sha256').update(cutout.raster.data).digest('hex'),
    alpha: cutout.alpha,
  };
}

const THUMBNAIL_PIXELS = 512;

/** Renders a cut at about shelf size and writes it as lossy WebP with alpha to `outPath`. */
export async function thumbnail(input: ThumbnailInput): Promise<{ readonly ready: true }> {
  const board = await picture.board(input.originalPath, input.originalName, input.cut);
  await writeThumbnail(board, input.cut, input.outPath);
  return { ready: true };
}

/** Small where the full size is not there yet. */
async function writeThumbnail(board: Board, cut: Cut, outPath: string): Promise<void> {
  const { scene: whole, window } = board;
  const reduction = halvingsTo(THUMBNAIL_PIXELS * THUMBNAIL_PIXELS * 2, window.width, window.height);
  const scene = halvedScene(whole, reduction);
  const part = clipRect(reduceRect(window, reduction), scene.raster.width, scene.raster.height);
  const small = { cut: placedOn(board, cut), window: part };
  const { width, height, data } = runToEnd(renderPrepared(scene, small, new Kept(0))).raster;
  await sharp(data, { raw: { width, height, channels: 4 } })
    .resize(THUMBNAIL_PIXELS, THUMBNAIL_PIXELS, { fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 88, alphaQuality: 95 })
    .toFile(outPath);
  await syncFile(outPath);
}

/** Renders a cut at full size and keeps it, for a delivery that is likely to follow. */
export async function ready({
  originalPath,
  originalName,
  cut,
}: PieceInput): Promise<{ readonly ready: true }> {
  const board = await picture.board(originalPath, originalName, cut);
  runToEnd(renderBoard(board, cut));
  return { ready: true };
}

/** Renders a cut at full size and counts its open findings by kind. */
export async function check({
  originalPath,
  originalName,
  cut,
}: PieceInput): Promise<{ readonly counts: Readonly<Record<string, number>> }> {
  const board = await picture.board(originalPath, originalName, cut);
  const { check: findings } = renderCheckable(board, cut, board);
  const open = openFindings(findings().findings, cut, bearingsOf(board.frame, board.original));
  return { counts: Object.fromEntries(open.map(({ kind, count }) => [kind, count])) };
}

/**
 * Decodes a picture, which proves that it can be, proposes a first cut for it, and writes its thumbnail while it is in
 * memory. Throws `damaged-picture`. A proposal that fails is no reason to refuse the picture: it comes without one, and
 * `trouble` says why, for the log; a thumbnail that fails is made again when it is asked for.
 */
export async function look(input: LookInput) {
  const { raster, notes } = await decodePicture(input.path, input.name, input.damaged);
  const { width, height } = raster;
  const scene = sceneOf(raster);
  const proposal = proposalFor(scene);
  let pictured = false;
  if (input.thumbnailPath !== null) {
    const cut = proposal.cut ?? untouchedCut();
    const board = runToEnd(boardSteps({ original: raster, scene }, cut));
    await writeThumbnail(board, cut, input.thumbnailPath).then(
      () => (pictured = true),
      () => undefined,
    );
  }
  return { width, height, notes, ...proposal, pictured };
}

function proposalFor(scene: Scene) {
  const { width, height } = scene.original;
  try {
    const { cut, reason } = runToEnd(proposeSteps(scene, { crop: true, straighten: true }));
    if (cut) assertUsable(cut, width, height);
    return { cut, reason, trouble: null };
  } catch (error) {
    const reason = 'No first cut could be proposed for it: click the background to place a sample.';
    return { cut: null, reason, trouble: (error as Error).stack ?? String(error) };
  }
}

/** Whether a cut passes every check that a saved one must pass, on a picture of that size. */
function assertUsable(cut: Cut, width: number, height: number): void {
  frameOf(parseCut(cut).prepare, width, height);
}

async function syncFile(path: string): Promise<void> {
  const file = await open(path, 'r+');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}
