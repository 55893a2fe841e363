import sharp from 'sharp';
import { syncFile } from '../../codec/sync-file';
import { placedOn, type Board } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import { clipRect } from '../../core/raster/raster';
import { halvingsTo, reduceRect } from '../../core/raster/reduce';
import { renderPrepared } from '../../core/render';
import { halvedScene } from '../../core/scene/scene';
import { Kept } from '../../core/stages/kept';

const THUMBNAIL_PIXELS = 512;

/** Renders a cut at about shelf size, as lossy WebP with alpha, synced; small where the full size is not there yet. */
export async function writeThumbnail(board: Board, cut: Cut, outPath: string): Promise<void> {
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
