import type { Cut } from '../../core/cut/schema';
import { halve, halvingsTo, reduceRect } from '../../core/raster/reduce';
import { clipRect, wholeOf, type Raster, type Rect } from '../../core/raster/raster';
import { runToEnd, type Steps } from '../../core/numeric/steps';
import { Kept } from '../../core/stages/kept';
import { halvedScene, sceneOf, type Scene } from '../../core/stages/clear/scene';
import { frameOf, type Frame } from '../../core/stages/prepare/frame';
import { framedCut } from '../../core/stages/prepare/framed-cut';
import { developed, prepareKey, prepareSteps, type Source } from '../../core/stages/prepare/prepare';

export interface Size {
  readonly scene: Scene;
  readonly kept: Kept;
}

/** A prepared picture at all its sizes: what the stages behind Prepare work on. */
export interface Board {
  readonly key: string;
  readonly frame: Frame;
  readonly work: Rect;
  /** The crop within the work area. */
  readonly window: Rect;
  /** The work area at every number of halvings down to a small one. */
  readonly sizes: readonly Size[];
}

/** Makes the board of a cut at full size, in steps. */
export function* boardSteps(source: Source, cut: Cut): Steps<Board> {
  const { frame, work, window, raster } = yield* prepareSteps(source, cut);
  return { key: prepareKey(cut, source.original), frame, work, window, sizes: sizesOf(raster) };
}

/** A cut with its places in pixels of a board's work area. */
export function placedOn({ frame, work }: Board, cut: Cut): Cut {
  return framedCut(cut, frame, work);
}

function sizeOf(scene: Scene): Size {
  return { scene, kept: Kept.of(scene.raster) };
}

function sizesOf(raster: Raster): Size[] {
  const sizes: Size[] = [sizeOf(sceneOf(raster))];
  for (;;) {
    const { scene } = sizes.at(-1)!;
    const { width, height } = scene.raster;
    if (width * height <= 40_000 || width < 2 || height < 2) return sizes;
    sizes.push(sizeOf(halvedScene(scene)));
  }
}

/** Pixels of a prepared picture that is made at once, while a setting of Prepare moves. */
const DRAFT_PIXELS = 360_000;

/** A prepared picture at a reduced size, its pixel (0, 0) lying at (`x`, `y`) of the crop at that reduction. */
export interface Draft {
  readonly raster: Raster;
  readonly reduction: number;
  readonly x: number;
  readonly y: number;
  readonly frame: Frame;
}

/** Makes prepared pictures at once, from reduced originals that are kept. */
export class Drafts {
  private readonly originals: Raster[];
  private last: { readonly key: string; readonly draft: Draft } | null = null;

  constructor(private readonly source: Source) {
    this.originals = [source.original];
  }

  /** The crop of a cut after Prepare, at least as coarse as `reduction`. */
  of(cut: Cut, reduction: number): Draft {
    const { width, height } = this.source.original;
    const frame = frameOf(cut.prepare, width, height);
    const halvings = Math.max(reduction, halvingsTo(DRAFT_PIXELS, frame.crop.width, frame.crop.height));
    const key = JSON.stringify([cut.prepare, halvings]);
    if (this.last?.key === key) return this.last.draft;
    while (this.originals.length <= halvings) this.originals.push(halve(this.originals.at(-1)!));
    const whole = reduceRect(wholeOf(frame), halvings);
    const rect = clipRect(reduceRect(frame.crop, halvings), whole.width, whole.height);
    const raster = runToEnd(
      developed(this.source, cut.prepare, frame, rect, halvings, this.originals[halvings]),
    );
    const unit = 1 << halvings;
    const draft = {
      raster,
      reduction: halvings,
      x: rect.x - frame.crop.x / unit,
      y: rect.y - frame.crop.y / unit,
      frame,
    };
    this.last = { key, draft };
    return draft;
  }
}
