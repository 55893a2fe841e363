import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import sharp from 'sharp';
import { decodeMaster, decodePicture, type DamagePolicy } from '../../codec/decode';
import { verifyPng, writePng } from '../../codec/png';
import { parseCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { halvingsTo, reduceRect } from '../../core/raster/reduce';
import { bearingsOf } from '../../core/findings/bearings';
import { renderAndCheck } from '../../core/findings/check-cut';
import { openFindings } from '../../core/findings/fixes';
import { deliveredDpi } from '../../core/stages/deliver/print';
import { propose } from '../../core/proposal/propose';
import { clipRect } from '../../core/raster/raster';
import { renderCut, renderPrepared } from '../../core/render';
import { runToEnd } from '../../core/numeric/steps';
import { halvedScene, sceneOf } from '../../core/stages/clear/scene';
import { Kept } from '../../core/stages/kept';
import { frameOf } from '../../core/stages/prepare/frame';
import { prepareSteps } from '../../core/stages/prepare/prepare';
import { assertSomethingLeft, type AlphaCounts } from '../../core/stages/deliver/finish';
import { hashFile } from './hash-file';

/** What the worker threads can be asked to do; each is one function below. */
export type Task =
  | { readonly kind: 'deliver'; readonly input: DeliverInput }
  | { readonly kind: 'thumbnail'; readonly input: ThumbnailInput }
  | { readonly kind: 'check'; readonly input: Omit<ThumbnailInput, 'outPath'> }
  | { readonly kind: 'look'; readonly input: LookInput };

export interface LookInput {
  readonly path: string;
  readonly name: string;
  readonly damaged: DamagePolicy;
}

export interface DeliverInput {
  readonly originalPath: string;
  readonly originalName: string;
  readonly cut: Cut;
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

export interface ThumbnailInput {
  readonly originalPath: string;
  readonly originalName: string;
  readonly cut: Cut;
  readonly outPath: string;
}

/** Renders a cut at full size, writes it as PNG to `outPath`, syncs it, reads it back and compares. */
export async function deliver(input: DeliverInput): Promise<DeliverResult> {
  const original = await decodeMaster(input.originalPath, input.originalName);
  const cutout = renderCut(original, input.cut);
  assertSomethingLeft(cutout.alpha, input.originalName);
  const dpi = deliveredDpi(input.cut, cutout.raster.width, input.dpi);
  await writePng(cutout.raster, dpi, input.outPath);
  await syncFile(input.outPath);
  const found = await verifyPng(input.outPath, cutout.raster);
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
  const original = await decodeMaster(input.originalPath, input.originalName);
  const { raster, window, cut } = runToEnd(prepareSteps({ original }, input.cut));
  const reduction = halvingsTo(THUMBNAIL_PIXELS * THUMBNAIL_PIXELS * 2, window.width, window.height);
  const scene = halvedScene(sceneOf(raster), reduction);
  const part = clipRect(reduceRect(window, reduction), scene.raster.width, scene.raster.height);
  const cutout = runToEnd(renderPrepared(scene, { cut, window: part }, new Kept(0)));
  const { width, height, data } = cutout.raster;
  await sharp(data, { raw: { width, height, channels: 4 } })
    .resize(THUMBNAIL_PIXELS, THUMBNAIL_PIXELS, { fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 88, alphaQuality: 95 })
    .toFile(input.outPath);
  await syncFile(input.outPath);
  return { ready: true };
}

/** Renders a cut at full size and counts its open findings by kind. */
export async function check({
  originalPath,
  originalName,
  cut,
}: Omit<ThumbnailInput, 'outPath'>): Promise<{ readonly counts: Readonly<Record<string, number>> }> {
  const original = await decodeMaster(originalPath, originalName);
  const { checked, frame } = renderAndCheck(original, cut);
  const open = openFindings(checked.findings, cut, bearingsOf(frame, original));
  return { counts: Object.fromEntries(open.map(({ kind, count }) => [kind, count])) };
}

/**
 * Decodes a picture, which proves that it can be, and proposes a first cut for it. Throws `damaged-picture`. A proposal
 * that fails is no reason to refuse the picture: it comes without one, and `trouble` says why, for the log.
 */
export async function look(input: LookInput) {
  const { raster, notes } = await decodePicture(input.path, input.name, input.damaged);
  const { width, height } = raster;
  try {
    const { cut, reason } = propose(raster, { crop: true, straighten: true });
    if (cut) assertUsable(cut, width, height);
    return { width, height, notes, cut, reason, trouble: null };
  } catch (error) {
    const reason = 'No first cut could be proposed for it: click the background to place a sample.';
    return { width, height, notes, cut: null, reason, trouble: (error as Error).stack ?? String(error) };
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
