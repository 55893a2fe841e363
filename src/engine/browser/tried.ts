import { placedOn } from '../../core/board';
import { runToEnd } from '../../core/numeric/steps';
import { inLook } from '../../core/proof/looks';
import type { Look } from '../../core/proof/seen';
import { clipRect, copyPixels, createRaster, type Raster } from '../../core/raster/raster';
import { halvingsTo, reduceRect } from '../../core/raster/reduce';
import { reachMaps, renderPart } from '../../core/render';
import { contentOf } from '../../core/stages/prepare/content';
import { sizeOfFinished } from './layers';
import type { OpenPiece, Shown } from './open-piece';

/** A version of the piece as it is laid on grounds: small, without the empty space around it. */
export interface TriedPicture {
  readonly look: Look;
  readonly raster: Raster;
  /** Its size in pixels of the full size, as far as a small picture tells. */
  readonly width: number;
  readonly height: number;
}

/** So many pixels at most follow a slider, and so many are shown where it rests: proofs beside the sheet are small. */
const MOVING_PIXELS = 100_000;
const RESTING_PIXELS = 400_000;

/** Makes the pictures that proofs beside the sheet show of the piece, each once for a cut. */
export class Tried {
  private key = '';

  constructor(
    private readonly piece: OpenPiece,
    private readonly tell: (pictures: readonly TriedPicture[]) => void,
  ) {}

  /** Tells the pictures of what is shown, where they are wanted and are others than those told last. */
  follow(shown: Shown): void {
    const { looks } = shown.request;
    const on = looks.length === 0 ? null : this.piece.boardOf(shown);
    if (!on) return;
    const finished = this.piece.finishedOf(shown);
    const key = JSON.stringify([shown.pixels, shown.prepared, looks, finished !== null]);
    if (key === this.key) return;
    const { sizes, window } = on;
    const most = finished ? RESTING_PIXELS : MOVING_PIXELS;
    const reduction = Math.min(sizes.length - 1, halvingsTo(most, window.width, window.height));
    const { scene, kept } = sizes[reduction]!;
    const part = clipRect(reduceRect(window, reduction), scene.raster.width, scene.raster.height);
    const pictures: TriedPicture[] = [];
    for (const look of looks) {
      const cut = inLook(shown.request.cut, look);
      const placed = placedOn(on, cut);
      runToEnd(reachMaps(scene, placed, kept.maps));
      const isWhole = finished && cut === shown.request.cut;
      const raster = isWhole ? sizeOfFinished(finished, reduction) : renderPart(scene, placed, kept, part);
      const content = raster && contentOf(raster, 0);
      if (!content) continue;
      const own = createRaster(content.width, content.height);
      copyPixels(raster, content, content, own, { x: 0, y: 0 });
      const unit = 1 << reduction;
      pictures.push({ look, raster: own, width: content.width * unit, height: content.height * unit });
    }
    this.key = key;
    this.tell(pictures);
  }
}
